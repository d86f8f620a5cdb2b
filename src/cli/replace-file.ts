import { linkSync, renameSync, rmSync, writeFileSync } from 'node:fs';
import { resolve } from 'node:path';
import { Unusable, type Io } from './io.js';

/** Writes a file as a whole: a crash leaves the old one or the new one. Throws {@link Unusable} with a way out. */
export function replaceFile(io: Io, path: string, text: string, wayOut: string): void {
  place(io, path, text, wayOut, renameSync);
}

/** Writes a file as a whole where there is none: never over another. Throws {@link Unusable} with a way out. */
export function createFile(io: Io, path: string, text: string, wayOut: string): void {
  place(io, path, text, wayOut, (beside, full) => {
    linkOrMove(beside, full);
    rmSync(beside, { force: true });
  });
}

/** Where the disk has no links, writing directly must do: it fails as well if something stands there. */
function linkOrMove(beside: string, full: string): void {
  try {
    linkSync(beside, full);
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code === 'EEXIST') throw error;
    writeFileSync(full, '', { flag: 'wx' });
    renameSync(beside, full);
  }
}

function place(
  io: Io,
  path: string,
  text: string,
  wayOut: string,
  put: (beside: string, full: string) => void,
): void {
  const full = resolve(io.cwd, path);
  const beside = `${full}.${process.pid}.new`;
  try {
    writeFileSync(beside, text, { flag: 'wx' });
    put(beside, full);
  } catch (error) {
    rmSync(beside, { force: true });
    const code = (error as NodeJS.ErrnoException).code ?? 'unknown reason';
    throw new Unusable(`${path} cannot be written (${code}).`, wayOut);
  }
}
