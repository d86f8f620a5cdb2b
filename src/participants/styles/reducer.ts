import type { Followed, Outcome, Target, TaskReadings } from '../../model/participant.js';
import type { Names } from '../names.js';
import {
  eachDerived,
  fullName,
  splitTarget,
  type Changed,
  type State,
  type StyleAdapter,
} from './style-adapter.js';

type Readings = Readonly<Record<string, unknown>>;

interface ReducerStores {
  dispatch(action: { type: string; payload: unknown }): Outcome;
  snapshot(): State;
  whenChanged(read: (state: State) => unknown, changed: Changed): () => void;
  follow(read: (state: State) => unknown): Followed;
  readonly tasks?: () => Readonly<Record<string, TaskReadings>>;
  readonly close?: () => void;
  readonly attach?: (store: unknown) => Outcome;
  readonly derived: Readonly<
    Record<string, Readonly<Record<string, (...args: unknown[]) => unknown>> | null>
  >;
}

/** What reads a target. */
function readerOf(store: ReducerStores, target: Target, names: Names): (state: State) => unknown {
  if (target === '*') return (state) => state;
  const [owner, name, reading] = splitTarget(target);
  if (reading !== undefined)
    return () => (store.tasks?.()[owner]?.[name ?? ''] as Readings | undefined)?.[reading];
  const derived = name === undefined ? undefined : store.derived[owner]?.[name];
  return derived ?? ((state) => partOf(state, owner, name, names));
}

/** Reducer stores: actions are values, and everything is read from a snapshot. */
export const reducerAdapter: StyleAdapter = {
  adapt: (store: ReducerStores, names, lazyStore) => ({
    send: (owner, action, payload) => store.dispatch({ type: fullName(owner, action), payload }),
    read: () => store.snapshot(),
    derive: eachDerived(
      names,
      (owner) => store.derived[owner] !== null,
      (owner, name) => {
        const compute = store.derived[owner]?.[name];
        return () => compute?.(store.snapshot());
      },
    ),
    start: (owner, task, payload) => store.dispatch({ type: fullName(owner, task), payload }),
    cancel: (owner, task, per) =>
      store.dispatch({ type: `${fullName(owner, task)}.cancel`, payload: per }),
    tasks: () => store.tasks?.() ?? {},
    attach: (name) => store.attach?.(lazyStore(name)),
    close: () => store.close?.(),
    ask: (owner, name, args) => store.derived[owner]?.[name]?.(store.snapshot(), ...args),
    watch: (target, changed) => store.whenChanged(readerOf(store, target, names), changed),
    follow: (target) => store.follow(readerOf(store, target, names)),
    json: () => JSON.stringify(store),
  }),
  engine: ['runtime/reducer', 'Reducers'],
};

function partOf(state: State, owner: string, name: string | undefined, names: Names): unknown {
  if (name === undefined || names.single.has(owner)) return state[owner];
  return (state[owner] as State)[name];
}
