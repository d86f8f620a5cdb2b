import type { Difference } from './comparing/difference.js';
import { deedOf } from './deed-of.js';
import type { Script } from './script.js';

/** A difference, and the script that shows it. */
interface Shown {
  readonly script: Script;
  readonly difference: Difference;
}

/** Classes whose place says it all: whatever an action does, the value that is wrong there is the same one. */
const isOfPlace = new Set<Difference['what']>(['derived', 'identity', 'snapshots']);

/**
 * What makes differences count as one: the participant, the class, the place without positions in lists, and for what an
 * action does the action.
 */
export function causeOf({ script, difference }: Shown): string {
  const { participant, what, at, step } = difference;
  const place = at.replace(/\/\d+(?=\/|$)/g, '/*');
  const last = script.steps[step];
  const deed = isOfPlace.has(what) || last === undefined ? '' : deedOf(last);
  return JSON.stringify([participant, what, place, deed]);
}
