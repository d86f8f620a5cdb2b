import type { State } from '../base/state.js';
import type { Store } from '../model/application.js';

export type { State };

/** True if a store is attached. */
export const isAttached = (state: State, store: string): boolean => state[store] !== undefined;

/** A field of a store, or the value that the store is; `undefined` of a store that is not attached. */
export function fieldOf(state: State, store: Store, field: string): unknown {
  return store.single ? state[store.name] : (state[store.name] as State | undefined)?.[field];
}
