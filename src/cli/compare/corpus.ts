import { createHash } from 'node:crypto';
import { readdirSync } from 'node:fs';
import { join, resolve } from 'node:path';
import type { Comparison, Script, unknownIn } from '../../core.js';
import { readText } from '../files.js';
import { Unusable, type Io } from '../io.js';
import { replaceFile } from '../replace-file.js';
import { makeFolder } from '../make-folder.js';

type Application = Parameters<typeof unknownIn>[1];

/** A folder of scripts that are done before anything else is searched. */
export interface Corpus {
  readonly scripts: readonly Script[];
  /** Adds the scripts that reached something new, and the one that found a difference. */
  readonly keep: (comparison: Comparison) => void;
}

const ending = '.script.json';
const wayOut = 'Name another folder with --corpus.';

/** Reads the scripts of a folder, made if it is not there; those that the schema has outgrown are told and left out. Throws {@link Unusable}. */
export async function corpusIn(
  io: Io,
  folder: string,
  schema: string,
  application: Application,
): Promise<Corpus> {
  const { readScript, scriptText, unknownIn } = await import('../../core.js');
  const names = namesIn(io, folder);
  const scripts: Script[] = [];
  const outgrown: string[] = [];
  for (const name of names) {
    const path = join(folder, name);
    const read = readScript(readText(io, path));
    if (typeof read === 'string')
      throw new Unusable(
        `${path} is not a script: ${read}.`,
        'Correct it, or remove it from the folder.',
      );
    if (unknownIn(read.script, application) === undefined) scripts.push(read.script);
    else outgrown.push(path);
  }
  if (outgrown.length > 0)
    io.stderr(`Left out, since the schema has no such names any more: ${outgrown.join(', ')}\n`);
  const add = (prefix: string, script: Script, seed: number) => {
    const text = scriptText(script, schema, seed);
    const mark = createHash('sha256').update(JSON.stringify(script)).digest('hex').slice(0, 12);
    try {
      makeFolder(resolve(io.cwd, folder));
    } catch (error) {
      const code = (error as NodeJS.ErrnoException).code ?? 'unknown reason';
      throw new Unusable(`${folder} cannot be written (${code}).`, wayOut);
    }
    replaceFile(io, join(folder, `${prefix}-${mark}${ending}`), text, wayOut);
  };
  return {
    scripts,
    keep({ kept, difference, seed }) {
      // The first of what was kept is what stood there before.
      for (const { steps } of kept.slice(scripts.length)) add('reach', { steps }, seed);
      if (difference !== undefined) add('found', difference.script, seed);
    },
  };
}

function namesIn(io: Io, folder: string): string[] {
  try {
    return readdirSync(resolve(io.cwd, folder))
      .filter((name) => name.endsWith(ending))
      .sort();
  } catch (error) {
    const { code } = error as NodeJS.ErrnoException;
    if (code === 'ENOENT') return [];
    throw new Unusable(`${folder} cannot be read (${code ?? 'unknown reason'}).`, 'Name a folder.');
  }
}
