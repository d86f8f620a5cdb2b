import { readdirSync, readFileSync, existsSync } from 'node:fs';
import { join, resolve } from 'node:path';
import type { GeneratedFolder, Style } from '../../index.js';
import { Unusable, type Io } from '../io.js';
import { standingAt } from './folder-places.js';

/** The generated stores in a folder: of one style, or a folder for each. Throws {@link Unusable}. */
export async function generatedFolders(
  io: Io,
  path: string,
  styles: readonly Style[],
): Promise<GeneratedFolder[]> {
  const { styleOf } = await import('../../index.js');
  const full = resolve(io.cwd, path);
  const candidates = [
    { full: standingAt(full), path },
    ...styles.map((style) => ({ full: standingAt(join(full, style)), path: join(path, style) })),
  ];
  const folders = candidates.flatMap((candidate) => {
    const index = join(candidate.full, 'index.ts');
    const style = existsSync(index) ? styleOf(readFileSync(index, 'utf8')) : undefined;
    if (style === undefined || !(styles as readonly string[]).includes(style)) return [];
    const names = readdirSync(candidate.full).filter((name) => name.endsWith('.ts'));
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
