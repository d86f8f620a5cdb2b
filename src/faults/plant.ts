import type { Fault } from './fault.js';

/** A generated file. */
interface FileText {
  readonly path: string;
  readonly text: string;
}

/**
 * The files of a style with a fault in them; `undefined` if it does not fit there: nothing would be different,
 * or it is of another style. `emit` gives the files for a model. Throws what `emit` throws.
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
    if (there === undefined) return undefined;
    texts.set(
      file,
      text.replaceAll(there, () => to),
    );
  }
  return [...texts].map(([path, text]) => ({ path, text }));
}
