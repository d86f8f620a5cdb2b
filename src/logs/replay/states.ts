import { differingPlaces } from '../../base/differing-places.js';
import { atPointer, isObject, withPointer } from '../../base/json.js';
import type { LoggedState } from '../log/log-lines.js';

/** A state of all stores, with the fields that another has. */
export function merged(own: LoggedState | undefined, other: LoggedState): LoggedState {
  const stores = Object.entries(other).map(([name, state]) => {
    const before = own?.[name];
    return [name, isObject(before) && isObject(state) ? { ...before, ...state } : state] as const;
  });
  return { ...own, ...Object.fromEntries(stores) };
}

/** A state in which what is of another JSON type than in one's own is one's own. */
export function withTypesOf(own: LoggedState, state: LoggedState): LoggedState {
  let taken: unknown = state;
  for (const place of differingPlaces(state, own, Infinity)) {
    const [theirs, mine] = [atPointer(state, place), atPointer(own, place)];
    if (mine !== undefined && typeOf(theirs) !== typeOf(mine))
      taken = withPointer(taken, place, mine);
  }
  return taken as LoggedState;
}

const typeOf = (value: unknown): string =>
  value === null ? 'null' : Array.isArray(value) ? 'list' : typeof value;
