import type { Outcome } from '../../model/participant.js';
import {
  actionOf,
  byHandles,
  eachDerived,
  eachTask,
  placesIn,
  restoring,
  splitTarget,
  type Changed,
  type State,
  type StyleAdapter,
} from './style-adapter.js';

type Answer = (...args: readonly unknown[]) => unknown;
type Live = Readonly<Record<string, Readonly<Record<string, unknown>> | null>>;

interface LiveStores {
  readonly stores: Live;
  readonly states: Readonly<Record<string, () => unknown>>;
  readonly state: () => State;
  readonly whenChanged: (read: () => unknown, changed: Changed) => () => void;
  readonly close?: () => void;
  readonly attach?: (store: unknown) => Outcome;
}

interface Definition {
  readonly actions: Readonly<Record<string, unknown>>;
}

type Definitions = Readonly<Record<string, Definition>>;
type Editable = Readonly<Record<string, Record<string, unknown>>>;

function readingsOf(stores: Live, owner: string, task: string): Readonly<Record<string, unknown>> {
  return stores[owner]?.[task] as never;
}

const thereIn = (stores: Live) => (owner: string) => stores[owner] !== null;

/** Live stores: everything is read from them like from plain objects. */
export const proxyAdapter: StyleAdapter = {
  adapt: ({ stores, states, state, whenChanged, close, attach }: LiveStores, names, lazyStore) => ({
    send: (owner, action, payload) => actionOf(stores, owner, action)(payload),
    read: () => state(),
    derive: eachDerived(names, thereIn(stores), (owner, name) => {
      const store = stores[owner];
      return () => store?.[name];
    }),
    ask: (owner, name, args) => (stores[owner]?.[name] as Answer)(...args),
    watch(target, changed) {
      if (target === '*') return whenChanged(state, changed);
      const [owner, name, reading] = splitTarget(target);
      if (reading !== undefined)
        return whenChanged(() => readingsOf(stores, owner, name ?? '')[reading], changed);
      const read = name === undefined ? () => states[owner]?.() : () => stores[owner]?.[name];
      return whenChanged(read, changed);
    },
    ...byHandles(stores),
    tasks: eachTask(names, thereIn(stores), (owner, task) => {
      const { running, runs, waiting } = readingsOf(stores, owner, task);
      return { running, runs, waiting } as never;
    }),
    attach: (store) => attach?.(lazyStore(store)),
    close: () => close?.(),
  }),
  runtime: 'runtime/proxies',
  makeRestorable(exports, names, made) {
    const { createLiveStores } = exports;
    if (typeof createLiveStores !== 'function') return;
    const places = placesIn(names);
    exports.createLiveStores = (stores: Definitions, ...more: readonly unknown[]) => {
      const [first = ''] = Object.keys(stores);
      let live: Live | undefined;
      const restore = (editable: Editable, { payload }: { readonly payload: State }): void => {
        for (const { store, field, read } of places) {
          const value = read(payload);
          const own = editable[store];
          if (own !== undefined && live?.[store]?.[field] !== value) own[field] = value;
        }
      };
      const actions = { ...stores[first]?.actions, [restoring]: restore };
      const changed = { ...stores, [first]: { ...stores[first], actions } };
      made((created: LiveStores) => {
        live = created.stores;
        return (state) => void actionOf(created.stores, first, restoring)(state);
      });
      return (createLiveStores as (...given: readonly unknown[]) => unknown)(changed, ...more);
    };
  },
};
