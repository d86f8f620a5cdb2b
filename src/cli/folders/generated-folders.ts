import { readFileSync, existsSync } from 'node:fs';
import { join, resolve } from 'node:path';
import type { GeneratedFolder, Style } from '../../core.js';
import { Unusable, type Io } from '../io.js';
import { modulesIn, standingAt } from './folder-places.js';

/** The generated stores in a folder: of one style, or a folder for each. Throws {@link Unusable}. */
export async function generatedFolders(
  io: Io,
  path: string,
  styles: readonly Style[],
): Promise<(GeneratedFolder & { readonly path: string })[]> {
  const { styleOf } = await import('../../core.js');
  const full = resolve(io.cwd, path);
  const candidates = [
    { full: standingAt(full), path },
    ...styles.map((style) => ({ full: standingAt(join(full, style)), path: join(path, style) })),
  ];
  const folders = candidates.flatMap((candidate) => {
    const index = ['index.ts', 'index.js']
      .map((name) => join(candidate.full, name))
      .find((name) => existsSync(name));
    const style = index === undefined ? undefined : styleOf(readFileSync(index, 'utf8'));
    if (style === undefined || !(styles as readonly string[]).includes(style)) return [];
    const names = modulesIn(candidate.full).filter((name) => !name.endsWith('.d.ts'));
    const files = names.map((name) => ({
      path: name,
      text: readFileSync(join(candidate.full, name), 'utf8'),
    }));
    return [{ name: style, style, files, path: candidate.path }];
  });
  if (folders.length > 0) return folders;
  throw new Unusable(
    `There are no generated stores of these styles in ${path}.`,
    `Write them first: leeshore generate FILE --out ${path}`,
  );
}
