/** Parts of the run time that only some applications need. */
export const runtimeParts = [
  'tasks',
  'auto',
  'begins',
  'beside',
  'committed',
  'doing',
  'every',
  'extra',
  'given',
  'history',
  'kept',
  'later',
  'lazy',
  'log',
  'old',
  'readers',
  'replay',
  'retry',
  'saved',
  'secret',
  'streams',
  'timeLimit',
  'times',
] as const;
export type RuntimePart = (typeof runtimeParts)[number];

const mark = /^\s*\/\/ <(\/?)(!?)(\w+)>$/;
const alternative = /^(\s*)\/\/([-+]) (.*)$/;

/** Whether a part is wanted; `undefined` where that is not settled yet. */
type Wanted = boolean | undefined;

/**
 * A file of the run time with the parts that are wanted. A part stands between the lines `// <tasks>` and `// </tasks>`;
 * lines in it that begin with `//- ` stand in its place where it is not wanted, and with `//+ ` are lines that would not
 * do beside others. What stands between `// <!history>` and `// </!history>` is wanted where that part is not. Where
 * `isWanted` does not say, all stays as it is, marks included. Throws for marks that do not match.
 */
export function withParts(text: string, isWanted: (part: RuntimePart) => Wanted): string {
  const open: string[] = [];
  const wanted = (name: string): Wanted => {
    const part = isWanted(name.replace('!', '') as RuntimePart);
    return part === undefined || !name.startsWith('!') ? part : !part;
  };
  const lines = text.split('\n').flatMap((line) => {
    const [, slash, not = '', part] = mark.exec(line) ?? [];
    if (part === undefined) return written(line, open.map(wanted));
    const name = `${not}${part}`;
    const isKnown = runtimeParts.some((one) => one === part);
    if (!isKnown || (slash === '/' && open.pop() !== name))
      throw new Error(`the mark of '${name}' matches no other`);
    const around = open.map(wanted);
    if (slash === '') open.push(name);
    return wanted(name) === undefined && !around.includes(false) ? [line] : [];
  });
  if (open.length > 0) throw new Error(`the part '${open.join(', ')}' has no end`);
  return lines.join('\n');
}

/** What becomes of a line within parts, outermost first. */
function written(line: string, parts: readonly Wanted[]): string[] {
  const [, indent = '', kind, text = ''] = parts.length === 0 ? [] : (alternative.exec(line) ?? []);
  if (kind === undefined) return parts.includes(false) ? [] : [line];
  // What stands in the place of a part is wanted where that is not.
  const own = kind === '+' ? parts.at(-1) : parts.at(-1) === undefined ? undefined : !parts.at(-1);
  const outer = parts.slice(0, -1);
  if (own === false || outer.includes(false)) return [];
  if (own === undefined) return [line];
  return [outer.includes(undefined) ? `${indent}//+ ${text}` : `${indent}${text}`];
}
