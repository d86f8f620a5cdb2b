import type { Followed, Outcome, Target } from '../../model/participant.js';
import type { Names } from '../names.js';
import {
  actionOf,
  byHandles,
  eachDerived,
  eachTask,
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
  readonly follow: (read: () => unknown) => Followed;
  readonly close?: () => void;
  readonly attach?: (store: unknown) => Outcome;
}

function readingsOf(stores: Live, owner: string, task: string): Readonly<Record<string, unknown>> {
  return stores[owner]?.[task] as never;
}

const thereIn = (stores: Live) => (owner: string) => stores[owner] !== null;

/** What reads a target. */
function readerOf({ stores, states, state }: LiveStores, target: Target): () => unknown {
  if (target === '*') return state;
  const [owner, name, reading] = splitTarget(target);
  if (reading !== undefined) return () => readingsOf(stores, owner, name ?? '')[reading];
  return name === undefined ? () => states[owner]?.() : () => stores[owner]?.[name];
}

/** The state as JSON text: that of a store which is one value is the value. None if a member has the name of what makes it. */
function jsonOf(stores: Live, { single, fields, derived }: Names): string | undefined {
  const all = [...Object.values(fields), ...Object.values(derived)];
  if (all.some((names) => names.includes('toJSON'))) return undefined;
  const owns = Object.entries(stores).map(([name, store]) => [
    name,
    single.has(name) ? store?.['value'] : store,
  ]);
  return JSON.stringify(Object.fromEntries(owns));
}

/** Live stores: everything is read from them like from plain objects. */
export const proxyAdapter: StyleAdapter = {
  adapt: (live: LiveStores, names, lazyStore) => {
    const { stores, state, close, attach } = live;
    return {
      send: (owner, action, payload) => actionOf(stores, owner, action)(payload),
      read: () => state(),
      derive: eachDerived(names, thereIn(stores), (owner, name) => {
        const store = stores[owner];
        return () => store?.[name];
      }),
      ask: (owner, name, args) => (stores[owner]?.[name] as Answer)(...args),
      watch: (target, changed) => live.whenChanged(readerOf(live, target), changed),
      follow: (target) => live.follow(readerOf(live, target)),
      json: () => jsonOf(stores, names),
      ...byHandles(stores),
      tasks: eachTask(names, thereIn(stores), (owner, task) => {
        const { running, runs, waiting } = readingsOf(stores, owner, task);
        return { running, runs, waiting } as never;
      }),
      attach: (store) => attach?.(lazyStore(store)),
      close: () => close?.(),
    };
  },
  engine: ['runtime/proxies', 'Live'],
};
