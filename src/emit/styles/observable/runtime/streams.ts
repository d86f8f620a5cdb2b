// Streams of values, and of actions, that follow the ECMAScript Observable contract.
import { Remembered, textOf } from '../../../runtime/arguments.js';
import type { StoreChecks } from '../../../runtime/value-types.js';
import { Watchable, WatchableRead } from '../../../runtime/watchable.js';
import { settledStates } from '../../../runtime/settling.js';
import {
  // <lazy>
  refuse,
  // </lazy>
  Turns,
  type Options,
  type Outcome,
  // <tasks>
  type StartOutcome,
  // </tasks>
  type Problem,
  type Tools,
  type Transaction,
} from '../../../runtime/transaction.js';
import { freeze, same } from '../../../runtime/values.js';
import { Watchers } from '../../../runtime/watchers.js';
// <lazy>
import {
  attached,
  insert,
  notAttached,
  // <tasks>
  reorder,
  // </tasks>
} from '../../../runtime/attaching.js';
// </lazy>
// <begins>
import { Beginnings } from '../../../runtime/beginnings.js';
// </begins>
// <saved>
import { SavedStores, type SavedPlan } from '../../../runtime/saved.js';
// </saved>
// <history>
import { Histories, type HistoryPlan } from '../../../runtime/histories.js';
// </history>
// <tasks>
import type { TaskPlan } from '../../../runtime/task-plan.js';
import { Tasks, type TaskReadings } from '../../../runtime/tasks.js';
// </tasks>

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
  // <tasks>
  #tasks: object | undefined;
  // </tasks>
  // <history>
  #history: object | undefined;
  // </history>

  constructor(streams: Streams, sources: () => Sources<V>, compute: (...values: V) => T) {
    super(streams);
    this.#findSources = sources;
    this.#compute = compute;
  }

  protected override read(): T {
    const last = this.#last;
    const { committed } = this.streams;
    // <history>
    if (this.#history !== this.streams.undoable) this.#states = undefined;
    this.#history = this.streams.undoable;
    // </history>
    // <tasks>
    const { running } = this.streams;
    if (last !== undefined && this.#states === committed && this.#tasks === running)
      return last.result;
    //- if (last !== undefined && this.#states === committed) return last.result;
    // </tasks>
    if (last === undefined || !this.#isUnchanged(last.values)) {
      const values = this.#values();
      const result = this.#compute(...(values as unknown as V));
      const isEqual = last !== undefined && same(last.result, result);
      this.#last = { values, result: isEqual ? last.result : this.streams.guarded(result) };
    }
    this.#states = committed;
    // <tasks>
    this.#tasks = running;
    // </tasks>
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

// <tasks>
/** What is given out of the tasks of a store. */
export type TaskStreams<Of> = {
  readonly [Name in keyof Of]: {
    readonly [Reading in keyof Of[Name]]: Stream<Of[Name][Reading]>;
  };
};

/** A task: it is called to start it, and mapped to changes at the moments of a run. */
export type StreamTask<P, Given extends readonly unknown[]> = ((...given: Given) => StartOutcome) &
  TaskStreams<{ task: TaskReadings<P> }>['task'] & {
    /** Abandons its runs; with a value, those that were started for it. */
    cancel(...per: readonly unknown[]): Outcome;
    /** What happens at a moment of a run. */
    at<Bound = undefined>(
      moment: 'start' | 'each' | 'finish' | 'fail' | 'cancel',
    ): Pick<Done<P, Bound>, 'map'>;
  };

// </tasks>
// <beside>
/** Something of what goes on of a task: the same within an action as before it. */
class ReadingStream<T> extends Stream<T> {
  readonly #of: () => T;

  constructor(streams: Streams, name: string, of: () => T) {
    super(streams);
    this.name = name;
    this.#of = of;
  }

  protected override read(): T {
    return this.#of();
  }

  protected override within(): T {
    return this.#of();
  }

  protected override giveOut(value: T): T {
    return value;
  }
}

// </beside>
/** What an action, or a reaction to one, makes of a state. */
interface Change<S> {
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
  readonly reactions: Work[];
}

type Work = (payload: unknown, given: unknown) => void;

// <lazy>
/** A store that is attached later. */
export interface LazyStore<Made = object> {
  readonly name: string;
  readonly checks?: StoreChecks;
  readonly create: (around: never) => Made;
}

/** A stream of a store that may not be there yet: of `undefined` until then. */
class LazyStream<T> extends Stream<T | undefined> {
  readonly #find: () => Stream<T> | undefined;

  constructor(streams: Streams, find: () => Stream<T> | undefined) {
    super(streams);
    this.#find = find;
  }

  protected override read(): T | undefined {
    return this.#find()?.peek();
  }

  protected override within(): T | undefined {
    return this.#find()?.peek();
  }

  protected override giveOut(value: T | undefined): T | undefined {
    return value;
  }
}

// </lazy>
/** The streams of an application: actions come in one by one, and values go out in order. */
export class Streams {
  readonly tools: Tools;
  readonly watchers: Watchers;
  /** The states of all stores: as they were committed, and as the action under way has made them. */
  committed: States = {};
  pending: States = {};
  /** How often actions have changed a state. */
  writes = 0;
  readonly #turns: Turns;
  // <tasks>
  readonly #plans: Record<string, TaskPlan> = {};
  readonly #tasks: Tasks;
  // </tasks>
  // <saved>
  readonly #saved: SavedStores;
  // </saved>
  // <begins>
  readonly #beginnings: Beginnings;
  // </begins>
  // <history>
  readonly #histories: Histories;
  // </history>
  // <lazy>
  readonly #order: readonly string[];
  readonly #checks: Record<string, StoreChecks>;
  /** Where what stores do after others belongs. */
  readonly #places = new Map<Work, number>();
  // </lazy>
  // <!lazy>
  //+ readonly #checks: Readonly<Record<string, StoreChecks>>;
  // </!lazy>
  readonly #initial: Record<string, unknown> = {};
  readonly #deeds = new Map<string, Deed>();
  // <lazy>
  readonly #latest: Record<string, object | null> = {};
  //- readonly #latest: Record<string, object> = {};
  // </lazy>
  /** What was done in the transaction, in order, and how many follow each action. */
  #done: (readonly [action: string, payload: unknown])[] = [];
  readonly #subscribers = new Map<string, number>();
  #given: unknown;

  // <!lazy>
  //+ constructor(checks: Readonly<Record<string, StoreChecks>>, options: Options) {
  //+   this.#checks = checks;
  // </!lazy>
  // <lazy>
  constructor(
    checks: Readonly<Record<string, StoreChecks>>,
    options: Options,
    order: readonly string[] = [],
  ) {
    this.#order = order;
    this.#checks = { ...checks };
    this.committed = Object.fromEntries(order.map((name) => [name, null]));
    for (const name of order) this.#latest[name] = null;
    // </lazy>
    this.#turns = new Turns(options, () => {
      this.watchers.round();
      this.#done = [];
    });
    this.tools = this.#turns.tools;
    this.watchers = new Watchers((problem) => {
      this.report(problem);
    });
    // <tasks>
    const checkOf = (task: string) => {
      const [store = '', name = ''] = task.split('.');
      // <lazy>
      return this.#checks[store]?.tasks?.[name];
      //- return checks[store]?.tasks?.[name];
      // </lazy>
    };
    this.#tasks = new Tasks(this.#turns, options, this.#plans, checkOf, {
      perform: (moment, payload, given) => this.#perform(moment, payload, given),
      ask: (of, payload, given) => of(payload as never, given as never),
      transaction: (act) => this.#transaction(act),
      // <history>
      later: (name) => {
        this.#histories.later(name);
      },
      // </history>
    });
    // </tasks>
    // <kept>
    const fields = {
      read: (store: string, field: string | undefined) => this.#committedField(store, field),
      put: (store: string, field: string | undefined, value: unknown) => {
        const own = this.pending[store] as States;
        const changed = field === undefined ? value : { ...own, [field]: value };
        this.#write({ ...this.pending, [store]: changed });
      },
      transaction: (act: () => void) => this.#transaction(act),
    };
    // </kept>
    // <saved>
    // <lazy>
    this.#saved = new SavedStores(this.#turns, options, this.#checks, fields);
    //- this.#saved = new SavedStores(this.#turns, options, checks, fields);
    // </lazy>
    // </saved>
    // <begins>
    this.#beginnings = new Beginnings(
      // <given>
      this.#turns,
      options,
      // <lazy>
      this.#checks,
      //- checks,
      // </lazy>
      // </given>
      // <saved>
      this.#saved,
      // </saved>
    );
    // </begins>
    // <history>
    this.#histories = new Histories(this.#turns, fields);
    // </history>
  }

  // <kept>
  #committedField(store: string, field: string | undefined): unknown {
    const own = this.committed[store];
    return field === undefined ? own : (own as States)[field];
  }

  // </kept>
  // <saved>
  /** Takes in what a storage has, and saves there from then on. */
  get takeSaved(): SavedStores['takeSaved'] {
    return this.#saved.takeSaved;
  }

  /** Keeps a store in storage; before its state is accumulated. */
  saved(store: string, plan: SavedPlan): void {
    this.#saved.keep(store, plan);
  }

  // </saved>
  // <history>
  /** What can be undone. */
  get undoable(): object {
    return this.#histories.states;
  }

  /** What can be undone in a store: two streams that tell of it, and two actions. */
  history(store: string, plan: HistoryPlan) {
    this.#histories.add(store, plan);
    const reading = (of: 'canUndo' | 'canRedo'): Stream<boolean> =>
      new ReadingStream(this, `${store}.${of}`, () => this.#histories.readings(store)[of]);
    return {
      canUndo: reading('canUndo'),
      canRedo: reading('canRedo'),
      undo: (): Outcome => this.#histories.move(store, 'undo'),
      redo: (): Outcome => this.#histories.move(store, 'redo'),
    };
  }

  // <later>
  /** Undoes or redoes after the action under way. */
  later(name: string): void {
    // <tasks>
    this.#tasks.ask(name);
    //- this.#histories.ask(name);
    // </tasks>
  }

  // </later>
  /** Forgets at the end of the action under way what can be undone. */
  forgetHistory(store: string): void {
    this.#histories.forget(store);
  }

  // </history>
  // <tasks>
  /** What goes on of the tasks. */
  get running(): object {
    return this.#tasks.states;
  }

  /** A task: a function that starts it, and streams of what goes on of it. */
  task<P = null, Given extends readonly unknown[] = P extends null ? [] : [payload: P]>(
    name: string,
    plan: TaskPlan,
  ): StreamTask<P, Given> {
    this.#plans[name] = plan;
    const reading = <T>(of: keyof TaskReadings): Stream<T> =>
      new ReadingStream(this, `${name}.${of}`, () => this.#tasks.readings(name)[of] as T);
    const start = (...[payload]: Given): StartOutcome => this.#tasks.start(name, payload);
    return Object.assign(start, {
      cancel: (...per: readonly unknown[]) => this.#tasks.cancel(name, ...per),
      at: <Bound>(moment: string): Pick<Done<P, Bound>, 'map'> => ({
        map: <S>(change: (payload: P, given: Bound) => (state: S) => S) => ({
          actions: [`${name}.${moment}`],
          to: change as Change<S>['to'],
        }),
      }),
      running: reading<boolean>('running'),
      runs: reading<readonly P[]>('runs'),
      waiting: reading<readonly P[]>('waiting'),
    });
  }

  /** Asks for the start of a task after the action under way. */
  start(task: string, payload?: unknown): void {
    this.#tasks.ask(task, payload);
  }

  /** Abandons the runs of tasks, or those of one value, on a state of all stores. */
  cancel<App extends object>(app: App, tasks: readonly string[], ...per: readonly unknown[]): App {
    this.#write(app as States);
    this.#tasks.abandon(tasks, ...per);
    return this.pending as App;
  }

  /** Sets how long the start under way waits before its call, in milliseconds. */
  delay(ms: number): void {
    this.#tasks.delay(ms);
  }

  // <auto>
  /** Starts what starts by itself. */
  begin(): void {
    this.#tasks.create();
  }

  // </auto>
  // </tasks>
  /** Abandons all tasks, and ends what is watched. */
  readonly close = (): void => {
    this.#turns.close(() => {
      this.watchers.close();
    });
  };

  // <log>
  /** Begins the log; once all stores are made. */
  startLog(options: Options): void {
    this.#turns.startLog(options, this.watchers, () => this.committed);
  }

  // </log>
  get isActing(): boolean {
    return this.#turns.isActing;
  }

  report(problem: Problem): void {
    this.#turns.report(problem);
  }

  guarded<T>(value: T): T {
    return this.#turns.guard ? freeze(value) : value;
  }

  /** An action: a function that does it, and a stream of what it was given each time it was done. */
  action<P = void, Given extends readonly unknown[] = P extends void ? [] : [payload: P]>(
    name: string,
  ): ActionStream<P, Given> {
    const [store = '', action = ''] = name.split('.');
    const check = this.#checks[store]?.actions?.[action];
    const transaction = this.#transaction((accepted) => {
      this.#perform(name, accepted);
    });
    const send = (...[payload]: Given): Outcome =>
      this.#turns.take(name, payload, check, transaction);
    return Object.assign(send, this.done<P>(name));
  }

  #transaction<P>(act: (payload: P) => void): Transaction<P> {
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
        // <tasks>
        // What a store does after a moment of its own task is a reaction too.
        actions: names.map((one) => (one.split('.').length > 2 ? `.${one}` : one)),
        //- actions: names,
        // </tasks>
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
  // <!begins>
  //+ accumulate<S>(
  //+   name: string,
  //+   initial: S,
  //+   changes: readonly Change<S>[],
  //+ ): Stream<S> {
  // </!begins>
  // <begins>
  accumulate<S>(
    name: string,
    initial: S,
    changes: readonly Change<S>[],
    isValue = false,
  ): Stream<S> {
    // </begins>
    this.#initial[name] = this.guarded(initial);
    this.committed = this.guarded({ ...this.committed, [name]: initial });
    // <begins>
    this.committed = this.guarded({
      ...this.committed,
      [name]: this.#beginnings.begun(name, initial, isValue),
    });
    // </begins>
    this.pending = this.committed;
    for (const { actions, to } of changes)
      this.#register(name, actions, (payload, given) => {
        const before = this.pending[name];
        const after = to(payload, given)(before as S);
        if (after !== before) this.#write({ ...this.pending, [name]: after });
      });
    return new StateStream(this, name, (states) => states[name]);
  }

  /** Changes of the state of all stores, by actions of a store and by what it does after others. */
  accumulateAll<App extends object>(store: string, changes: readonly Change<App>[]): void {
    for (const { actions, to } of changes)
      this.#register(store, actions, (payload, given) => {
        this.#write(to(payload, given)(this.pending as App) as States);
      });
  }

  #register(store: string, actions: readonly string[], work: Work): void {
    for (const action of actions) this.#registerOne(store, action, work);
  }

  #registerOne(store: string, action: string, work: Work): void {
    // <log>
    const own = work;
    work = (payload, given) => {
      if (!action.startsWith(`${store}.`))
        this.#turns.log?.include(`${store} after ${action.replace(/^\./, '')}`);
      own(payload, given);
    };
    // </log>
    // <tasks>
    const of = action.replace(/^\./, '');
    const deed = this.#deeds.get(of) ?? { own: [], reactions: [] };
    this.#deeds.set(of, deed);
    //- const deed = this.#deeds.get(action) ?? { own: [], reactions: [] };
    //- this.#deeds.set(action, deed);
    // </tasks>
    // <lazy>
    if (action.startsWith(`${store}.`)) deed.own.push(work);
    else {
      this.#places.set(work, this.#order.indexOf(store));
      insert<Work>(deed.reactions, work, (one) => this.#places.get(one) ?? 0);
    }
    // </lazy>
    // <!lazy>
    //+ (action.startsWith(`${store}.`) ? deed.own : deed.reactions).push(work);
    // </!lazy>
  }

  #write(states: States): void {
    this.pending = states;
    this.writes += 1;
  }

  // <tasks>
  #perform(name: string, payload: unknown, before?: object): unknown {
    //- #perform(name: string, payload: unknown): void {
    // </tasks>
    const outer = this.#given;
    this.#given = undefined;
    const deed = this.#deeds.get(name);
    // <log>
    this.#turns.log?.include(name);
    // </log>
    // <tasks>
    for (const work of deed?.own ?? []) work(payload, before);
    const bound = this.#given;
    const given = before === undefined ? bound : { ...before, ...(bound as object | undefined) };
    for (const work of deed?.reactions ?? []) work(payload, given);
    //- for (const work of deed?.own ?? []) work(payload, undefined);
    //- for (const work of deed?.reactions ?? []) work(payload, this.#given);
    // </tasks>
    this.#given = outer;
    if ((this.#subscribers.get(name) ?? 0) > 0) this.#done.push([name, payload]);
    // <tasks>
    return bound;
    // </tasks>
  }

  #commit(): boolean {
    const before = this.committed;
    const { guard } = this.#turns;
    this.committed = settledStates(before, this.pending, this.#checks, guard);
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
    // <lazy>
    if (!Object.hasOwn(this.#initial, store)) refuse(notAttached);
    // </lazy>
    this.#write(app as States);
    this.#perform(name, payload ?? this.#checks[store]?.actions?.[action]?.default);
    return this.pending as App;
  };

  /** Puts stores back to what they were at the start. */
  readonly resetStores = <App extends object>(app: App, stores: readonly string[]): App => ({
    ...app,
    // <lazy>
    ...Object.fromEntries(
      stores
        .filter((name) => Object.hasOwn(this.#initial, name))
        .map((name) => [name, this.#initial[name]]),
    ),
    // </lazy>
    // <!lazy>
    //+ ...Object.fromEntries(stores.map((name) => [name, this.#initial[name]])),
    // </!lazy>
  });

  // <lazy>
  /** A stream of a store that may not be there yet. */
  lazily<T>(find: () => Stream<T> | undefined): Stream<T | undefined> {
    return new LazyStream(this, find);
  }

  /** Attaches a lazy store; does nothing if it is attached already. */
  attach(store: LazyStore, around: object, stores: object): Outcome {
    const { name, checks = {}, create } = store;
    if (this.committed[name] !== null) return attached;
    return this.#turns.take(`${name}.attach`, undefined, undefined, {
      // <log>
      act: () => {
        const { log } = this.#turns;
        if (log !== undefined) log.did = { type: name, kind: 'attach' };
      },
      //- act: () => undefined,
      // </log>
      commit: () => {
        if (this.committed[name] !== null) return false;
        this.#checks[name] = checks;
        Object.assign(stores, { [name]: create(around as never) });
        // <tasks>
        reorder(this.#plans, this.#order);
        // </tasks>
        // <saved>
        this.#saved.begin();
        // </saved>
        return true;
      },
    });
  }

  // </lazy>
  /** The latest values of all stores, after some states were changed. */
  after<Latest>(states: object): Latest {
    this.#write({ ...this.pending, ...states });
    return this.#latest as Latest;
  }

  /** The latest values of all stores: within an action, as it has made them. */
  latest<Latest>(): Latest {
    return this.#latest as Latest;
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
      // <tasks>
      if (Object.hasOwn(this.#plans, `${store}.${name}`)) {
        Object.defineProperty(latest, name, {
          get: () => this.#tasks.readings(`${store}.${name}`),
        });
        continue;
      }
      // </tasks>
      if (stream === undefined) continue;
      if (stream.name === '') stream.name = `${store}.${name}`;
      Object.defineProperty(latest, name, { get: () => stream.peek() });
    }
    this.#latest[store] = latest;
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
