// Stores around pure functions from state to state.
import { DefinedStores, type ReactingStore } from '../../../runtime/defined-stores.js';
import type { At, States } from '../../../runtime/derived.js';
import { settledStates } from '../../../runtime/settling.js';
import {
  notAttached,
  refuse,
  type EngineOptions,
  type Outcome,
  type Transaction,
} from '../../../runtime/transaction.js';
import type { PayloadCheck, StoreChecks } from '../../../runtime/value-types.js';
import { keeper } from '../../../runtime/values.js';
import { WatchableRead, type Watchable } from '../../../runtime/watchable.js';
import { watchAll } from '../../../runtime/watchers.js';

/** Gives the next state: of the own store, or, marked by `acrossStores`, of all stores. */
type Reduce = (state: never, around: never) => unknown;

/** A function over the state of all stores. */
interface AcrossStores {
  readonly acrossStores: Reduce;
}

export type Handler = Reduce | AcrossStores;

/** Marks a function that is over the state of all stores. */
export const acrossStores = <S, A>(reduce: (state: S, around: A) => S) => ({
  acrossStores: reduce,
});

/** A store: what it is at the start, what it does, and what is derived in it. */
export type ReducingStore = ReactingStore<Handler>;

/** Derived values as functions of the state of all stores. */
export type Computed<App, Derived> = {
  readonly [Name in keyof Derived]: Derived[Name] extends (...args: infer Args) => infer Value
    ? (app: App, ...args: Args) => Value
    : (app: App) => Derived[Name];
};

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
  /** Abandons all tasks and ends what is watched: from then on everything is refused. */
  readonly close: () => void;
}

/** What is known of an action that was dispatched before. */
interface Sent {
  readonly store: string;
  readonly check: PayloadCheck | undefined;
  readonly work: Transaction<unknown>;
}

/** Functions of the state of all stores, by what they give. */
type Functions = Record<string, (states: States, ...args: readonly unknown[]) => unknown>;

/** The stores of an application, as handlers make them. */
export class Reducers extends DefinedStores<Handler, ReducingStore> {
  /** The states as the transaction under way has made them. */
  next: States = {};
  /** The derived values of all stores as functions of a state; null for a store that is not attached. */
  readonly derived: Record<string, Functions | null> = {};
  /** Asked for what is dispatched and is no action. */
  readonly others: ((action: ActionValue) => Outcome | undefined)[] = [];
  readonly #lazy = new Set<string>();
  readonly #sent = new Map<string, Sent>();
  #bound: object | undefined;
  #at: At | undefined;

  constructor(checks: Readonly<Record<string, StoreChecks>>, options: EngineOptions) {
    super(checks, options);
    Object.assign(this.around, {
      derived: this.derived,
      run: (app: States, action: string, given?: unknown) =>
        this.#perform(app, action, given ?? this.checkOf(action)?.default),
      resetStores: (app: States, stores: readonly string[]) => this.#resetStores(app, stores),
    });
  }

