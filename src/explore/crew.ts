import type { Searching } from './searching.js';
import { runUnit, type Unit, type UnitResult } from './unit.js';
import { shrink, type Failing } from './shrink.js';
import { replay } from './replay.js';

/** A difference in the shortest script that shows it. */
export interface Shrunk extends Failing {
  /** Whether the script that was found showed the same when it was done again. */
  readonly isRepeatable: boolean;
}

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
  shrink(failing: Failing): Promise<Shrunk>;
}

/** This thread. `isOver` says whether the search is to end. */
export function aloneCrew(searching: Searching, isOver: () => Promise<boolean>): Crew {
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
    shrink: (failing) => shrinkFailing(searching, failing),
  };
}

/** Does a failing script again, and shrinks it if it fails again. */
export async function shrinkFailing(searching: Searching, failing: Failing): Promise<Shrunk> {
  const { participants, observed } = searching;
  const fails = async (script: Failing['script']) =>
    (await replay(script, participants, observed)).difference;
  // As it was found, or looked at more closely: one of both shows it again, unless somebody is not repeatable.
  const { script } = failing;
  for (const quiet of script.quiet === true ? [false, true] : [false]) {
    const again = quiet ? { ...script, quiet } : { steps: script.steps };
    const difference = await fails(again);
    if (difference === undefined) continue;
    return { ...(await shrink({ script: again, difference }, fails)), isRepeatable: true };
  }
  return { ...failing, isRepeatable: false };
}
