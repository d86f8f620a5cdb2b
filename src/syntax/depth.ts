/**
 * Deep recursion is refused before it begins: an engine that runs out of stack while it compiles a pattern
 * ends the whole process.
 */

/** How deep brackets may be nested in an expression, and how many operators may stand in a row. */
const most = { brackets: 200, operators: 1000 } as const;

/** Whether an expression is nested too deeply to be parsed; texts in it are left out of account. */
export function isTooDeep(expression: string): boolean {
  if (expression.length < most.brackets) return false;
  const operators = [0];
  for (let at = 0; at < expression.length; at++) {
    const char = expression.charAt(at);
    if (char === "'" || char === '"') at = endOfText(expression, at, char);
    else if ('([{'.includes(char)) operators.push(0);
    else if (')]}'.includes(char) && operators.length > 1) operators.pop();
    else if (char === ',') operators[operators.length - 1] = 0;
    else if ('+-*/%!?:&|<>=.`'.includes(char)) {
      const count = (operators.at(-1) ?? 0) + 1;
      operators[operators.length - 1] = count;
      if (count > most.operators) return true;
    }
    if (operators.length > most.brackets) return true;
  }
  return false;
}

function endOfText(expression: string, start: number, quote: string): number {
  for (let at = start + 1; at < expression.length; at++) {
    if (expression.charAt(at) === '\\') at++;
    else if (expression.charAt(at) === quote) return at;
  }
  return expression.length;
}

/** How deep a file may be nested: open brackets, and columns of indentation. */
const mostInFile = { brackets: 500, columns: 1000 } as const;

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
