import { existsSync, readdirSync, readFileSync } from 'node:fs';
import { dirname, join, resolve } from 'node:path';
import { fileURLToPath } from 'node:url';
import type { SchemaFile } from '../index.js';
import { Unusable, type Io } from './io.js';

/** Reads a text file that the user named. Throws {@link Unusable}. */
export function readText(io: Io, path: string): string {
  const full = resolve(io.cwd, path);
  try {
    return readFileSync(full, 'utf8').replace(/^\uFEFF/, '');
  } catch (error) {
    throw new Unusable(...whyUnreadable(io, path, full, (error as NodeJS.ErrnoException).code));
  }
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
  const near = existsSync(folder)
    ? readdirSync(folder).filter((name) => name.endsWith('.stores.yaml'))
    : [];
  const found =
    near.length === 0
      ? `Paths are relative to ${io.cwd}.`
      : `There is ${near.slice(0, 3).join(', ')} in that folder.`;
  return [`There is no file ${path}.`, found];
}

export function readSchema(io: Io, path: string): SchemaFile {
  return { path, text: readText(io, path) };
}

/** The folder of Leeshore itself: where its package.json stands. */
export function packageRoot(): string {
  let folder = dirname(fileURLToPath(import.meta.url));
  while (!existsSync(join(folder, 'package.json'))) folder = dirname(folder);
  return folder;
}

/** Leeshore's own version. */
export function ownVersion(): string {
  const { version } = JSON.parse(readFileSync(join(packageRoot(), 'package.json'), 'utf8')) as {
    version: string;
  };
  return version;
}

/** Reads a file of the run time that is copied into generated folders. */
export function readRuntime(path: string): string {
  return readFileSync(join(packageRoot(), 'src/emit', path), 'utf8');
}