  override add(name: string, definition: ReducingStore): unknown {
    const own: Functions = {};
    this.derived[name] = own;
    this.#sent.clear();
    const state = super.add(name, definition);
    for (const [value, ask] of this.derivations.values(name))
      own[value] = (states, ...args) => ask(this.#atStates(states), args);
    return state;
  }

  override expect(name: string, isLazy: boolean): void {
    super.expect(name, isLazy);
    this.derived[name] = null;
    if (isLazy) this.#lazy.add(name);
  }

  protected override at(): At {
    return this.#atStates(this.states);
  }

  #atStates(states: States): At {
    const { beside } = this;
    const isInside = this.turns.isActing;
    const last = this.#at;
    if (last?.states === states && last.beside === beside && last.isInside === isInside)
      return last;
    return (this.#at = { states, beside, version: 0, isInside });
  }

  override put(store: string, field: string | undefined, value: unknown): void {
    const own = field === undefined ? value : { ...(this.next[store] as States), [field]: value };
    this.next = { ...this.next, [store]: own };
  }

  override transaction<P>(act: (payload: P) => void): Transaction<P> {
    return {
      act: (payload) => {
        this.next = this.states;
        act(payload);
      },
      commit: () => {
        const before = this.states;
        this.states = settledStates(before, this.next, this.checks, this.turns.guard);
        return this.states !== before;
      },
    };
  }

  dispatch(action: ActionValue): Outcome {
    for (const other of this.others) {
      const outcome = other(action);
      if (outcome !== undefined) return outcome;
    }
    const { type, payload } = action;
    const { store, check, work } = this.#sent.get(type) ?? this.#sendable(type);
    if (this.#isMissing(this.states, store)) return { status: 'refused', reason: notAttached };
    return this.turns.take(type, payload, check, work);
  }

  /** An action that can be dispatched. */
  #sendable(type: string): Sent {
    const [store = '', name = ''] = type.split('.');
    const { actions = {} } = this.definitions[store] ?? {};
    const isMissing = this.#isMissing(this.states, store);
    if (!isMissing && (!Object.hasOwn(actions, name) || type !== `${store}.${name}`))
      throw new TypeError(`There is no action '${type}'.`);
    const work = this.transaction((accepted) => {
      this.perform(type, accepted);
    });
    const sent = { store, check: this.checkOf(type), work };
    if (!isMissing) this.#sent.set(type, sent);
    return sent;
  }

  override perform(name: string, payload: unknown, given?: object): unknown {
    this.next = this.#perform(this.next, name, payload, given);
    return this.#bound;
  }

  /** What an action makes of the state of all stores, with the actions that it runs and the reactions to each. */
  #perform(app: States, name: string, payload: unknown, before?: object): States {
    const { store, own, reactions } = this.deedOf(name);
    if (this.#isMissing(app, store)) refuse(notAttached);
    const { log } = this.turns;
    log?.include(name);
    let bound: object | undefined;
    const bind = (made: object): void => {
      bound = made;
    };
    let next = own === undefined ? app : this.#reduce(app, store, own, payload, before, bind);
    const given = before === undefined ? bound : { ...before, ...bound };
    for (const { store: other, work } of reactions) {
      if (this.#isMissing(next, other)) continue;
      log?.include(`${other} after ${name}`);
      next = this.#reduce(next, other, work, payload, given, bind);
    }
    this.#bound = bound;
    return next;
  }

  #reduce(
    app: States,
    store: string,
    handler: Handler,
    payload: unknown,
    given: object | undefined,
    bind: (made: object) => void,
  ): States {
    const own = Object.create(this.around) as Record<string, unknown>;
    own['payload'] = payload;
    own['given'] = given;
    own['app'] = app;
    own['bind'] = bind;
    const around = own as never;
    if (typeof handler !== 'function') return handler.acrossStores(app as never, around) as States;
    return { ...app, [store]: handler(app[store] as never, around) };
  }

  #resetStores(app: States, stores: readonly string[]): States {
    const states: Record<string, unknown> = { ...app };
    for (const store of stores)
      if (!this.#isMissing(app, store)) states[store] = this.definitions[store]?.initial;
    return states;
  }

  #isMissing(app: States, store: string): boolean {
    return this.#lazy.has(store) && app[store] === null;
  }
}

/** The stores of an application, as it uses them. */
export function reducerStore<App, Action extends ActionValue, Derived>(
  engine: Reducers,
): ReducerStore<App, Action, Derived> {
  const { watchers, turns } = engine;
  const snapshot = (): App => engine.states as App;
  const whenChanged = <T>(
    read: (app: App) => T,
    changed: (now: T, before: T) => void,
    ended?: () => void,
  ) => {
    const keep = keeper<T>();
    return watchers.add('whenChanged', () => keep(read(snapshot())), changed, ended);
  };
  return {
    dispatch: (action) => engine.dispatch(action),
    snapshot,
    subscribe: (changed) => watchAll(watchers, changed),
    whenChanged: (read, changed) => whenChanged(read, changed),
    follow: <T>(read: (app: App) => T) =>
      new WatchableRead<T>(
        'follow',
        () => read(snapshot()),
        (changed, ended) => whenChanged(read, changed, ended),
        (problem) => {
          turns.report(problem);
        },
      ),
    derived: engine.derived as Derived,
    toJSON: snapshot,
    close: engine.close,
  };
}
