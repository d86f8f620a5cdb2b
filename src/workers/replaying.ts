import {
  type NumberedEntry,
  type ReplayResult,
  InconsistentLog,
  MappingError,
} from '../logs/index.js';
import type { LogProblem, ReplayOrder } from './messages.js';
import { isGone, OneWorker } from './one-worker.js';
import { replayOf, type ReplayRequest } from './replay-request.js';
import { searchingOf, type Cast } from './searching-of.js';
import { LoadError } from '../participants/index.js';

/** Who does a log again. */
export interface Replaying {
  /** Does some entries; gives whether there is nothing more to be found. Throws what is wrong with the log. */
  feed(entries: readonly NumberedEntry[]): Promise<boolean>;
  end(): Promise<ReplayResult>;
  close(): Promise<void>;
}

/** Code of the user's did not come back. */
export class NoReturn extends Error {
  constructor(
    /** The line of the log that was done then. */
    readonly line: number,
    readonly kind: 'hung' | 'crashed',
    readonly why: string,
  ) {
    super(why);
  }
}

/** A replay in this thread: of code that was generated, which comes back. */
export async function replayHere(cast: Cast, request: ReplayRequest): Promise<Replaying> {
  const { application, participants } = await searchingOf(cast);
  const replay = await replayOf(application, participants, request);
  return {
    async feed(entries) {
      await replay.feed(entries);
      return replay.isOver;
    },
    end: () => replay.end(),
    close: () => Promise.resolve(),
  };
}

/**
 * A replay in a worker: code of the user's may never come back. `patience`: how long one call of it may take, in
 * milliseconds. Throws `LoadError`.
 */
export async function replayInWorker(
  cast: Cast,
  request: ReplayRequest,
  patience?: number,
): Promise<Replaying> {
  const worker = await OneWorker.begin(cast, patience);
  const path = cast.external[0]?.path ?? request.mapping?.file.path ?? '';
  const ask = async (replay: ReplayOrder) => {
    const answer = await worker.ask({ kind: 'replay', replay });
    if (isGone(answer)) {
      const { line } = worker.memory;
      if (line === 0) throw new LoadError(path, answer.why);
      throw new NoReturn(line, answer.kind === 'hung' ? 'hung' : 'crashed', answer.why);
    }
    if (answer.kind !== 'replayed') throw new Error(`a worker answers '${answer.kind}'`);
    if (answer.problem !== undefined) throw errorOf(answer.problem);
    return answer;
  };
  await ask({ kind: 'begin', request }).catch(async (error: unknown) => {
    await worker.end();
    throw error;
  });
  return {
    feed: async (entries) => (await ask({ kind: 'feed', entries })).isOver,
    async end() {
      const { result } = await ask({ kind: 'end' });
      if (result === undefined) throw new Error('a worker gives no result');
      return result;
    },
    close: () => worker.end(),
  };
}

const errorOf = ({ number, message }: LogProblem): Error =>
  number === undefined ? new MappingError(message) : new InconsistentLog(number, message);
