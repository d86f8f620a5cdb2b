import {
  existsSync,
  mkdirSync,
  readdirSync,
  readFileSync,
  renameSync,
  rmSync,
  writeFileSync,
} from 'node:fs';
import { join, relative, resolve } from 'node:path';
import type { ownershipOf } from '../index.js';
import { Unusable, type Io } from './io.js';

/** Files for one folder. */
export interface FolderContent {
  /** The folder, as the user wrote it. */
  readonly folder: string;
  readonly files: readonly { readonly path: string; readonly text: string }[];
}

export interface Written {
  readonly folder: string;
  readonly written: number;
  readonly unchanged: number;
  readonly removed: number;
}

type OwnershipOf = typeof ownershipOf;

/**
 * Writes generated folders. First looks at everything that is there: a file that Leeshore did not write, or
 * that was changed since, stops it before anything is touched. Throws {@link Unusable}.
 */
export function writeGenerated(
  io: Io,
  contents: readonly FolderContent[],
  ownership: OwnershipOf,
): Written[] {
  const plans = contents.map((content) => planFor(io, content, ownership));
  const inTheWay = plans.flatMap(({ foreign }) => foreign);
  if (inTheWay.length > 0) {
    const list = inTheWay.map(({ path, why }) => `${path} (${why})`).join(', ');
    throw new Unusable(
      `Nothing was written: ${list} would be overwritten.`,
      'Move it away, or generate into another folder with --out.',
    );
  }
  return plans.map(apply);
}

interface Plan {
  readonly content: FolderContent;
  readonly full: string;
  readonly toWrite: FolderContent['files'];
  readonly toRemove: readonly string[];
  readonly foreign: readonly { readonly path: string; readonly why: string }[];
}

function planFor(io: Io, content: FolderContent, ownership: OwnershipOf): Plan {
  const full = resolve(io.cwd, content.folder);
  const present = presentFiles(io, full);
  const wanted = new Map(content.files.map(({ path, text }) => [path, text]));
  const foreign = [...present].flatMap(([name, text]) => {
    if (!wanted.has(name) || wanted.get(name) === text) return [];
    const owned = ownership(text);
    return owned === 'generated' ? [] : [{ path: join(content.folder, name), why: owned }];
  });
  const toRemove = [...present].filter(
    ([name, text]) => !wanted.has(name) && ownership(text) === 'generated',
  );
  return {
    content,
    full,
    foreign,
    toWrite: content.files.filter(({ path, text }) => present.get(path) !== text),
    toRemove: toRemove.map(([name]) => name),
  };
}

function presentFiles(io: Io, folder: string): Map<string, string> {
  if (!existsSync(folder)) return new Map();
  try {
    const names = readdirSync(folder, { withFileTypes: true }).filter(
      (file) => file.isFile() && file.name.endsWith('.ts'),
    );
    return new Map(names.map(({ name }) => [name, readFileSync(join(folder, name), 'utf8')]));
  } catch (error) {
    const { code } = error as NodeJS.ErrnoException;
    const name = relative(io.cwd, folder);
    if (code === 'ENOTDIR')
      throw new Unusable(`${name} is no folder.`, 'Choose another with --out.');
    throw new Unusable(
      `${name} cannot be read (${code ?? 'unknown reason'}).`,
      'Look at its permissions.',
    );
  }
}

function apply({ content, full, toWrite, toRemove }: Plan): Written {
  try {
    mkdirSync(full, { recursive: true });
    for (const { path, text } of toWrite) {
      const part = join(full, `${path}.part`);
      writeFileSync(part, text);
      renameSync(part, join(full, path));
    }
    for (const name of toRemove) rmSync(join(full, name));
  } catch (error) {
    const { code, path } = error as NodeJS.ErrnoException;
    throw new Unusable(
      `${path ?? content.folder} cannot be written (${code ?? 'unknown reason'}).`,
      'Choose another folder with --out.',
    );
  }
  const unchanged = content.files.length - toWrite.length;
  return { folder: content.folder, written: toWrite.length, unchanged, removed: toRemove.length };
}
