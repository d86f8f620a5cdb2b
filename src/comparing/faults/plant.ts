import type { Fault, FaultKind } from './fault.js';

/** A generated file. */
interface FileText {
  readonly path: string;
  readonly text: string;
}

/** Faults in parts of the run time that stores have only if they need them. */
const leftOut: ReadonlySet<FaultKind> = new Set([
  'changed in place',
  'one retry too many',
  'one retry too few',
  'time limit from the first call',
  'follows at creation',
  'stale value followed',
]);

/**
 * The files of a style with a fault in them; `undefined` if it does not fit there: nothing would be different,
 * or it is of another style. `emit` gives the files for a model. Throws what `emit`
 * throws, and for a fault of this style whose place in the code is gone.
 */
export function planted(
  fault: Fault,
  style: string,
  original: readonly FileText[],
  emit: (application: Extract<Fault, { in: 'model' }>['application']) => readonly FileText[],
): readonly FileText[] | undefined {
  if (fault.in === 'model') {
    const files = emit(fault.application);
    const texts = new Map(original.map(({ path, text }) => [path, text]));
    const isSame = files.every(({ path, text }) => texts.get(path) === text);
    return isSame && files.length === original.length ? undefined : files;
  }
  if (fault.style !== style) return undefined;
  const texts = new Map(original.map(({ path, text }) => [path, text]));
  for (const { file, from, to } of fault.changes) {
    const text = texts.get(file) ?? '';
    // The build formats the run time with other quotation marks.
    const there = [from, from.replaceAll("'", '"')].find((one) => text.includes(one));
    if (there === undefined && leftOut.has(fault.kind)) return undefined;
    if (there === undefined)
      throw new Error(`'${fault.kind}' fits nowhere: ${file} of ${style} has no ${from}`);
    texts.set(
      file,
      text.replaceAll(there, () => to),
    );
  }
  return [...texts].map(([path, text]) => ({ path, text }));
}
