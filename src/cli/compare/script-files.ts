import { existsSync, readFileSync } from 'node:fs';
import { basename, resolve } from 'node:path';
import type { scriptText, unknownIn } from '../../core.js';
import { readText } from '../files.js';
import { Unusable, type Io } from '../io.js';
import { createFile } from '../replace-file.js';

type Application = Parameters<typeof unknownIn>[1];

/** Reads the script file that the user named. Throws {@link Unusable}. */
export async function scriptFor(io: Io, path: string, application: Application) {
  const { readScript, unknownIn } = await import('../../core.js');
  const read = readScript(readText(io, path));
  if (typeof read === 'string')
    throw new Unusable(
      `${path} is not a script: ${read}.`,
      'A script is what compare saves when it finds a difference.',
    );
  const odd = unknownIn(read.script, application);
  if (odd !== undefined)
    throw new Unusable(
      `${path} names ${odd}, which the schema does not have.`,
      'Was it renamed? Change it in the script too.',
    );
  return read;
}

/** Refuses to save where something else than a script is: better before a search than after it. Throws {@link Unusable}. */
export function requireFree(io: Io, path: string): void {
  const full = resolve(io.cwd, path);
  if (!existsSync(full) || isScript(full)) return;
  throw new Unusable(
    `${path} is there already, and is no script.`,
    'Name another file with --save.',
  );
}

function isScript(full: string): boolean {
  try {
    return Object.hasOwn(JSON.parse(readFileSync(full, 'utf8')) as object, 'leeshoreScript');
  } catch {
    return false;
  }
}

interface Where {
  readonly file: string;
  readonly seed: number;
  readonly save?: string | undefined;
  /** Which of several differences it is, counted from 1. */
  readonly number: number;
}

/** Saves the script of a difference; never over another file. Gives the path. */
export async function saveScript(
  io: Io,
  { file, seed, save, number }: Where,
  script: Parameters<typeof scriptText>[0],
): Promise<string> {
  const index = await import('../../core.js');
  const text = index.scriptText(script, file, seed);
  const stem = basename(file).replace(/(\.stores)?\.(ya?ml|json)$/, '');
  const own = number === 1 ? save : save?.replace(/(\.script)?(\.json)?$/, `-${number}$1$2`);
  const wanted = own ?? `${stem}.seed-${seed}.script.json`;
  const path = freePath(io, wanted, text);
  if (!holds(resolve(io.cwd, path), text))
    createFile(io, path, text, 'Name another file with --save.');
  return path;
}

/** A path that is free, or holds this very script: the one that is wanted, or the same with a number. */
function freePath(io: Io, wanted: string, text: string): string {
  for (let i = 1; ; i++) {
    const path = i === 1 ? wanted : wanted.replace(/(\.script)?(\.json)?$/, `-${i}$1$2`);
    const full = resolve(io.cwd, path);
    if (!existsSync(full) || holds(full, text)) return path;
  }
}

/** True if a file is there that has this very text. */
function holds(full: string, text: string): boolean {
  try {
    return readFileSync(full, 'utf8') === text;
  } catch {
    return false;
  }
}
