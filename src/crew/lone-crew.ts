import { aloneCrew } from '../explore/crew.js';
import type { CrewOptions, ReadyCrew } from './ready-crew.js';
import { searchingOf, type Cast } from './searching-of.js';

/** This thread, for participants that are known to come back. Throws `LoadError`. */
export async function loneCrew(
  cast: Cast,
  { clock, until, isStopped }: CrewOptions,
): Promise<ReadyCrew> {
  const searching = await searchingOf(cast);
  const crew = aloneCrew(searching, async () => {
    // An interruption, for one, gets its turn.
    await new Promise((resume) => setImmediate(resume));
    return isStopped?.() === true || clock() >= until;
  });
  const { participants, reached, application } = searching;
  return {
    crew,
    compared: { application, participants, points: reached.points },
    close: () => Promise.resolve(),
  };
}
