import { existsSync, readdirSync } from 'node:fs';
import { basename, dirname, join } from 'node:path';

/** Where the next content of a folder is made, and where the last one waits until the next is in its place. */
export const placeBeside = (folder: string, what: 'next' | 'last'): string =>
  join(dirname(folder), `.${basename(folder)}.leeshore-${what}`);

/** Where the content of a folder stands: a run that was killed may have left it on its way out. */
export function standingAt(folder: string): string {
  const last = placeBeside(folder, 'last');
  return !existsSync(folder) && existsSync(last) ? last : folder;
}

/** The modules in a folder and the folders below it, by their paths; links are not followed. */
export function modulesIn(folder: string): readonly string[] {
  return readdirSync(folder, { withFileTypes: true }).flatMap((entry) => {
    if (entry.isDirectory() && entry.name !== 'node_modules')
      return modulesIn(join(folder, entry.name)).map((path) => `${entry.name}/${path}`);
    return entry.isFile() && /\.[jt]s$/.test(entry.name) ? [entry.name] : [];
  });
}
