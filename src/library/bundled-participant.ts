import { readFile } from 'node:fs/promises';
import { isAbsolute, relative, resolve } from 'node:path';
import { pathToFileURL } from 'node:url';
import type { BuildFailure, Message } from 'esbuild';
import type { ExternalFile } from '../workers/index.js';
import { type Span, LoadError } from '../participants/index.js';

/** What a module may import that is no code: it does nothing in a store. */
const empty = ['.css', '.scss', '.sass', '.less', '.svg', '.png', '.jpg', '.webp', '.woff2'];

/**
 * A participant file of the user's with all that it imports, as one module: TypeScript and JSX as they are,
 * paths as `tsconfig.json` has them, packages from where the file stands. `path` is relative to `folder`. Throws
 * {@link LoadError}.
 */
export async function bundledParticipant(
  path: string,
  folder = process.cwd(),
): Promise<ExternalFile> {
  if (!/\.[cm]?[jt]sx?$/.test(path))
    throw new LoadError(path, 'it is not a JavaScript or TypeScript file');
  const { build } = await import('esbuild');
  const full = resolve(folder, path);
  const origin = JSON.stringify(pathToFileURL(full).href);
  try {
    const { outputFiles, metafile } = await build({
      entryPoints: [full],
      absWorkingDir: folder,
      bundle: true,
      write: false,
      metafile: true,
      outfile: 'participant.js',
      sourcemap: 'external',
      sourcesContent: false,
      format: 'esm',
      platform: 'node',
      target: 'node20.19',
      logLevel: 'silent',
      loader: Object.fromEntries(empty.map((extension) => [extension, 'empty'])),
      define: { 'import.meta.url': origin },
      // Packages written for CommonJS ask for Node's own modules with require.
      banner: {
        js: `import { createRequire as leeshoreRequire } from 'node:module'; const require = leeshoreRequire(${origin});`,
      },
    });
    const textOf = (ending: string) =>
      outputFiles.find((file) => file.path.endsWith(ending))?.text ?? '';
    const inputs = Object.keys(metafile.inputs);
    const modules = inputs.filter((one) => !isOfPackage(one));
    const bundle = textOf('participant.js');
    const packages = packagesIn(bundle, new Set(inputs));
    const needsDocument = asksForDocument.test(await readFile(full, 'utf8'));
    return {
      path,
      bundle,
      map: textOf('.map'),
      packages,
      modules,
      ...(needsDocument && { documentAt: full }),
    };
  } catch (error) {
    const [first] = (error as Partial<BuildFailure>).errors ?? [];
    if (first === undefined) throw error;
    throw new LoadError(path, `${placeOf(folder, first)}${first.text}`);
  }
}

/** A participant that has `document: true`, at the beginning of a line. */
const asksForDocument = /^\s*document:\s*true\b/m;

const isOfPackage = (path: string): boolean => path.includes('node_modules/');

/** Where code of packages stands in a bundle: the bundler has written the path of each module in a line above it. */
function packagesIn(bundle: string, inputs: ReadonlySet<string>): readonly Span[] {
  const spans: Span[] = [];
  let start: number | undefined;
  for (const { index, 1: path = '' } of bundle.matchAll(/^\/\/ (.+)$/gm)) {
    if (!inputs.has(path)) continue;
    if (start !== undefined) spans.push({ start, end: index });
    start = isOfPackage(path) ? index : undefined;
  }
  return start === undefined ? spans : [...spans, { start, end: bundle.length }];
}

function placeOf(folder: string, { location }: Message): string {
  if (location === null) return '';
  const file = isAbsolute(location.file) ? relative(folder, location.file) : location.file;
  return `${file}:${location.line}:${location.column + 1}: `;
}
