// A store around pure functions from state to state.
import { Derivations, type DerivingStore, type States } from '../../../runtime/derived.js';
import type { PayloadCheck, StoreChecks } from '../../../runtime/fitting.js';
import { WatchableRead, type Watchable } from '../../../runtime/watchable.js';
import { settledStates } from '../../../runtime/settling.js';
import { Turns, type Options, type Outcome, type Tools } from '../../../runtime/transaction.js';
import { freeze } from '../../../runtime/values.js';
import { Watchers } from '../../../runtime/watchers.js';

/** Gives the next state: of the own store, or, marked by `acrossStores`, of all stores. */
type Reduce = (state: never, around: never) => unknown;

/** A function over the state of all stores. */
interface AcrossStores {
  readonly acrossStores: Reduce;
}

type Handler = Reduce | AcrossStores;

/** Marks a function that is over the state of all stores. */
export const acrossStores = <S, A>(reduce: (state: S, around: A) => S) => ({
  acrossStores: reduce,
});

/** A store: what it is at the start, what it does, and what is derived in it. */
export interface ReducingStore extends DerivingStore {
  readonly actions: Readonly<Record<string, Handler>>;
  /** What it does after actions of other stores: `'deck.admit'`. */
  readonly reactions?: Readonly<Record<string, Handler | readonly Handler[]>>;
}

/** Derived values as functions of the state of all stores. */
export type Computed<App, Derived> = {
  readonly [Name in keyof Derived]: Derived[Name] extends (...args: infer Args) => infer Value
    ? (app: App, ...args: Args) => Value
    : (app: App) => Derived[Name];
};

/** What handlers are given besides the state. */
interface Around extends Tools {
  readonly payload: unknown;
  readonly given: unknown;
  readonly app: States;
  readonly derived: unknown;
  readonly run: (app: States, action: string, payload?: unknown) => States;
  readonly resetStores: (app: States, stores: readonly string[]) => States;
  readonly giveReactions: (given: unknown) => void;
}

/** An action as plain data: its name, and what it is given. */
export interface ActionValue {
  readonly type: string;
  readonly payload?: unknown;
}

/** A store whose state is replaced by what handlers of actions make of it. */
export interface ReducerStore<App, Action extends ActionValue, Derived> {
  /** Does an action: all of it or nothing. */
  readonly dispatch: (action: Action) => Outcome;
  /** The state of now; it never changes. */
  readonly snapshot: () => App;
  /** Calls back after every change; returns what stops it. */
  readonly subscribe: (changed: () => void) => () => void;
  /** Calls back after every change of what `read` gives; returns what stops it. */
  readonly whenChanged: <T>(
    read: (app: App) => T,
    changed: (now: T, before: T) => void,
  ) => () => void;
  /** What `read` gives, to be subscribed to or iterated over. */
  readonly follow: <T>(read: (app: App) => T) => Watchable<T>;
  /** What is derived from a state; each function remembers. */
  readonly derived: Derived;
  /** The state of now, as JSON data. */
  readonly toJSON: () => App;
}

/** A handler, and the store whose state it is over; none if it is over that of all stores. */
interface Step {
  readonly store: string | undefined;
  readonly reduce: (state: unknown, around: Around) => unknown;
}

/** What is done for an action: the handler, and then the reactions to it. */
interface Deed {
  readonly check: PayloadCheck | undefined;
  readonly steps: Step[];
}

function deedsOf(
  stores: Readonly<Record<string, ReducingStore>>,
  checks: Readonly<Record<string, StoreChecks>>,
): ReadonlyMap<string, Deed> {
  const stepOf = (store: string, handler: Handler): Step =>
    typeof handler === 'function'
      ? { store, reduce: handler as Step['reduce'] }
      : { store: undefined, reduce: handler.acrossStores as Step['reduce'] };
  const deeds = new Map<string, Deed>();
  for (const [store, { actions }] of Object.entries(stores))
    for (const [name, handler] of Object.entries(actions))
      deeds.set(`${store}.${name}`, {
        check: checks[store]?.actions?.[name],
        steps: [stepOf(store, handler)],
      });
  for (const [store, { reactions = {} }] of Object.entries(stores))
    for (const [action, own] of Object.entries(reactions))
      for (const handler of [own].flat() as readonly Handler[])
        deeds.get(action)?.steps.push(stepOf(store, handler));
  return deeds;
}

