import { frameworks } from '../base/styles.js';
import type { StyleWeight, Variant } from './weigh-result.js';
import { weighFiles, type Size, type Weight } from './weigh.js';

interface File {
  readonly path: string;
  readonly text: string;
}

/** Files that are loaded by components, not by the stores: `react.ts`. */
const readerFiles = new Set(frameworks.flatMap((one) => [`${one}.ts`, `${one}.js`]));

/**
 * What the generated files of a style weigh. `apart` is the same with a file for each store: in one file nobody can say any more what
 * belongs to which.
 */
export async function styleWeight(
  style: string,
  stores: readonly string[],
  files: readonly File[],
  apart: Weight,
  variants: Readonly<Record<Variant, Weight>>,
): Promise<StyleWeight> {
  const entry = files.find(({ path }) => /^index\.[jt]s$/.test(path))?.path ?? 'index.ts';
  const whole = await weighFiles(files, entry);
  const bytesOf = (isPart: (path: string) => boolean) =>
    [...apart.parts].reduce((sum, [path, bytes]) => sum + (isPart(path) ? bytes : 0), 0);
  const lines = files.reduce((sum, { text }) => sum + text.trimEnd().split('\n').length, 0);
  const readers = files.filter(({ path }) => readerFiles.has(path));
  return {
    style,
    ...sizeOf(whole),
    lines,
    runtime: bytesOf((path) => path.startsWith('runtime/')),
    stores: Object.fromEntries(
      stores.map((name) => [
        name,
        bytesOf((path) => path === `stores/${name}.ts` || path === `checks/${name}.ts`),
      ]),
    ),
    variants: {
      '--checks never': sizeOf(variants['--checks never']),
      '--guard never': sizeOf(variants['--guard never']),
    },
    readers: Object.fromEntries(
      await Promise.all(
        readers.map(async (file) => {
          // By itself: what it imports of the stores is there already.
          const { text, path } = file;
          const alone = [{ path, text: text.replace(/from (['"])\.\//g, 'from $1stores/') }];
          return [path.replace(/\.[jt]s$/, ''), sizeOf(await weighFiles(alone, path))] as const;
        }),
      ),
    ),
  };
}

const sizeOf = ({ minified, gzipped }: Size): Size => ({ minified, gzipped });
