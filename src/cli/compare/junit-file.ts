import { existsSync, statSync } from 'node:fs';
import { resolve } from 'node:path';
import { readText } from '../files.js';
import { Unusable, type Io } from '../io.js';
import { replaceFile } from '../replace-file.js';

const wayOut = 'Name another file with --junit.';

/** Refuses to write over a file that is no report of ours: before anything is compared. Throws {@link Unusable}. */
export function requireReportAt(io: Io, path: string): void {
  const full = resolve(io.cwd, path);
  if (!existsSync(full)) return;
  if (statSync(full).isDirectory()) throw new Unusable(`${path} is a folder.`, wayOut);
  if (!readText(io, path).includes('<testsuites name="leeshore '))
    throw new Unusable(`${path} is there already, and no report of leeshore.`, wayOut);
}

export function writeReport(io: Io, path: string, xml: string): void {
  replaceFile(io, path, xml, wayOut);
}
