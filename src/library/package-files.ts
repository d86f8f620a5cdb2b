import { existsSync, readFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import type { RuntimeCopy } from '../emit/shared/runtime-files.js';

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
export function readRuntime(path: string, copy: RuntimeCopy): string {
  const folder = copy === 'plain' ? 'runtime' : `runtime-with-${copy}`;
  return readFileSync(join(packageRoot(), 'dist', folder, path), 'utf8');
}

/** Reads a part of the page of the timeline, as the build has made it. */
export const readPagePart = (name: string): string =>
  readFileSync(join(packageRoot(), 'dist/page', name), 'utf8');
