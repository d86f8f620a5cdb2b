// Stores that are definitions, and attached later.
import { attachTo } from './attaching.js';
import type { DefinedStores, ReactingStore } from './defined-stores.js';
import type { Outcome } from './transaction.js';
import type { StoreChecks } from './value-types.js';

/** What a store is attached with besides its definition. */
export interface Attached {
  readonly name: string;
  readonly checks?: StoreChecks;
}

/** Expects those of the stores that are attached later; gives what attaches one: nothing is done if it is attached already. */
export function attaching<Work, Store extends ReactingStore<Work>>(
  engine: DefinedStores<Work, Store>,
  order: readonly string[],
  lazy: readonly string[],
) {
  for (const name of order) engine.expect(name, lazy.includes(name));
  return (store: Store & Attached): Outcome => {
    const { name } = store;
    const isThere = (): boolean => engine.states[name] !== null;
    return attachTo(engine, name, order, isThere, () => attach(engine, order, store));
  };
}

/** Makes a store that was expected; the stores stay in their order. */
export function attach<Work, Store extends ReactingStore<Work>>(
  engine: DefinedStores<Work, Store>,
  order: readonly string[],
  store: Store & Attached,
): unknown {
  engine.checks[store.name] = store.checks ?? {};
  const begun = engine.add(store.name, store);
  const sorted = Object.entries(engine.definitions).sort(
    ([a], [b]) => order.indexOf(a) - order.indexOf(b),
  );
  engine.definitions = Object.fromEntries(sorted);
  return begun;
}
