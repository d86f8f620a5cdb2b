import { nextTurn } from '../base/turn.js';
import { aloneCrew, loadOf } from '../explore/crew.js';
import type { CrewOptions, ReadyCrew } from './ready-crew.js';
import { searchingOf, type Cast } from './searching-of.js';

/** This thread, for participants that are known to come back. Throws `LoadError`. */
export async function loneCrew(
  cast: Cast,
  { clock, until, isStopped }: CrewOptions,
): Promise<ReadyCrew> {
  const searching = await searchingOf(cast);
  const isOver = async () => {
    // An interruption, for one, gets its turn.
    await nextTurn();
    return isStopped?.() === true || clock() >= until;
  };
  const crew = aloneCrew(searching, isOver, {
    load: async () => {
      await nextTurn();
      return loadOf(await searchingOf(cast));
    },
    isOver: () => isStopped?.() === true,
  });
  const { participants, reached, application } = searching;
  return {
    crew,
    compared: { application, participants, points: reached.points },
    close: () => Promise.resolve(),
  };
}
