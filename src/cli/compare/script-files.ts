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
  const path = own ?? freePath(io, `${stem}.seed-${seed}`, text);
  const full = resolve(io.cwd, path);
  if (holds(full, text)) return path;
  if (existsSync(full))
    throw new Unusable(
      `${path} is there already; the script was not saved.`,
      'Name another file with --save.',
    );
  createFile(io, path, text, 'Name another file with --save.');
  return path;
}

/** A path that is free, or holds this very script. */
function freePath(io: Io, stem: string, text: string): string {
  for (let i = 1; ; i++) {
    const path = `${stem}${i === 1 ? '' : `-${i}`}.script.json`;
    const full = resolve(io.cwd, path);
    if (!existsSync(full) || holds(full, text)) return path;
  }
}

/** Whether a file is there that has this very text. */
function holds(full: string, text: string): boolean {
  try {
    return readFileSync(full, 'utf8') === text;
  } catch {
    return false;
  }
}
