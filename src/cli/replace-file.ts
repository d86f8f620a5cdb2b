import { renameSync, rmSync, writeFileSync } from 'node:fs';
import { resolve } from 'node:path';
import { Unusable, type Io } from './io.js';

/** Writes a file as a whole: a crash leaves the old one or the new one. Throws {@link Unusable} with a way out. */
export function replaceFile(io: Io, path: string, text: string, wayOut: string): void {
  const full = resolve(io.cwd, path);
  const beside = `${full}.${process.pid}.new`;
  try {
    writeFileSync(beside, text, { flag: 'wx' });
    renameSync(beside, full);
  } catch (error) {
    rmSync(beside, { force: true });
    const code = (error as NodeJS.ErrnoException).code ?? 'unknown reason';
    throw new Unusable(`${path} cannot be written (${code}).`, wayOut);
  }
}
