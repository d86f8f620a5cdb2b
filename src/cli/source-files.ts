import { existsSync, statSync } from 'node:fs';
import { resolve } from 'node:path';
import { Unusable, type Io } from './io.js';

/** What never belongs to an application's own code. */
const ignored = ['**/node_modules/**', '**/.*/**', '**/*.d.ts'];

/**
 * The modules that the user named, as full paths in their order: files, all modules in folders, and what matches
 * patterns. Throws {@link Unusable}.
 */
export async function sourceFiles(io: Io, named: readonly string[]): Promise<readonly string[]> {
  const { readableFiles } = await import('../core.js');
  const { glob } = await import('tinyglobby');
  const found = new Set<string>();
  for (const name of named) {
    const full = resolve(io.cwd, name);
    const isThere = existsSync(full);
    if (isThere && !statSync(full).isDirectory()) {
      found.add(full);
      continue;
    }
    const isPattern = !isThere && /[*?[\]{}]/.test(name);
    if (!isThere && !isPattern)
      throw new Unusable(`There is no file or folder ${name}.`, `Paths are relative to ${io.cwd}.`);
    const all = isPattern
      ? await glob(name, { cwd: io.cwd, absolute: true, ignore: ignored })
      : await glob('**/*', { cwd: full, absolute: true, ignore: ignored });
    const modules = all.filter((path) => readableFiles.test(path));
    if (modules.length === 0)
      throw new Unusable(
        isPattern ? `No module matches ${name}.` : `There is no module in ${name}.`,
        'Modules are .ts, .tsx, .js, .jsx, .mts, .cts, .mjs, .cjs, .vue and .svelte files.',
      );
    for (const path of modules.sort()) found.add(path);
  }
  return [...found];
}
