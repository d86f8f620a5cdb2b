import {
  chmodSync,
  copyFileSync,
  existsSync,
  linkSync,
  mkdirSync,
  readdirSync,
  readlinkSync,
  renameSync,
  rmdirSync,
  rmSync,
  statSync,
  symlinkSync,
  utimesSync,
  writeFileSync,
} from 'node:fs';
import { dirname, join } from 'node:path';
import { Unusable } from '../io.js';
import { placeBeside } from './folder-places.js';
import { guarded } from './guarded.js';
import { recoverFolder } from './recover-folder.js';
import type { FolderPlan } from './plan-folder.js';
import { makeFolder } from '../make-folder.js';

/**
 * Makes the planned changes. Each folder is made anew beside the old one and then takes its place, so that
 * whoever stops this at any moment finds the old folder or the new one. Between two renames neither stands there:
 * another process puts the old one back if this one dies just then. Files that do not change are not
 * written: they are the same files in the new folder. Of what stands in the way, copies are kept; gives
 * their names. Throws {@link Unusable}.
 */
export function replaceFolders(plans: readonly FolderPlan[]): Promise<string[]> {
  const changed = plans.filter(({ changes }) => changes.length > 0);
  const replaced = changed.map(({ full }) => full).filter((folder) => existsSync(folder));
  return guarded(replaced, () => replaceAll(plans, changed));
}

function replaceAll(plans: readonly FolderPlan[], changed: readonly FolderPlan[]): string[] {
  try {
    for (const { full } of plans) recoverFolder(full);
    const kept = changed.flatMap(makeNext);
    for (const { full } of changed) takePlace(full);
    return kept;
  } catch (error) {
    const { code, path } = error as NodeJS.ErrnoException;
    for (const { full } of changed) tryToRecover(full);
    throw new Unusable(
      `${path ?? 'The folder'} cannot be written (${code ?? 'unknown reason'}).`,
      'Choose another folder with --out.',
    );
  }
}

function tryToRecover(folder: string): void {
  try {
    recoverFolder(folder);
  } catch {
    // The first thing that went wrong is the one to be told; the next run tries again.
  }
}

/** Makes the next content of a folder beside it; gives the names of the copies that it keeps. */
function makeNext({ folder, full, changes, inTheWay }: FolderPlan): string[] {
  const next = placeBeside(full, 'next');
  makeFolder(next);
  if (existsSync(full)) {
    chmodSync(next, statSync(full).mode);
    shareTree(full, next, new Set(changes.map(({ path }) => path)));
  }
  const kept = inTheWay.map(({ path }) => {
    const copy = freeName(next, `${path}.kept`);
    makeFolder(dirname(join(next, copy)));
    copyFileSync(join(full, path), join(next, copy));
    return join(folder, copy);
  });
  for (const { path, kind, after } of changes) {
    if (kind === 'removed') continue;
    makeFolder(dirname(join(next, path)));
    writeFileSync(join(next, path), after);
  }
  for (const { path, kind } of changes) if (kind === 'removed') removeEmpty(next, dirname(path));
  return kept;
}

/** Removes a folder below another in which nothing is left, and those above it. */
function removeEmpty(root: string, path: string): void {
  const folder = join(root, path);
  if (path === '.' || !existsSync(folder) || readdirSync(folder).length > 0) return;
  rmdirSync(folder);
  removeEmpty(root, dirname(path));
}

function freeName(folder: string, wanted: string): string {
  let name = wanted;
  for (let i = 2; existsSync(join(folder, name)); i++) name = `${wanted}-${i}`;
  return name;
}

function takePlace(folder: string): void {
  const [next, last] = [placeBeside(folder, 'next'), placeBeside(folder, 'last')];
  if (!existsSync(folder)) {
    renameSync(next, folder);
    return;
  }
  renameSync(folder, last);
  renameSync(next, folder);
  // The guardian may have begun with it.
  rmSync(last, { recursive: true, force: true });
}

/** The content of a folder in another one, but for some paths: the same files where the disk allows it. */
function shareTree(from: string, to: string, without: ReadonlySet<string>, above = ''): void {
  for (const entry of readdirSync(from, { withFileTypes: true })) {
    const path = `${above}${entry.name}`;
    if (without.has(path)) continue;
    const [old, copy] = [join(from, entry.name), join(to, entry.name)];
    if (entry.isSymbolicLink()) symlinkSync(readlinkSync(old), copy);
    else if (entry.isDirectory()) {
      mkdirSync(copy, { mode: statSync(old).mode });
      shareTree(old, copy, without, `${path}/`);
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
