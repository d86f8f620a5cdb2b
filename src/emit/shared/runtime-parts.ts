/** Parts of the run time that only some applications need. */
export const runtimeParts = [
  'tasks',
  'auto',
  'every',
  'extra',
  'replay',
  'retry',
  'streams',
  'timeLimit',
  'times',
] as const;
export type RuntimePart = (typeof runtimeParts)[number];

const mark = /^\s*\/\/ <(\/?)(\w+)>$/;
const otherwise = /^(\s*)\/\/- (.*)$/;

/**
 * A file of the run time with the parts that are wanted. A part stands between the lines `// <tasks>` and `// </tasks>`;
 * lines in it that begin with `//- ` stand in its place where it is not wanted. Where `isWanted` does not say, all stays
 * as it is, marks included. Throws for marks that do not match.
 */
export function withParts(
  text: string,
  isWanted: (part: RuntimePart) => boolean | undefined,
): string {
  const open: RuntimePart[] = [];
  const lines = text.split('\n').flatMap((line) => {
    const [, slash, name] = mark.exec(line) ?? [];
    if (name === undefined) return written(line, open.map(isWanted));
    const part = runtimeParts.find((one) => one === name);
    if (part === undefined || (slash === '/' && open.pop() !== part))
      throw new Error(`the mark of '${name}' matches no other`);
    const around = open.map(isWanted);
    if (slash === '') open.push(part);
    return isWanted(part) === undefined && !around.includes(false) ? [line] : [];
  });
  if (open.length > 0) throw new Error(`the part '${open.join(', ')}' has no end`);
  return lines.join('\n');
}

/** What becomes of a line within parts, outermost first, each of which is wanted, not wanted or not settled. */
function written(line: string, parts: readonly (boolean | undefined)[]): string[] {
  const own = parts.at(-1);
  const [, indent = '', instead] = parts.length === 0 ? [] : (otherwise.exec(line) ?? []);
  if (instead === undefined) return parts.includes(false) ? [] : [line];
  if (parts.slice(0, -1).includes(false) || own === true) return [];
  return own === false ? [`${indent}${instead}`] : [line];
}
