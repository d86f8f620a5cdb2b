/**
 * Deep recursion is refused before it begins, with one limit for all that follows: checking, generating, formatting,
 * compiling and running. An engine that runs out of stack while it compiles a pattern ends the whole process.
 */

/** How deep an expression may be nested: brackets and operators around its innermost part, added up. */
const mostLevels = 250;

/** How long the way from one definition through others may be: derived values, functions, types, actions. */
export const longestChain = 100;

/** True if an expression is nested too deeply; texts in it are left out of account. */
export function isTooDeep(expression: string): boolean {
  if (expression.length < mostLevels) return false;
  /** The operators that stand in a row in each of the open brackets. */
  const operators = [0];
  let levels = 0;
  for (let at = 0; at < expression.length; at++) {
    const char = expression.charAt(at);
    const here = operators.length - 1;
    if (char === "'" || char === '"') at = endOfText(expression, at, char);
    else if ('([{'.includes(char)) {
      operators.push(0);
      levels += 1;
    } else if (')]}'.includes(char) && operators.length > 1) {
      levels -= 1 + (operators.pop() ?? 0);
    } else if (char === ',') {
      levels -= operators[here] ?? 0;
      operators[here] = 0;
    } else if (startsOperator(expression, at)) {
      operators[here] = (operators[here] ?? 0) + 1;
      levels += 1;
    }
    if (levels > mostLevels) return true;
  }
  return false;
}

/** True if an operator begins there: of several signs, such as `===`, only the first counts; each of `!!` does. */
function startsOperator(expression: string, at: number): boolean {
  const [char, before] = [expression.charAt(at), expression.charAt(at - 1)];
  if (char === '!' || char === '-' || char === '+') return true;
  return '*/%?:&|<>=.`'.includes(char) && !'*?&|<>=!.'.includes(before);
}

function endOfText(expression: string, start: number, quote: string): number {
  for (let at = start + 1; at < expression.length; at++) {
    if (expression.charAt(at) === '\\') at++;
    else if (expression.charAt(at) === quote) return at;
  }
  return expression.length;
}

/** How deep a file may be nested before it is read: open brackets, and columns of indentation. */
const mostInFile = { brackets: 500, columns: 1000 } as const;

/** How deep what was read may be nested: lists and mappings in each other. */
export const mostInside = 100;

/** The place where a file is nested too deeply to be read; `undefined` if it is not. */
export function tooDeepAt(text: string): number | undefined {
  let depth = 0;
  let column = 0;
  let isIndentation = true;
  for (let at = 0; at < text.length; at++) {
    const char = text.charAt(at);
    if (char === '\n') {
      column = 0;
      isIndentation = true;
      continue;
    }
    isIndentation &&= char === ' ';
    if (isIndentation && ++column > mostInFile.columns) return at;
    if (char === '[' || char === '{') depth++;
    else if ((char === ']' || char === '}') && depth > 0) depth--;
    if (depth > mostInFile.brackets) return at;
  }
  return undefined;
}
