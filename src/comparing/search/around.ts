import { hasLazy, hasSaved, hasTasks, type Application } from '../../model/application.js';
import { isSend, type SendStep } from '../script.js';
import type { KeptScript } from '../searching.js';
import type { ExpandItem } from './expansion.js';

/** The share of the steps that is spent around the states that scripts were kept for. */
export const shareOfAround = 0.2;

/** So many states are looked around in at once, each with so many inputs at most; and none that takes longer to get to. */
const statesAtOnce = 6;
const mostInputs = 250;
const longestWay = 40;

/** States that were reached at random and had something new: every action is tried there, with a few payloads each. */
export class Around {
  readonly #isPossible: boolean;
  /** Scripts that wait, and how many of those that were kept have been looked at. */
  readonly #waiting: (readonly SendStep[])[] = [];
  #seen = 0;

  constructor(application: Application) {
    // Where tasks are at work, each input takes all participants anew: that is too slow for this.
    this.#isPossible = !hasTasks(application) && !hasLazy(application) && !hasSaved(application);
  }

  /** What can be done now, of scripts that were kept; the newest first, since they lead furthest. `left`: the most steps. */
  next(kept: readonly KeptScript[], left: number): readonly ExpandItem[] {
    if (!this.#isPossible) return [];
    for (const { steps, circumstances } of kept.slice(this.#seen)) {
      const way = steps.filter(isSend);
      const isUsual = Object.keys(circumstances ?? {}).length === 0;
      if (isUsual && way.length > 0 && way.length <= longestWay) this.#waiting.push(way);
    }
    this.#seen = kept.length;
    const states = this.#waiting.splice(-Math.min(statesAtOnce, Math.max(1, left)));
    const each = Math.min(mostInputs, Math.floor(left / Math.max(1, states.length)));
    if (each < 1) return [];
    return states.map((path): ExpandItem => ({
      kind: 'expansion',
      by: 'state',
      store: undefined,
      base: path.length,
      states: [{ path, tried: 0 }],
      steps: each,
    }));
  }
}
