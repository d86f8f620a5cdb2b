import type { ObservedClass } from '../model/observed-class.js';

/** What is told of a difference, as far as its cause goes by it. */
interface Told {
  readonly participant: string;
  readonly what: ObservedClass;
  readonly at: string;
  /** The action or the task after which it shows; '' if it is none. */
  readonly action: string;
}

/** Classes for which the place is enough: a wrong derived value is the same mistake after every action. */
const byPlaceAlone: ReadonlySet<ObservedClass> = new Set(['derived', 'identity', 'snapshots']);

/**
 * Equal for differences that count as one: of the same participant and class, at the same place (all positions in a list
 * are one place) and, unless the place is enough, after the same action.
 */
export function causeKey({ participant, what, at, action }: Told): string {
  const place = at.replace(/\/\d+(?=\/|$)/g, '/*');
  return JSON.stringify([participant, what, place, byPlaceAlone.has(what) ? '' : action]);
}
