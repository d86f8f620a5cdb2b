import type { Exports } from './load-modules.js';
import type { Names } from './names.js';

/** A state of all stores. */
type State = Readonly<Record<string, unknown>>;

/** Puts running stores into a state. */
type Restore = (state: State) => void;

/** Fields by store and name, as a style keeps them. */
type Kept<Unit> = Readonly<Record<string, Readonly<Record<string, Unit>>>>;

interface Graph {
  act(
    name: string,
    work: (transaction: { set(atom: unknown, value: unknown): void }) => void,
  ): unknown;
}

interface Hub {
  act(
    name: string,
    work: (change: { next(source: unknown, value: unknown): void }) => void,
  ): unknown;
}

interface Live {
  act(name: string, work: (drafts: Record<string, Record<string, unknown>>) => void): unknown;
}

interface Sent {
  readonly type: string;
  readonly payload?: unknown;
}

interface Store {
  dispatch(action: Sent): unknown;
}

type Make<T> = new (...args: readonly unknown[]) => T;
type Reduce = (state: unknown, action: Sent, draw: unknown) => unknown;
type MakeStore = (
  initial: unknown,
  types: ReadonlySet<string>,
  reduce: Reduce,
  options: unknown,
) => Store;

/** No action of a schema can be called like that. */
const action = '(restore)';

/**
 * Puts generated stores into states, by a transaction of their own run time that sets every field that differs. What is
 * generated has no such action: the run time is noted when it is made, and asked directly. Where that cannot be done
 * (all is in one file), there is no way to restore.
 */
export class Restoring {
  readonly #style: string;
  readonly #names: Names;
  /** What keeps the fields of the stores that were made last. */
  #made: unknown;

  constructor(style: string, names: Names) {
    this.#style = style;
    this.#names = names;
  }

  /** Notes the run time of stores that are made from now on. */
  readonly onLoaded = (path: string, exports: Exports): void => {
    if (path !== 'runtime.ts' && path !== 'runtime.js') return;
    for (const name of ['Graph', 'Hub', 'Live'])
      if (typeof exports[name] === 'function')
        exports[name] = noting(exports[name] as Make<object>, (made) => (this.#made = made));
    const { createReducerStore } = exports;
    if (typeof createReducerStore === 'function')
      exports.createReducerStore = (...given: Parameters<MakeStore>) =>
        (this.#made = restorable(createReducerStore as MakeStore, given));
  };

  /** How stores that have just been made are put into a state; `undefined` if there is no way. */
  of(created: unknown): Restore | undefined {
    const made = this.#made;
    this.#made = undefined;
    if (made === undefined) return undefined;
    // Most stores are never restored: it is prepared when it is asked for.
    let restore: Restore | undefined;
    return (state) => {
      restore ??= this.#prepare(made, created);
      restore(state);
    };
  }

  #prepare(made: unknown, created: unknown): Restore {
    const { stores } = created as { readonly stores: Kept<unknown> };
    switch (this.#style) {
      case 'reducer':
        return restoreReducer(made as Store);
      case 'atom':
        return this.#restoreAtoms(made as Graph, stores as Kept<{ get(): unknown }>);
      case 'observable':
        return this.#restoreStreams(made as Hub, stores as Kept<{ readonly value: unknown }>);
      default:
        return this.#restoreLive(made as Live, stores);
    }
  }

  #restoreAtoms(graph: Graph, stores: Kept<{ get(): unknown }>): Restore {
    const atoms = this.#fieldsIn(stores);
    return (state) => {
      graph.act(action, (transaction) => {
        for (const { kept, read } of atoms) {
          const value = read(state);
          if (kept.get() !== value) transaction.set(kept, value);
        }
      });
    };
  }

  #restoreStreams(hub: Hub, stores: Kept<{ readonly value: unknown }>): Restore {
    const sources = this.#fieldsIn(stores);
    return (state) => {
      hub.act(action, (change) => {
        for (const { kept, read } of sources) {
          const value = read(state);
          if (kept.value !== value) change.next(kept, value);
        }
      });
    };
  }

  #restoreLive(live: Live, stores: Kept<unknown>): Restore {
    const places = this.#places();
    return (state) => {
      live.act(action, (drafts) => {
        for (const { store, field, read } of places) {
          const value = read(state);
          const draft = drafts[store];
          if (draft !== undefined && stores[store]?.[field] !== value) draft[field] = value;
        }
      });
    };
  }

  #fieldsIn<Unit>(stores: Kept<Unit>) {
    return this.#places().flatMap(({ store, field, read }) => {
      const kept = stores[store]?.[field];
      return kept === undefined ? [] : [{ kept, read }];
    });
  }

  /** Where each field stands, in the stores and in a state. */
  #places() {
    const { fields, single } = this.#names;
    return Object.entries(fields).flatMap(([store, names]) =>
      single.has(store)
        ? [{ store, field: 'value', read: (state: State) => state[store] }]
        : names.map((field) => ({
            store,
            field,
            read: (state: State) => (state[store] as State)[field],
          })),
    );
  }
}

/** A class that tells of each object made of it. */
function noting(made: Make<object>, note: (made: object) => void): Make<object> {
  return class extends made {
    constructor(...args: readonly unknown[]) {
      super(...args);
      note(this);
    }
  };
}

/** A store that knows one action more. */
function restorable(
  make: MakeStore,
  [initial, types, reduce, options]: Parameters<MakeStore>,
): Store {
  const reduceOrRestore: Reduce = (state, sent, draw) =>
    sent.type === action ? sent.payload : reduce(state, sent, draw);
  return make(initial, new Set([...types, action]), reduceOrRestore, options);
}

function restoreReducer(store: Store): Restore {
  return (state) => {
    store.dispatch({ type: action, payload: state });
  };
}
