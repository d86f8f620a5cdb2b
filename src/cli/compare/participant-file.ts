import { existsSync, statSync } from 'node:fs';
import { resolve } from 'node:path';
import { Unusable, type Io } from '../io.js';

/** A participant file that the user named, with all that it imports as one module. Throws {@link Unusable}. */
export async function participantFile(io: Io, path: string) {
  const full = resolve(io.cwd, path);
  if (!existsSync(full))
    throw new Unusable(`There is no file ${path}.`, `Paths are relative to ${io.cwd}.`);
  if (statSync(full).isDirectory())
    throw new Unusable(`${path} is a folder.`, 'Name a participant file in it.');
  const { bundledParticipant, LoadError } = await import('../../core.js');
  return bundledParticipant(path, io.cwd).catch((error: unknown) => {
    if (error instanceof LoadError)
      throw new Unusable(`${error.message}.`, 'Correct the participant file.');
    throw error;
  });
}
