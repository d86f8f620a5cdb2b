import { existsSync, readdirSync, readFileSync, statSync } from 'node:fs';
import { dirname, isAbsolute, join, resolve } from 'node:path';
import type { SchemaAccess, SchemaFile } from '../core.js';
import { NotUtf8, utf8Text } from './utf8.js';
import { Unusable, type Io } from './io.js';

/** How standard input is called in messages. On the command line it is a dash. */
export const standardInput = '(standard input)';

/** Reads a text file that the user named. Throws {@link Unusable}. */
export function readText(io: Io, path: string): string {
  const full = resolve(io.cwd, path);
  try {
    if (path !== standardInput) requireNoDevice(full, path);
    // A mark of the byte order at the beginning is no part of the text.
    return utf8Text(path === standardInput ? io.stdin() : readFileSync(full));
  } catch (error) {
    if (error instanceof Unusable) throw error;
    if (error instanceof NotUtf8) throw new Unusable(...notUtf8(path, error));
    throw new Unusable(...whyUnreadable(io, path, full, (error as NodeJS.ErrnoException).code));
  }
}

/** What is said of a file that is no text, and the way out. */
export const notUtf8 = (path: string, { offset }: NotUtf8): [string, string] => [
  `${path} is not UTF-8: byte ${offset} (from 0) is no part of a character.`,
  'Save it as UTF-8.',
];

/** Devices may never end. Throws {@link Unusable}. */
function requireNoDevice(full: string, path: string): void {
  const stats = statSync(full);
  if (stats.isCharacterDevice() || stats.isBlockDevice())
    throw new Unusable(`${path} is a device.`, 'Name a file, or - for standard input.');
}

function whyUnreadable(
  io: Io,
  path: string,
  full: string,
  code: string | undefined,
): [string, string] {
  if (code === 'EISDIR') return [`${path} is a folder.`, 'Name a schema file in it.'];
  if (code !== 'ENOENT')
    return [`${path} cannot be read (${code ?? 'unknown reason'}).`, 'Look at its permissions.'];
  const folder = dirname(full);
  const isSchema = /\.ya?ml$/.test(path);
  const near =
    isSchema && existsSync(folder)
      ? readdirSync(folder).filter((name) => name.endsWith('.stores.yaml'))
      : [];
  const found =
    near.length === 0
      ? `Paths are relative to ${io.cwd}.`
      : `That folder contains ${near.slice(0, 3).join(', ')}.`;
  return [`There is no file ${path}.`, found];
}

/** Reads the schema files that the user named, each once; a pattern stands for the files that match it, a folder for those in it. Throws {@link Unusable}. */
export async function readSchemas(io: Io, named: readonly string[]): Promise<SchemaFile[]> {
  const paths: string[] = [];
  for (const name of named) {
    const isPattern =
      name !== standardInput && /[*?[\]{}]/.test(name) && !existsSync(resolve(io.cwd, name));
    const isFolder = name !== standardInput && isFolderAt(resolve(io.cwd, name));
    if (isFolder) paths.push(...(await schemasIn(io, name)));
    else paths.push(...(isPattern ? await matching(io, name) : [name]));
  }
  return [...new Set(paths)].map((path) => ({ path, text: readText(io, path) }));
}

const isFolderAt = (path: string): boolean => existsSync(path) && statSync(path).isDirectory();

/** The schema files in a folder, and in those within it. Throws {@link Unusable}. */
async function schemasIn(io: Io, folder: string): Promise<string[]> {
  const { glob } = await import('tinyglobby');
  const within = { cwd: resolve(io.cwd, folder), ignore: ['**/node_modules/**'] };
  const found = await glob('**/*.stores.yaml', within);
  if (found.length === 0)
    throw new Unusable(
      `There is no schema in ${folder}.`,
      'Schemas end in .stores.yaml; leeshore new writes one to begin with.',
    );
  return found.sort().map((name) => join(folder, name));
}

async function matching(io: Io, pattern: string): Promise<string[]> {
  const { glob } = await import('tinyglobby');
  const found = await glob(pattern, { cwd: io.cwd, ignore: ['**/node_modules/**'] });
  if (found.length === 0)
    throw new Unusable(`No file matches ${pattern}.`, `Paths are relative to ${io.cwd}.`);
  return found.sort();
}

/** How files that a schema file uses are found: relative to it. */
export function schemaAccess(io: Io): SchemaAccess {
  return {
    resolve: besides,
    identity: (path) => resolve(io.cwd, path),
    read(path) {
      const full = resolve(io.cwd, path);
      const isFile = existsSync(full) && statSync(full).isFile();
      return isFile ? readText(io, path) : undefined;
    },
  };
}

/** The path of a file that another one names, as the user would write it. */
function besides(from: string, named: string): string {
  return isAbsolute(named) ? named : join(dirname(from), named);
}