/** What an action makes of the state of all stores, with the actions that it runs and the reactions to each. */
function performing(
  deeds: ReadonlyMap<string, Deed>,
  initial: States,
  tools: Tools,
  derived: unknown,
): (app: States, action: string, payload: unknown) => States {
  const resetStores = (app: States, names: readonly string[]): States => ({
    ...app,
    ...Object.fromEntries(names.map((name) => [name, initial[name]])),
  });
  const perform = (app: States, action: string, payload: unknown): States => {
    const { steps } = deeds.get(action) as Deed;
    let next = app;
    let given: unknown;
    for (const { store, reduce } of steps) {
      const around: Around = {
        newId: tools.newId,
        now: tools.now,
        random: tools.random,
        payload,
        given,
        app: next,
        derived,
        run,
        resetStores,
        giveReactions: (bound) => (given = bound),
      };
      if (store === undefined) next = reduce(next, around) as States;
      else next = { ...next, [store]: reduce(next[store], around) };
    }
    return next;
  };
  const run = (app: States, action: string, payload?: unknown): States =>
    perform(app, action, payload ?? deeds.get(action)?.check?.default);
  return perform;
}

/** Makes a store of its own: nothing is shared with another. */
export function createReducerStore<App extends object, Action extends ActionValue, Derived>(
  stores: Readonly<Record<string, ReducingStore>>,
  checks: Readonly<Record<string, StoreChecks>>,
  options: Options,
): ReducerStore<App, Action, Derived> {
  const watchers = new Watchers((problem) => {
    turns.report(problem);
  });
  const turns = new Turns(options, () => {
    watchers.round();
  });
  const { guard, tools } = turns;
  const deeds = deedsOf(stores, checks);
  const initial = Object.fromEntries(
    Object.entries(stores).map(([name, store]) => [name, store.initial]),
  );
  let state: States = guard ? freeze(initial) : initial;
  const at = (states: States) => ({ states, version: 0, isInside: turns.isActing });
  const derivations = new Derivations(stores, guard, () => at(state));
  const derived = functionsOf(stores, (store, name, args, states) =>
    derivations.value(store, name, args, at(states)),
  );

  const perform = performing(deeds, initial, tools, derived);

  const dispatch = ({ type, payload }: ActionValue): Outcome => {
    const deed = deeds.get(type);
    if (deed === undefined) throw new TypeError(`There is no action '${type}'.`);
    let next = state;
    return turns.take(type, payload, deed.check, {
      act: (accepted) => (next = perform(state, type, accepted)),
      commit() {
        const kept = settledStates(state, next, checks, guard);
        const changed = kept !== state;
        state = kept;
        return changed;
      },
    });
  };
  const whenChanged = <T>(read: (app: App) => T, changed: (now: T, before: T) => void) =>
    watchers.add('whenChanged', () => read(state as App), changed);
  return {
    dispatch,
    snapshot: () => state as App,
    subscribe: (changed) =>
      whenChanged(
        (app) => app,
        () => {
          changed();
        },
      ),
    whenChanged,
    follow: <T>(read: (app: App) => T) =>
      new WatchableRead<T>(
        'follow',
        () => read(state as App),
        (changed) => whenChanged(read, changed),
        (problem) => {
          turns.report(problem);
        },
      ),
    derived: derived as Derived,
    toJSON: () => state as App,
  };
}

/** The derived values of all stores as functions of a state. */
function functionsOf(
  stores: Readonly<Record<string, DerivingStore>>,
  valueOf: (store: string, name: string, args: readonly unknown[], states: States) => unknown,
): unknown {
  return Object.fromEntries(
    Object.entries(stores).map(([store, { derived = {} }]) => [
      store,
      Object.fromEntries(
        Object.keys(derived).map((name) => [
          name,
          (states: States, ...args: readonly unknown[]) => valueOf(store, name, args, states),
        ]),
      ),
    ]),
  );
}
