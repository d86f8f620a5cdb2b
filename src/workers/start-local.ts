import { nextTurn } from '../base/turn.js';
import { localExecutor, loadOf } from '../comparing/index.js';
import type { ExecutorOptions, ReadyExecutor } from './ready-executor.js';
import { searchingOf, type Cast } from './searching-of.js';

/** This thread, for participants that are known to come back. Throws `LoadError`. */
export async function startLocal(
  cast: Cast,
  { clock, until, isStopped }: ExecutorOptions,
): Promise<ReadyExecutor> {
  const searching = await searchingOf({ ...cast, isCounted: true });
  const isOver = async () => {
    // An interruption, for one, gets its turn.
    await nextTurn();
    return isStopped?.() === true || clock() >= until;
  };
  const executor = localExecutor(searching, isOver, {
    load: async () => {
      await nextTurn();
      return loadOf(await searchingOf(cast));
    },
    isOver: () => isStopped?.() === true,
  });
  const { participants, reached, application } = searching;
  return {
    executor,
    compared: { application, participants, points: reached.points, ways: searching.told },
    close: () => Promise.resolve(),
  };
}
