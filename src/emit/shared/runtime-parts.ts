/** Parts of the run time that only some applications need. */
export const runtimeParts = [
  'tasks',
  'auto',
  'every',
  'extra',
  'retry',
  'streams',
  'timeLimit',
] as const;
export type RuntimePart = (typeof runtimeParts)[number];

const mark = /^\s*\/\/ <(\/?)(\w+)>$/;
const otherwise = /^(\s*)\/\/- (.*)$/;

/**
 * A file of the run time with the parts that are wanted. A part stands between the lines `// <tasks>` and `// </tasks>`;
 * lines in it that begin with `//- ` stand in its place where it is not wanted. Throws for marks that do not match.
 */
export function withParts(text: string, wanted: ReadonlySet<RuntimePart>): string {
  const open: RuntimePart[] = [];
  const lines = text.split('\n').flatMap((line) => {
    const [, slash, name] = mark.exec(line) ?? [];
    if (name !== undefined) {
      const part = runtimeParts.find((one) => one === name);
      if (part === undefined || (slash === '/' && open.pop() !== part))
        throw new Error(`the mark of '${name}' matches no other`);
      if (slash === '') open.push(part);
      return [];
    }
    const isWanted = open.every((part) => wanted.has(part));
    const [, indent = '', instead] = open.length === 0 ? [] : (otherwise.exec(line) ?? []);
    if (instead !== undefined)
      return !isWanted && open.slice(0, -1).every((part) => wanted.has(part))
        ? [`${indent}${instead}`]
        : [];
    return isWanted ? [line] : [];
  });
  if (open.length > 0) throw new Error(`the part '${open.join(', ')}' has no end`);
  return lines.join('\n');
}
