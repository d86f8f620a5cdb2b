import { existsSync, statSync } from 'node:fs';
import { isAbsolute, relative, resolve } from 'node:path';
import { pathToFileURL } from 'node:url';
import type { BuildFailure, Message } from 'esbuild';
import { Unusable, type Io } from '../io.js';

/** What a module may import that is no code: it does nothing in a store. */
const empty = ['.css', '.scss', '.sass', '.less', '.svg', '.png', '.jpg', '.webp', '.woff2'];

/**
 * A participant file of the user's with all that it imports, as one module: TypeScript and JSX as they are,
 * paths as `tsconfig.json` has them, packages from where the file stands. Throws {@link Unusable}.
 */
export async function participantFile(
  io: Io,
  path: string,
): Promise<{ readonly path: string; readonly bundle: string }> {
  const full = resolve(io.cwd, path);
  if (!existsSync(full))
    throw new Unusable(`There is no file ${path}.`, `Paths are relative to ${io.cwd}.`);
  if (statSync(full).isDirectory())
    throw new Unusable(`${path} is a folder.`, 'Name a participant file in it.');
  const { build } = await import('esbuild');
  const origin = JSON.stringify(pathToFileURL(full).href);
  try {
    const { outputFiles } = await build({
      entryPoints: [full],
      absWorkingDir: io.cwd,
      bundle: true,
      write: false,
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
    return { path, bundle: outputFiles[0]?.text ?? '' };
  } catch (error) {
    const { errors } = error as Partial<BuildFailure>;
    const [first] = errors ?? [];
    if (first === undefined) throw error;
    throw new Unusable(`${placeOf(io, first)}${first.text}`, 'Mend the participant file.');
  }
}

function placeOf(io: Io, { location }: Message): string {
  if (location === null) return '';
  const file = isAbsolute(location.file) ? relative(io.cwd, location.file) : location.file;
  return `${file}:${location.line}:${location.column + 1}: `;
}
