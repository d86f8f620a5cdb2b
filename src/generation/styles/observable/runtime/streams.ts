// Streams of values, and of actions, that follow the ECMAScript Observable contract.
import { Remembered, textOf } from '../../../runtime/arguments.js';
import type { StoreChecks } from '../../../runtime/value-types.js';
import { Watchable, WatchableRead } from '../../../runtime/watchable.js';
import { settledStates } from '../../../runtime/settling.js';
import { begun, type Ask, type Begin, type Engine } from '../../../runtime/engine.js';
import {
  notAttached,
  refuse,
  Turns,
  type EngineOptions,
  type Outcome,
  type Problem,
  type Tools,
  type Transaction,
} from '../../../runtime/transaction.js';
import { freeze, same } from '../../../runtime/values.js';
import { Watchers } from '../../../runtime/watchers.js';

type States = Readonly<Record<string, unknown>>;

/** A stream of values over time: it tells each new value once, after the transaction that made it. */
export abstract class Stream<T> extends Watchable<T> {
  name = '';
  protected readonly streams: Streams;

  constructor(streams: Streams) {
    super();
    this.streams = streams;
  }

  /** The committed value. */
  protected abstract read(): T;
  /** The value as the action under way has made it. */
  protected abstract within(): T;
  protected abstract giveOut(value: T): T;

  /** The latest value. */
  get latest(): T {
    const value = this.peek();
    return this.streams.isActing ? value : this.giveOut(value);
  }

  /** The latest value, read by streams that are made from this. */
  peek(): T {
    return this.streams.isActing ? this.within() : this.read();
  }

  /** A stream of what a function makes of each value. */
  map<U>(compute: (value: T) => U): Stream<U> {
    return this.streams.combine(() => [this] as const, compute);
  }

  override watch(changed: (now: T, before: T) => void, ended?: () => void): () => void {
    return this.streams.watchers.add(this.name, () => this.latest, changed, ended);
  }

  override toJSON(): T {
    return this.latest;
  }

  protected override report(problem: Problem): void {
    this.streams.report(problem);
  }
}

/** The states of a store, or of all stores. */
class StateStream<T> extends Stream<T> {
  readonly #of: (states: States) => unknown;

  constructor(streams: Streams, name: string, of: (states: States) => unknown) {
    super(streams);
    this.name = name;
    this.#of = of;
  }

  protected override read(): T {
    return this.#of(this.streams.committed) as T;
  }

  protected override within(): T {
    return this.#of(this.streams.pending) as T;
  }

  protected override giveOut(value: T): T {
    return value;
  }
}

/** The streams that another is made from, by the types of their values. */
type Sources<V extends readonly unknown[]> = readonly [...{ [K in keyof V]: Stream<V[K]> }];

/** A stream of what is computed from the latest values of others: never of two moments at once. */
class Combined<V extends readonly unknown[], T> extends Stream<T> {
  readonly #findSources: () => Sources<V>;
  readonly #compute: (...values: V) => T;
  #sources: readonly Stream<unknown>[] | undefined;
  #last: { readonly values: readonly unknown[]; readonly result: T } | undefined;
  #given: { readonly of: T; readonly out: T } | undefined;
  #within: { readonly writes: number; readonly result: T } | undefined;
  /** The committed states for which the last result is known to hold. */
  #states: States | undefined;
  #beside: object | undefined;

  constructor(streams: Streams, sources: () => Sources<V>, compute: (...values: V) => T) {
    super(streams);
    this.#findSources = sources;
    this.#compute = compute;
  }

