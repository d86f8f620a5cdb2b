import { posix } from 'node:path';
import { gzipSync } from 'node:zlib';
import type { BuildFailure, BuildOptions, Plugin } from 'esbuild';
import { WeighError } from './weigh-error.js';

/** What a module weighs in an application, in bytes: minified, and compressed as a server sends it. */
export interface Size {
  readonly minified: number;
  readonly gzipped: number;
}

export interface Weight extends Size {
  /** What each file has of the minified bytes, by its path. */
  readonly parts: ReadonlyMap<string, number>;
}

/** A file in memory: generated stores need not be written to be weighed. */
interface File {
  readonly path: string;
  readonly text: string;
}

/** Weighs files in memory that import each other; packages are left out. `entry` is the path of one of them. */
export function weighFiles(files: readonly File[], entry: string): Promise<Weight> {
  const texts = new Map(files.map(({ path, text }) => [path, text]));
  const inMemory: Plugin = {
    name: 'in-memory',
    setup(build) {
      build.onResolve({ filter: /.*/ }, ({ path, importer, kind }) => {
        if (kind === 'entry-point') return { path, namespace: 'memory' };
        if (!path.startsWith('.')) return { path, external: true };
        const full = posix.join(posix.dirname(importer), path);
        const known = [full, full.replace(/\.js$/, '.ts')].find((one) => texts.has(one));
        return { path: known ?? full, namespace: 'memory' };
      });
      build.onLoad({ filter: /.*/, namespace: 'memory' }, ({ path }) => ({
        contents: texts.get(path) ?? '',
        loader: path.endsWith('.ts') ? 'ts' : 'js',
      }));
    },
  };
  return weigh({ entryPoints: [entry], plugins: [inMemory] });
}

/** Weighs a module of the user's with all that it imports, packages too. Throws {@link WeighError}. */
export const weighModule = (path: string, folder: string): Promise<Weight> =>
  weigh({ entryPoints: [path], absWorkingDir: folder });

async function weigh(own: BuildOptions): Promise<Weight> {
  const { build } = await import('esbuild');
  try {
    const { outputFiles = [], metafile } = await build({
      bundle: true,
      minify: true,
      write: false,
      metafile: true,
      format: 'esm',
      target: 'es2022',
      platform: 'browser',
      legalComments: 'none',
      logLevel: 'silent',
      define: { 'process.env.NODE_ENV': '"production"' },
      ...own,
    });
    const code = outputFiles[0]?.contents ?? new Uint8Array();
    const [output] = Object.values(metafile?.outputs ?? {});
    const parts = Object.entries(output?.inputs ?? {}).map(
      ([path, { bytesInOutput }]): [string, number] => [
        path.replace(/^memory:/, ''),
        bytesInOutput,
      ],
    );
    return {
      minified: code.length,
      gzipped: gzipSync(code, { level: 9 }).length,
      parts: new Map(parts),
    };
  } catch (error) {
    const [first] = (error as Partial<BuildFailure>).errors ?? [];
    if (first === undefined) throw error;
    const at = first.location === null ? '' : `${first.location.file}:${first.location.line}: `;
    throw new WeighError(`${at}${first.text}`);
  }
}
