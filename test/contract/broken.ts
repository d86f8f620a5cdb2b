import type { GeneratedFolder, Style } from '../../src/core.js';

/** A break in the generated code of a style: in a file, what is written there and what takes its place. */
export type Break = readonly [style: Style, file: string, from: string | RegExp, to: string][];

/** The folder with the breaks in it, each of which must be possible. */
export function broken(folder: GeneratedFolder, changes: Break): GeneratedFolder {
  const texts = new Map(folder.files.map(({ path, text }) => [path, text]));
  for (const [, file, from, to] of changes) {
    const text = texts.get(file) ?? '';
    const next = text.replace(from, to);
    if (next === text) throw new Error(`${folder.style}/${file} has no '${String(from)}'`);
    texts.set(file, next);
  }
  return { ...folder, files: [...texts].map(([path, text]) => ({ path, text })) };
}