  protected override read(): T {
    const last = this.#last;
    const { committed } = this.streams;
    const { beside } = this.streams;
    if (last !== undefined && this.#states === committed && this.#beside === beside)
      return last.result;
    if (last === undefined || !this.#isUnchanged(last.values)) {
      const values = this.#values();
      const result = this.#compute(...(values as unknown as V));
      const isEqual = last !== undefined && same(last.result, result);
      this.#last = { values, result: isEqual ? last.result : this.streams.guarded(result) };
    }
    this.#states = committed;
    this.#beside = beside;
    return (this.#last as { readonly result: T }).result;
  }

  protected override within(): T {
    const { committed, pending, writes } = this.streams;
    if (pending === committed) return this.read();
    if (this.#within?.writes === writes) return this.#within.result;
    const last = this.#last;
    const result =
      last !== undefined && this.#isUnchanged(last.values)
        ? last.result
        : this.#compute(...(this.#values() as unknown as V));
    this.#within = { writes, result };
    return result;
  }

  protected override giveOut(value: T): T {
    if (this.#given === undefined || this.#given.of !== value) {
      const last = this.#given;
      const out = last !== undefined && same(last.out, value) ? last.out : value;
      this.#given = { of: value, out };
    }
    return this.#given.out;
  }

  /** Found when first asked for: streams of other stores may be made later than this. */
  #streams(): readonly Stream<unknown>[] {
    return (this.#sources ??= this.#findSources());
  }

  #values(): readonly unknown[] {
    return this.#streams().map((source) => source.peek());
  }

  #isUnchanged(values: readonly unknown[]): boolean {
    return this.#streams().every((source, i) => Object.is(source.peek(), values[i]));
  }
}

/** A stream for each combination of arguments. */
export type StreamFor<Args extends readonly unknown[], T> = ((...args: Args) => Stream<T>) & {
  /** The functions that give the values. */
  readonly answers: Stream<(...args: Args) => T>;
};

/** What is given out of the fields and derived values of a store. */
export type Streamed<Values> = {
  readonly [Name in keyof Values]: Values[Name] extends (...args: infer Args) => infer Value
    ? StreamFor<Args, Value>
    : Stream<Values[Name]>;
};

/** What an action, or a reaction to one, makes of a state. */
export interface Change<S> {
  readonly actions: readonly string[];
  readonly to: (payload: unknown, given: unknown) => (state: S) => S;
}

/** An action that was done, to be mapped to changes and followed: it tells the payload each time, after the commit. */
export interface Done<P, Given = undefined> {
  map<S>(change: (payload: P, given: Given) => (state: S) => S): Change<S>;
  subscribe: Watchable<P>['subscribe'];
  [Symbol.asyncIterator]: Watchable<P>[typeof Symbol.asyncIterator];
}

/** An action: it is called, and can be followed. */
export type ActionStream<P, Given extends readonly unknown[]> = ((...given: Given) => Outcome) &
  Done<P>;

/** What is done for an action: of its own store first, then of those that react to it. */
interface Deed {
  readonly own: Work[];
  readonly reactions: Reaction[];
}

type Work = (payload: unknown, given: unknown) => void;

/** What a store does after something that was done. */
interface Reaction {
  readonly store: string;
  readonly work: Work;
}

/** The streams of an application: actions come in one by one, and values go out in order. */
export class Streams implements Engine {
  readonly turns: Turns;
  readonly tools: Tools;
  readonly watchers: Watchers;
  readonly checks: Record<string, StoreChecks>;
  readonly begins: Begin[] = [];
  /** The states of all stores: as they were committed, and as the action under way has made them. */
  committed: States = {};
  pending: States = {};
  /** How often actions have changed a state. */
  writes = 0;
  /** What can be read beside the states: another object each time that it is not what it was. */
  beside: object = {};
  readonly initial: Record<string, unknown> = {};
  readonly deeds = new Map<string, Deed>();
  /** Gives the latest value of something that is no stream, such as a task, by its full name. */
  readonly readings = new Map<string, () => unknown>();
  readonly latestOf: Record<string, object | null> = {};
  /** What was done in the transaction, in order, and how many follow each action. */
  #done: (readonly [action: string, payload: unknown])[] = [];
  readonly #subscribers = new Map<string, number>();
  #given: unknown;

  constructor(checks: Readonly<Record<string, StoreChecks>>, options: EngineOptions) {
    this.checks = { ...checks };
    this.turns = new Turns(options, () => {
      this.watchers.round();
      this.#done = [];
    });
    this.tools = this.turns.tools;
    this.watchers = new Watchers((problem) => {
      this.report(problem);
    });
  }

  read(store: string, field: string | undefined): unknown {
    const own = this.committed[store];
    return field === undefined ? own : (own as States)[field];
  }

  put(store: string, field: string | undefined, value: unknown): void {
    const own = this.pending[store] as States;
    this.write({
      ...this.pending,
      [store]: field === undefined ? value : { ...own, [field]: value },
    });
  }

  ask(of: Ask, payload: unknown, given: object): unknown {
    return of(payload as never, given as never);
  }

  renew(): void {
    this.beside = {};
  }

  readonly close = (): void => {
    this.turns.close(() => {
      this.watchers.close();
    });
  };

  get isActing(): boolean {
    return this.turns.isActing;
  }

  report(problem: Problem): void {
    this.turns.report(problem);
  }

