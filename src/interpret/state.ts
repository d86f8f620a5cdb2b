import type { Store } from '../model/application.js';

/** The state of all stores: a store's fields by name, or its one value; `undefined` until it is attached. */
export type State = Readonly<Record<string, unknown>>;

/** Whether a store is attached. */
export const isAttached = (state: State, store: string): boolean => state[store] !== undefined;

/** A field of a store, or the value that the store is; `undefined` of a store that is not attached. */
export function fieldOf(state: State, store: Store, field: string): unknown {
  return store.single ? state[store.name] : (state[store.name] as State | undefined)?.[field];
}
