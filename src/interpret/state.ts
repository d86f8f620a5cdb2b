import type { Store } from '../model/application.js';

/** The state of all stores: a store's fields by name, or its one value. */
export type State = Readonly<Record<string, unknown>>;

/** What a store is at the start. */
export function initialState(store: Store): unknown {
  if (store.single) return store.fields[0]?.default;
  return Object.fromEntries(store.fields.map((field) => [field.name, field.default]));
}

/** A field of a store, or the value that the store is. */
export function fieldOf(state: State, store: Store, field: string): unknown {
  return store.single ? state[store.name] : (state[store.name] as State)[field];
}