  guarded<T>(value: T): T {
    return this.turns.guard ? freeze(value) : value;
  }

  /** An action: a function that does it, and a stream of what it was given each time it was done. */
  action<P = void, Given extends readonly unknown[] = P extends void ? [] : [payload: P]>(
    name: string,
  ): ActionStream<P, Given> {
    const [store = '', action = ''] = name.split('.');
    const check = this.checks[store]?.actions?.[action];
    const transaction = this.transaction((accepted) => {
      this.perform(name, accepted);
    });
    const send = (...[payload]: Given): Outcome =>
      this.turns.take(name, payload, check, transaction);
    return Object.assign(send, this.done<P>(name));
  }

  transaction<P>(act: (payload: P) => void): Transaction<P> {
    return {
      act: (accepted) => {
        this.pending = this.committed;
        act(accepted);
      },
      commit: () => this.#commit(),
      drop: () => {
        this.pending = this.committed;
        this.#done = [];
      },
    };
  }

  /** What follows an action, or one of several, in its own store or in others. */
  done<P, Given = undefined>(...names: readonly string[]): Done<P, Given> {
    const [name = ''] = names;
    // Most are never followed.
    let made: WatchableRead<P> | undefined;
    const watchable = (): WatchableRead<P> =>
      (made ??= new WatchableRead<P>(
        name,
        () => undefined as P,
        (notify, ended) => this.#follow(names, notify as (payload: unknown) => void, ended),
        (problem) => {
          this.report(problem);
        },
      ));
    return {
      map: <S>(change: (payload: P, given: Given) => (state: S) => S) => ({
        // What a store does after a moment of its own task is a reaction too.
        actions: names.map((one) => (one.split('.').length > 2 ? `.${one}` : one)),
        to: change as Change<S>['to'],
      }),
      subscribe: (observer: Parameters<Watchable<P>['subscribe']>[0]) =>
        watchable().subscribe(observer),
      [Symbol.asyncIterator]: () => watchable()[Symbol.asyncIterator](),
      [observable]: watchable,
    };
  }

