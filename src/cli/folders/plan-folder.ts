import { existsSync, lstatSync, readFileSync, realpathSync } from 'node:fs';
import { join, relative, resolve } from 'node:path';
import type { ownershipOf } from '../../core.js';
import { Unusable, type Io } from '../io.js';
import { modulesIn, standingAt } from './folder-places.js';

/** Files for one folder. */
export interface FolderContent {
  /** The folder, as the user wrote it. */
  readonly folder: string;
  readonly files: readonly { readonly path: string; readonly text: string }[];
}

/** What would become of a file. */
export interface FileChange {
  readonly path: string;
  readonly kind: 'new' | 'changed' | 'removed';
  /** Its text now and then; empty where there is none. */
  readonly before: string;
  readonly after: string;
}

/** A file that stands in the way, and why it is not overwritten. */
export interface InTheWay {
  readonly path: string;
  readonly why: string;
}

/** What it takes to make a folder what it should be. */
export interface FolderPlan {
  readonly folder: string;
  /** Its absolute path. */
  readonly full: string;
  readonly changes: readonly FileChange[];
  readonly unchanged: number;
  readonly inTheWay: readonly InTheWay[];
}

/** Compares a folder on disk with what it should be, and touches nothing. Throws {@link Unusable}. */
export function planFolder(
  io: Io,
  { folder, files }: FolderContent,
  ownership: typeof ownershipOf,
): FolderPlan {
  const full = followed(resolve(io.cwd, folder), folder);
  requireFiles(standingAt(full), folder, files);
  const present = presentFiles(io, standingAt(full));
  const wanted = new Map(files.map(({ path, text }) => [path, text]));
  const inTheWay: InTheWay[] = [];
  const changes: FileChange[] = [];
  for (const [path, after] of wanted) {
    const before = present.get(path);
    if (before === after) continue;
    changes.push({
      path,
      kind: before === undefined ? 'new' : 'changed',
      before: before ?? '',
      after,
    });
    if (before !== undefined && ownership(before) !== 'generated')
      inTheWay.push({ path, why: ownership(before) });
  }
  for (const [path, before] of present) {
    const owned = ownership(before);
    if (wanted.has(path) || owned === 'not ours') continue;
    changes.push({ path, kind: 'removed', before, after: '' });
    if (owned === 'changed by hand')
      inTheWay.push({ path, why: 'changed by hand, and not needed' });
  }
  const unchanged = files.filter(({ path, text }) => present.get(path) === text).length;
  changes.sort((a, b) => (a.path < b.path ? -1 : 1));
  return { folder, full, changes, unchanged, inTheWay };
}

/** What stands at a path itself, links not followed; nothing either where a folder on the way is none. */
function standing(path: string) {
  try {
    return lstatSync(path, { throwIfNoEntry: false });
  } catch {
    return undefined;
  }
}

/** A folder that is a link is the folder that it leads to. Throws {@link Unusable}. */
function followed(full: string, folder: string): string {
  const stats = standing(full);
  if (stats?.isSymbolicLink() !== true) return full;
  try {
    return realpathSync(full);
  } catch {
    throw new Unusable(
      `${folder} is a link that leads nowhere.`,
      'Delete it, or choose another folder with --out.',
    );
  }
}

/** Refuses to take the place of anything that is not an ordinary file, whoever asks. Throws {@link Unusable}. */
function requireFiles(full: string, folder: string, files: FolderContent['files']): void {
  const folders = new Set(files.flatMap(({ path }) => foldersAbove(path)));
  for (const path of folders) requireKind(full, folder, path, 'folder');
  for (const { path } of files) requireKind(full, folder, path, 'file');
}

/** The folders in which a file stands, below the folder of all: `a` and `a/b` for `a/b/c.ts`. */
function foldersAbove(path: string): string[] {
  const parts = path.split('/').slice(0, -1);
  return parts.map((_, i) => parts.slice(0, i + 1).join('/'));
}

function requireKind(full: string, folder: string, path: string, kind: 'file' | 'folder'): void {
  const stats = standing(join(full, path));
  if (stats === undefined || (kind === 'file' ? stats.isFile() : stats.isDirectory())) return;
  const what = stats.isSymbolicLink()
    ? 'a link'
    : stats.isDirectory()
      ? 'a folder'
      : stats.isFile()
        ? 'a file'
        : 'not a file';
  throw new Unusable(
    `${join(folder, path)} is ${what}, and a ${kind} is to be written there.`,
    'Move it away, or choose another folder with --out.',
  );
}

/** The files that may be Leeshore's, by name. */
function presentFiles(io: Io, folder: string): ReadonlyMap<string, string> {
  if (!existsSync(folder)) return new Map();
  try {
    const names = modulesIn(folder);
    return new Map(names.map((name) => [name, readFileSync(join(folder, name), 'utf8')]));
  } catch (error) {
    const { code } = error as NodeJS.ErrnoException;
    const name = relative(io.cwd, folder);
    if (code === 'ENOTDIR')
      throw new Unusable(`${name} is not a folder.`, 'Choose another with --out.');
    throw new Unusable(
      `${name} cannot be read (${code ?? 'unknown reason'}).`,
      'Look at its permissions.',
    );
  }
}
