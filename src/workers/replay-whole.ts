import { MappingError, readLog, type Replayed, type ReplayReading } from '../logs/index.js';
import type { ReplayRequest } from './replay-request.js';
import { NoReturn, replayHere, replayInWorker } from './replaying.js';
import type { Cast } from './searching-of.js';

/** How a whole log is read, and how long one call of code of the user's may take. */
interface WholeReading extends ReplayReading {
  readonly patience?: number | undefined;
}

/**
 * Does a whole log again, in a worker if code of the user's takes part. If that does not come back from a line, the log is
 * done again up to there: what was known went with the worker.
 */
export async function replayWhole(
  cast: Cast,
  request: ReplayRequest,
  open: () => AsyncIterable<string>,
  reading: WholeReading,
): Promise<Replayed> {
  try {
    return await replayOnce(cast, request, open, reading);
  } catch (error) {
    if (!(error instanceof NoReturn)) throw error;
    if (cast.external.length === 0) throw ofMapping(error);
    const { line, kind, why } = error;
    const noReturn = { line, shown: { [kind]: why } };
    return await replayOnce(cast, { ...request, noReturn }, open, reading).catch(
      (again: unknown) => {
        throw again instanceof NoReturn ? ofMapping(again) : again;
      },
    );
  }
}

/** Where the stores are not to blame, what maps the log does not come back: it is asked for every line. */
const ofMapping = ({ line }: NoReturn): MappingError =>
  new MappingError(`What maps the log does not come back after line ${line}`);

async function replayOnce(
  cast: Cast,
  request: ReplayRequest,
  open: () => AsyncIterable<string>,
  { onRead, isStopped = () => false, patience }: WholeReading,
): Promise<Replayed> {
  const replaying =
    request.mapping === undefined
      ? await replayHere(cast, request)
      : await replayInWorker(cast, request, patience);
  let torn: number | undefined;
  let isInterrupted = false;
  const told = { ...(onRead && { onRead }), onTorn: (line: number) => void (torn = line) };
  try {
    for await (const entries of readLog(open(), told)) {
      const isOver = await replaying.feed(entries);
      isInterrupted = isStopped();
      if (isOver || isInterrupted) break;
    }
    return { ...(await replaying.end()), torn, isInterrupted };
  } finally {
    await replaying.close();
  }
}