  #follow(
    names: readonly string[],
    notify: (payload: unknown) => void,
    ended?: () => void,
  ): () => void {
    const count = (by: number): void => {
      for (const name of names)
        this.#subscribers.set(name, (this.#subscribers.get(name) ?? 0) + by);
    };
    const tell = (name: string, work: () => void): void => {
      try {
        work();
      } catch (error) {
        this.report({ kind: 'watcher', at: name, error });
      }
    };
    count(1);
    const stop = this.watchers.listen(
      () => {
        for (const [action, payload] of this.#done)
          if (names.includes(action))
            tell(action, () => {
              notify(payload);
            });
        return true;
      },
      () => {
        tell(names[0] ?? '', () => ended?.());
      },
    );
    return () => {
      count(-1);
      stop();
    };
  }

  /** The state of a store: what changes that actions were mapped to make of it, from what it is at the start. */
  accumulate<S>(
    name: string,
    initial: S,
    changes: readonly Change<S>[],
    isValue = false,
  ): Stream<S> {
    this.initial[name] = this.guarded(initial);
    const state = begun(this.begins, name, initial, isValue);
    this.committed = this.guarded({ ...this.committed, [name]: state });
    this.pending = this.committed;
    for (const { actions, to } of changes)
      this.#register(name, actions, (payload, given) => {
        const before = this.pending[name];
        const after = to(payload, given)(before as S);
        if (after !== before) this.write({ ...this.pending, [name]: after });
      });
    return new StateStream(this, name, (states) => states[name]);
  }

  /** Changes of the state of all stores, by actions of a store and by what it does after others. */
  accumulateAll<App extends object>(store: string, changes: readonly Change<App>[]): void {
    for (const { actions, to } of changes)
      this.#register(store, actions, (payload, given) => {
        this.write(to(payload, given)(this.pending as App) as States);
      });
  }

  #register(store: string, actions: readonly string[], work: Work): void {
    for (const action of actions) this.#registerOne(store, action, work);
  }

  #registerOne(store: string, action: string, work: Work): void {
    const of = action.replace(/^\./, '');
    const deed = this.deeds.get(of) ?? { own: [], reactions: [] };
    this.deeds.set(of, deed);
    if (action.startsWith(`${store}.`)) deed.own.push(work);
    else deed.reactions.push({ store, work });
  }

  write(states: States): void {
    this.pending = states;
    this.writes += 1;
  }

  perform(name: string, payload: unknown, before?: object): unknown {
    const { log } = this.turns;
    const outer = this.#given;
    this.#given = undefined;
    const { own = [], reactions = [] } = this.deeds.get(name) ?? {};
    log?.include(name);
    for (const work of own) work(payload, before);
    const bound = this.#given as object | undefined;
    const given = before === undefined ? bound : { ...before, ...bound };
    for (const { store, work } of reactions) {
      log?.include(`${store} after ${name}`);
      work(payload, given);
    }
    this.#given = outer;
    if ((this.#subscribers.get(name) ?? 0) > 0) this.#done.push([name, payload]);
    return bound;
  }

  #commit(): boolean {
    const before = this.committed;
    const { guard } = this.turns;
    this.committed = settledStates(before, this.pending, this.checks, guard);
    this.pending = this.committed;
    return this.committed !== before || this.#done.length > 0;
  }

  /** Binds values for what is done later: by reactions, and at later moments of a task. */
  readonly bind = (given: object): void => {
    this.#given = given;
  };

  /** Does another action as part of the one under way, on a state of all stores. */
  readonly run = <App extends object>(app: App, name: string, payload?: unknown): App => {
    const [store = '', action = ''] = name.split('.');
    if (!Object.hasOwn(this.initial, store)) refuse(notAttached);
    this.write(app as States);
    this.perform(name, payload ?? this.checks[store]?.actions?.[action]?.default);
    return this.pending as App;
  };

  /** Puts stores back to what they were at the start. */
  readonly resetStores = <App extends object>(app: App, stores: readonly string[]): App => {
    const there = stores.filter((name) => Object.hasOwn(this.initial, name));
    return { ...app, ...Object.fromEntries(there.map((name) => [name, this.initial[name]])) };
  };

  /** The latest values of all stores, after some states were changed. */
  after<Latest>(states: object): Latest {
    this.write({ ...this.pending, ...states });
    return this.latestOf as Latest;
  }

  /** The latest values of all stores: within an action, as it has made them. */
  latest<Latest>(): Latest {
    return this.latestOf as Latest;
  }

  /** A stream of what is computed from the latest values of others. */
  combine<V extends readonly unknown[], T>(
    sources: () => Sources<V>,
    compute: (...values: V) => T,
  ): Stream<T> {
    return new Combined(this, sources, compute);
  }

  /** A stream for each combination of arguments; `compute` gives the function that gives the values. */
  combineFor<V extends readonly unknown[], Args extends readonly unknown[], T>(
    sources: () => Sources<V>,
    compute: (...values: V) => (...args: Args) => T,
  ): StreamFor<Args, T> {
    const answers = this.combine(sources, (...values) => remembering(compute(...values)));
    const known = new Remembered<Stream<T>>();
    const streamFor = (...args: Args): Stream<T> => {
      const text = textOf(args);
      let stream = known.get(text);
      if (stream === undefined)
        known.set(text, (stream = answers.map((answer) => answer(...args))));
      return stream;
    };
    return Object.assign(streamFor, { answers });
  }

  /** The streams and actions of a store: gives each stream its name, and its values to `latest`. */
  store<Members extends object>(store: string, members: Members): Members {
    const latest = {};
    for (const [name, member] of Object.entries(members) as [string, unknown][]) {
      const answers = (member as Partial<StreamFor<readonly unknown[], unknown>>).answers;
      const stream = member instanceof Stream ? (member as Stream<unknown>) : answers;
      const reading = this.readings.get(`${store}.${name}`);
      if (reading !== undefined) Object.defineProperty(latest, name, { get: reading });
      if (stream === undefined) continue;
      if (stream.name === '') stream.name = `${store}.${name}`;
      Object.defineProperty(latest, name, { get: () => stream.peek() });
    }
    this.latestOf[store] = latest;
    return members;
  }

  /** The state of a store, or of all stores if none is named. */
  state<T>(store?: string): Stream<T> {
    return new StateStream(this, store ?? '*', (states) =>
      store === undefined ? states : states[store],
    );
  }
}

const observable =
  (Reflect.get(Symbol, 'observable') as unknown as string | undefined) ?? '@@observable';

/** A function that computes once for equal arguments. */
function remembering<Args extends readonly unknown[], T>(
  compute: (...args: Args) => T,
): (...args: Args) => T {
  const known = new Remembered<{ readonly value: T }>();
  return (...args) => {
    const text = textOf(args);
    let found = known.get(text);
    if (found === undefined) known.set(text, (found = { value: compute(...args) }));
    return found.value;
  };
}
