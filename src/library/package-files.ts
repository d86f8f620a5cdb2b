import { existsSync, readFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';

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

/** Reads a file of the run time that is copied into generated folders; the build has formatted it. */
export const readRuntime = (path: string): string =>
  readFileSync(join(packageRoot(), 'dist/runtime', path), 'utf8');

/** Reads a part of the page of the timeline, as the build has made it. */
export const readPagePart = (name: string): string =>
  readFileSync(join(packageRoot(), 'dist/page', name), 'utf8');
