import { accessSync, constants, existsSync, realpathSync, statSync } from 'node:fs';
import { join, relative, resolve } from 'node:path';
import { Unusable, type Io } from './io.js';

/** What never belongs to an application's own code. */
const ignored = ['**/node_modules/**', '**/.*/**', '**/*.d.ts'];

/** The modules that the user named, and what of it cannot be read. */
export interface SourceFiles {
  /** Full paths in the order in which they were named; what is there under several names by links, once. */
  readonly modules: readonly string[];
  readonly notRead: readonly { readonly path: string; readonly reason: string }[];
}

/**
 * The modules that the user named: files, all modules in folders, and what matches patterns. Throws {@link Unusable}.
 */
export async function sourceFiles(io: Io, named: readonly string[]): Promise<SourceFiles> {
  const { readableFiles } = await import('../core.js');
  const { glob } = await import('tinyglobby');
  const found = new Set<string>();
  const notRead = new Map<string, string>();
  for (const name of named) {
    const full = resolve(io.cwd, name);
    const isThere = existsSync(full);
    if (isThere && !statSync(full).isDirectory()) {
      found.add(realPathIn(io, full));
      continue;
    }
    const isPattern = !isThere && /[*?[\]{}]/.test(name);
    if (!isThere && !isPattern)
      throw new Unusable(`There is no file or folder ${name}.`, `Paths are relative to ${io.cwd}.`);
    const within = { absolute: true, ignore: ignored, cwd: isPattern ? io.cwd : full };
    const all = await glob(isPattern ? name : '**/*', within);
    if (!isPattern)
      for (const folder of [full, ...(await glob('**/*', { ...within, onlyDirectories: true }))])
        if (!canRead(folder)) notRead.set(shownIn(io, folder), 'a folder that cannot be read');
    const modules = all.filter((path) => readableFiles.test(path));
    if (modules.length === 0 && notRead.size === 0)
      throw new Unusable(
        isPattern ? `No module matches ${name}.` : `There is no module in ${name}.`,
        'Modules are .ts, .tsx, .js, .jsx, .mts, .cts, .mjs, .cjs, .vue and .svelte files.',
      );
    for (const path of modules.sort()) found.add(realPathIn(io, path));
  }
  return {
    modules: [...found],
    notRead: [...notRead].map(([path, reason]) => ({ path, reason })),
  };
}

function canRead(folder: string): boolean {
  try {
    accessSync(folder, constants.R_OK | constants.X_OK);
    return true;
  } catch {
    return false;
  }
}

const shownIn = ({ cwd }: Io, path: string): string =>
  relative(cwd, path).replaceAll('\\', '/') || '.';

/** Where a file really is, below the folder of the call if that is where it is. */
function realPathIn({ cwd }: Io, path: string): string {
  try {
    const real = realpathSync(path);
    const within = relative(realpathSync(cwd), real);
    return within.startsWith('..') ? real : join(cwd, within);
  } catch {
    // Why it cannot be entered is told when it is read.
    return path;
  }
}
