import { mkdirSync, statSync } from 'node:fs';
import { dirname } from 'node:path';

/**
 * Makes a folder and those above it that are missing. One by one: Node's own way to do it never comes back where a
 * file system takes no folders (`/proc`).
 */
export function makeFolder(path: string): void {
  if (isFolder(path)) return;
  if (dirname(path) !== path) makeFolder(dirname(path));
  try {
    mkdirSync(path);
  } catch (error) {
    // Another run may have made it meanwhile.
    if (!isFolder(path)) throw error;
  }
}

function isFolder(path: string): boolean {
  return statSync(path, { throwIfNoEntry: false })?.isDirectory() === true;
}
