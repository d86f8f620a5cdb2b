import { createReadStream, existsSync, statSync } from 'node:fs';
import { resolve } from 'node:path';
import { NotUtf8, utf8Chunks } from './utf8.js';
import { notUtf8 } from './files.js';
import { Unusable, type Io } from './io.js';
import { progressOf } from './progress.js';

/** A log: as the user named it, where it is, and how many bytes it has. */
export interface LogFile {
  readonly name: string;
  readonly path: string;
  readonly size: number;
}

/** The log that the user named. Throws {@link Unusable}. */
export function logFile(io: Io, log: string): LogFile {
  const path = resolve(io.cwd, log);
  if (!existsSync(path))
    throw new Unusable(`There is no file ${log}.`, `Paths are relative to ${io.cwd}.`);
  const stats = statSync(path);
  if (!stats.isFile()) throw new Unusable(`${log} is not a file.`, 'Name a log in it.');
  return { name: log, path, size: stats.size };
}

/** How reading is heard of. */
interface Told {
  readonly onRead: (characters: number) => void;
  readonly isStopped: () => boolean;
}

/**
 * Reads a log with progress, until the user interrupts; what is wrong with it is the user's to mend. `work` may read it
 * more than once.
 */
export async function readingLog<T>(
  io: Io,
  { name, path, size }: LogFile,
  what: string,
  work: (open: () => AsyncIterable<string>, told: Told) => Promise<T>,
): Promise<T> {
  const progress = await progressOf(io, size, what);
  let read = 0;
  let isStopped = false;
  const stop = io.onInterrupt(() => (isStopped = true));
  try {
    const open = () => {
      read = 0;
      return utf8Chunks(createReadStream(path, { highWaterMark: 1 << 20 }));
    };
    return await work(open, {
      onRead: (characters) => {
        read += characters;
        progress.at(read, name);
      },
      isStopped: () => isStopped,
    });
  } catch (error) {
    throw await usable(error, name);
  } finally {
    stop();
    progress.stop();
  }
}

/** What is wrong with a log, or with a file of the user's, said with the way out. */
async function usable(error: unknown, log: string): Promise<unknown> {
  const { InconsistentLog, LoadError, LogError, MappingError } = await import('../core.js');
  if (error instanceof NotUtf8) return new Unusable(...notUtf8(log, error));
  if (error instanceof LogError)
    return new Unusable(
      `${log}:${error.line}:${error.column}: ${error.detail}.`,
      'Correct the line, or take it out.',
    );
  if (error instanceof InconsistentLog)
    return new Unusable(
      `${log}:${error.number}: ${error.message}.`,
      'The log was changed after it was written, or lines are missing.',
    );
  if (error instanceof LoadError)
    return new Unusable(`${error.message}.`, 'Correct the participant file.');
  if (error instanceof MappingError)
    return new Unusable(`${error.message}.`, "Correct 'log' in the participant file.");
  return error;
}
