import { nextTurn } from '../base/turn.js';
import { confirm, type ConfirmOptions, type Load } from './confirm.js';
import { replay } from './replay.js';
import type { Searching } from './searching.js';
import type { Shrunk } from './shrink.js';
import { runUnit, type Found, type Unit, type UnitResult } from './unit.js';

/** Who does the shares of a search: this thread, or several workers. */
export interface Crew {
  /**
   * Does some units. Gives their results in the order of the units, up to the first that found a difference or
   * that was not done since the search is over. `onDone` is told of each as it is done, in any order.
   */
  run(
    units: readonly Unit[],
    known: readonly number[],
    onDone: (result: UnitResult) => void,
  ): Promise<readonly UnitResult[]>;
  /** Waits for what comes late after all that was done; the first difference of it. */
  settle(): Promise<Found | undefined>;
  /** Does a failing script again after a fresh load of the code, and shrinks it. */
  shrink(found: Found): Promise<Shrunk>;
}

/** How this thread confirms what it found; without loading anything again if not given. */
export type AloneOptions = Partial<ConfirmOptions>;

/** At most so many scripts are tried where each needs a load of its own. */
const mostLoads = 150;

/** This thread. `isOver` says whether the search is to end. */
export function aloneCrew(
  searching: Searching,
  isOver: () => Promise<boolean>,
  options: AloneOptions = {},
): Crew {
  const load = () => Promise.resolve(loadOf(searching));
  return {
    async run(units, known, onDone) {
      const results: UnitResult[] = [];
      for (const unit of units) {
        if (results.length > 0 && (await isOver())) break;
        const result = await runUnit(searching, unit, known, isOver);
        results.push(result);
        onDone(result);
        if (result.found !== undefined) break;
      }
      return results;
    },
    settle: () => Promise.resolve(undefined),
    shrink: (found) =>
      confirm(found, { load, isOver: () => false, mayBeRandom: false, mostLoads, ...options }),
  };
}

/** Participants that are loaded already. */
export function loadOf({ participants, observed }: Searching): Load {
  return {
    async fails(script) {
      // An interruption, for one, gets its turn.
      await nextTurn();
      return (await replay(script, participants, observed)).difference;
    },
    close: () => Promise.resolve(),
  };
}
