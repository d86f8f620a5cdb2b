import type { EmitOptions } from '../emit-options.js';

/** Reads a file of the run time, by its path below `src/emit`. */
export type ReadRuntime = (path: string) => string;

/** A file of the run time as it is copied: below the output's folder. */
export interface RuntimeFile {
  readonly path: string;
  readonly text: string;
}

/** The run time of a style: files of its own beside those that all styles share. */
export interface StyleRuntime {
  readonly name: string;
  readonly files: readonly string[];
}

/** The file of the run time that says when snapshots are frozen. */
export const guardFiles: Readonly<Record<EmitOptions['guard'], string>> = {
  development: 'guard',
  always: 'guard-always',
  never: 'guard-never',
};

/**
 * The files that modules such as `runtime/values` use, with those that they use themselves. `others`: files in whose place
 * others are copied.
 */
export function runtimeFiles(
  used: readonly string[],
  style: StyleRuntime,
  others: Readonly<Record<string, string>>,
  read: ReadRuntime,
): readonly RuntimeFile[] {
  const found = new Map<string, string>();
  const visit = (name: string): void => {
    if (found.has(name)) return;
    const file = others[name] ?? name;
    const from = style.files.includes(name)
      ? `styles/${style.name}/runtime/${file}.ts`
      : `runtime/${file}.ts`;
    const text = read(from).replace(/(['"])(?:\.\.\/){3}runtime\//g, '$1./');
    found.set(name, text);
    for (const [, other = ''] of text.matchAll(/from ['"]\.\/([\w-]+)\.js['"]/g)) visit(other);
  };
  for (const module of used) visit(module.replace('runtime/', ''));
  return [...found].map(([name, text]) => ({ path: `runtime/${name}.ts`, text }));
}
