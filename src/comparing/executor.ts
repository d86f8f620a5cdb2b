import { nextTurn } from '../base/turn.js';
import { confirm, type ConfirmOptions, type Load } from './shrinking/confirm.js';
import { firstInputs } from './inputs/inputs.js';
import { replay } from './shrinking/replay.js';
import type { Known, Searching } from './searching.js';
import type { Shrunk } from './shrinking/shrink.js';
import { runWorkItem, type Found, type WorkItem, type WorkResult } from './work-item.js';

/** Who does the shares of a search: this thread, or several workers. */
export interface Executor {
  /**
   * Does some work items. Gives their results in the order of the items, up to the first that found a difference or
   * that was not done since the search is over. `onDone` is told of each as it is done, in any order.
   */
  run(
    items: readonly WorkItem[],
    known: Known,
    onDone: (result: WorkResult) => void,
  ): Promise<readonly WorkResult[]>;
  /** Waits for what comes late after all that was done; the first difference of it. */
  settle(): Promise<Found | undefined>;
  /** Does a failing script again after a fresh load of the code, and shrinks it. */
  shrink(found: Found): Promise<Shrunk>;
}

/** How this thread confirms what it found; without loading anything again if not given. */
export type LocalOptions = Partial<ConfirmOptions>;

/** At most so many scripts are tried where each needs a load of its own. */
const mostLoads = 150;

/** This thread. `isOver` says whether the search is to end. */
export function localExecutor(
  searching: Searching,
  isOver: () => Promise<boolean>,
  options: LocalOptions = {},
): Executor {
  const load = () => Promise.resolve(loadOf(searching));
  return {
    async run(items, known, onDone) {
      const results: WorkResult[] = [];
      for (const item of items) {
        if (results.length > 0 && (await isOver())) break;
        const result = await runWorkItem(searching, item, known, isOver);
        results.push(result);
        onDone(result);
        if (result.found !== undefined) break;
      }
      return results;
    },
    settle: () => Promise.resolve(undefined),
    shrink: (found) =>
      confirm(found, {
        load,
        isOver: () => false,
        mayBeRandom: false,
        mostLoads,
        instead: firstInputs(searching.application, searching.participants),
        ...options,
      }),
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
