import {
  chmodSync,
  copyFileSync,
  existsSync,
  linkSync,
  mkdirSync,
  readdirSync,
  readlinkSync,
  renameSync,
  rmSync,
  statSync,
  symlinkSync,
  utimesSync,
  writeFileSync,
} from 'node:fs';
import { basename, dirname, join } from 'node:path';
import { Unusable } from '../io.js';
import type { FolderPlan } from './plan-folder.js';

/** Where the next content of a folder is made, and where the last one waits until the next is in its place. */
const besides = (folder: string, what: 'next' | 'last'): string =>
  join(dirname(folder), `.${basename(folder)}.leeshore-${what}`);

/**
 * Tidies up after a run that was killed: a folder that was on its way out is put back if nothing has taken
 * its place, and what was only half made is thrown away.
 */
export function recoverFolder(folder: string): void {
  const [next, last] = [besides(folder, 'next'), besides(folder, 'last')];
  if (existsSync(last)) {
    if (existsSync(folder)) rmSync(last, { recursive: true });
    else renameSync(last, folder);
  }
  if (existsSync(next)) rmSync(next, { recursive: true });
}

/**
 * Makes the planned changes. Each folder is made anew beside the old one and then takes its place, so that
 * whoever stops this at any moment finds the old folder or the new one. Files that do not change are not
 * written: they are the same files in the new folder. Throws {@link Unusable}.
 */
export function replaceFolders(plans: readonly FolderPlan[]): void {
  const changed = plans.filter(({ changes }) => changes.length > 0);
  try {
    for (const plan of changed) makeNext(plan);
    for (const { full } of changed) takePlace(full);
  } catch (error) {
    const { code, path } = error as NodeJS.ErrnoException;
    for (const { full } of changed) recoverFolder(full);
    throw new Unusable(
      `${path ?? 'The folder'} cannot be written (${code ?? 'unknown reason'}).`,
      'Choose another folder with --out.',
    );
  }
}

function makeNext({ full, changes }: FolderPlan): void {
  const next = besides(full, 'next');
  mkdirSync(next, { recursive: true });
  const replaced = new Set(changes.map(({ path }) => path));
  if (existsSync(full)) {
    chmodSync(next, statSync(full).mode);
    shareTree(full, next, replaced);
  }
  for (const { path, kind, after } of changes)
    if (kind !== 'removed') writeFileSync(join(next, path), after);
}

function takePlace(folder: string): void {
  const [next, last] = [besides(folder, 'next'), besides(folder, 'last')];
  if (!existsSync(folder)) {
    renameSync(next, folder);
    return;
  }
  renameSync(folder, last);
  renameSync(next, folder);
  rmSync(last, { recursive: true });
}

/** The content of a folder in another one, but for some names: the same files where the disk allows it. */
function shareTree(from: string, to: string, without: ReadonlySet<string> = new Set()): void {
  for (const entry of readdirSync(from, { withFileTypes: true })) {
    if (without.has(entry.name)) continue;
    const [old, copy] = [join(from, entry.name), join(to, entry.name)];
    if (entry.isSymbolicLink()) symlinkSync(readlinkSync(old), copy);
    else if (entry.isDirectory()) {
      mkdirSync(copy, { mode: statSync(old).mode });
      shareTree(old, copy);
    } else shareFile(old, copy);
  }
}

function shareFile(old: string, copy: string): void {
  try {
    linkSync(old, copy);
  } catch {
    copyFileSync(old, copy);
    const { atime, mtime } = statSync(old);
    utimesSync(copy, atime, mtime);
  }
}
