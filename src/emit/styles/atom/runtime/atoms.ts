// A graph of atoms: one small unit of state each, and derived values that know what they read.
import { Remembered, textOf } from '../../../runtime/arguments.js';
import type { StoreChecks, ValueType } from '../../../runtime/value-types.js';
import { Watchable } from '../../../runtime/watchable.js';
import { settled } from '../../../runtime/settling.js';
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

/** Something that can be read, watched and followed. */
export type AtomView<T> = Watchable<T> & {
  /** The value of now. What is computed meanwhile is computed anew when it changes. */
  get(): T;
};

/** What is given out of the fields and derived values of a store. */
export type AtomViews<Values> = {
  readonly [Name in keyof Values]: Values[Name] extends (...args: infer Args) => infer Value
    ? (...args: Args) => AtomView<Value>
    : AtomView<Values[Name]>;
};

// <tasks>
/** What is given out of the tasks of a store. */
export type TaskViews<Of> = {
  readonly [Name in keyof Of]: {
    readonly [Reading in keyof Of[Name]]: AtomView<Of[Name][Reading]>;
  };
};

/** A task: it is called to start it. */
export type AtomTask<P, Given extends readonly unknown[]> = ((...given: Given) => StartOutcome) &
  TaskViews<{ task: TaskReadings<P> }>['task'] & {
    /** Abandons its runs; with a value, those that were started for it. */
    cancel(...per: readonly unknown[]): Outcome;
  };

/** What a task does, and when. */
interface AtomTaskPlan extends TaskPlan {
  readonly start?: Work;
  readonly each?: Work;
  readonly finish?: Work;
  readonly fail?: Work;
  readonly cancel?: Work;
}

// </tasks>
/** An atom, or what is derived from atoms. */
abstract class Node<T> extends Watchable<T> {
  readonly name: string;
  /** What is computed from it and holds: each is told once that it may not hold any more. */
  readonly readers = new Set<Derived<unknown>>();
  protected readonly graph: Graph;

  constructor(graph: Graph, name: string) {
    super();
    this.graph = graph;
    this.name = name;
  }

  /** The committed value. */
  protected abstract read(): T;
  /** The value as the action under way has made it. */
  protected abstract within(): T;
  protected abstract giveOut(value: T): T;

  /** The value, read by who only looks whether it is still the same. */
  peek(): T {
    return this.graph.isChanging ? this.within() : this.read();
  }

  get(): T {
    const { graph } = this;
    const value = this.peek();
    if (graph.reader !== undefined) graph.reader.note(this, value);
    else if (!graph.isActing) return this.giveOut(value);
    return value;
  }

  override watch(changed: (now: T, before: T) => void, ended?: () => void): () => void {
    return this.graph.watchers.add(this.name, () => this.get(), changed, ended);
  }

  override toJSON(): T {
    return this.get();
  }

  protected notify(): void {
    if (this.readers.size === 0) return;
    for (const reader of this.readers) reader.invalidate();
    this.readers.clear();
  }

  protected override report(problem: Problem): void {
    this.graph.report(problem);
  }
}

/** One unit of state. Only actions change it. */
export class Atom<T> extends Node<T> {
  /** Its place among the atoms of the application. */
  readonly place: number;
  readonly #initial: T;
  readonly #type: ValueType | undefined;
  readonly #at: string;
  #value: T;
  #next: { value: T } | undefined;

  constructor(graph: Graph, name: string, initial: T, place: number) {
    super(graph, name);
    this.place = place;
    this.#initial = graph.guarded(initial);
    this.#value = initial;
    this.#type = graph.typeOf(name);
    this.#at = `/${name.replace('.', '/')}`;
  }

  protected override read(): T {
    return this.#value;
  }

  protected override within(): T {
    return this.#next === undefined ? this.#value : this.#next.value;
  }

  protected override giveOut(value: T): T {
    return value;
  }

  // <committed>
  /** The value as it was committed. */
  get committed(): T {
    return this.#value;
  }

  // </committed>
  // <begins>
  /** Begins with another value than the one that it is put back to. */
  begin(value: T): void {
    this.#value = this.graph.guarded(value);
  }

  // </begins>
  set(value: T): void {
    this.graph.noteWrite(this, this.#next === undefined);
    this.#next = { value };
  }

  update(change: (value: T) => T): void {
    this.set(change(this.get()));
  }

  /** Puts it back to what it was at the start. */
  reset(): void {
    this.set(this.#initial);
  }

  /** Judges what the action has made of it; refused if it does not fit. */
  settle(): void {
    if (this.#next === undefined) return;
    const { value } = this.#next;
    this.#next = { value: settled(this.#value, value, this.#type, this.#at, this.graph.guard) };
  }

  /** Keeps what was judged; whether that is something new. */
  commit(): boolean {
    const value = this.within();
    this.#next = undefined;
    if (value === this.#value) return false;
    this.#value = value;
    this.notify();
    return true;
  }

  drop(): void {
    this.#next = undefined;
  }
}

/** A value computed from other nodes: when it is asked for, and only if one that it read has changed. */
class Derived<T> extends Node<T> {
  readonly #compute: () => T;
  /** What was read for the last value, and what it was. */
  #sources: Node<unknown>[] = [];
  #seen: unknown[] = [];
  #last: { readonly value: T } | undefined;
  #given: { readonly of: T; readonly out: T } | undefined;
  #within: { readonly writes: number; readonly value: T } | undefined;
  #isFresh = false;

  constructor(graph: Graph, name: string, compute: () => T) {
    super(graph, name);
    this.#compute = compute;
  }

  protected override read(): T {
    if (!this.#isFresh) {
      if (this.#last === undefined || !this.#isUnchanged()) this.#renew();
      for (const source of this.#sources) source.readers.add(this);
      this.#isFresh = true;
    }
    return (this.#last as { readonly value: T }).value;
  }

  protected override within(): T {
    const { writes } = this.graph;
    if (this.#within?.writes === writes) return this.#within.value;
    const value = this.graph.reading(undefined, () =>
      this.#last !== undefined && this.#isUnchanged() ? this.#last.value : this.#compute(),
    );
    this.#within = { writes, value };
    return value;
  }

  protected override giveOut(value: T): T {
    if (this.#given === undefined || this.#given.of !== value) {
      const last = this.#given;
      const out = last !== undefined && same(last.out, value) ? last.out : value;
      this.#given = { of: value, out };
    }
    return this.#given.out;
  }

  /** Notes what is read while it is computed. */
  note(node: Node<unknown>, value: unknown): void {
    if (this.#sources.includes(node)) return;
    this.#sources.push(node);
    this.#seen.push(value);
  }

  /** A source may have changed: so may this, and what reads it. */
  invalidate(): void {
    if (!this.#isFresh) return;
    this.#isFresh = false;
    this.notify();
  }

  #renew(): void {
    const last = this.#last;
    this.#last = undefined;
    this.#sources = [];
    this.#seen = [];
    const value = this.graph.reading(this, this.#compute);
    this.#last =
      last !== undefined && same(last.value, value) ? last : { value: this.graph.guarded(value) };
  }

  #isUnchanged(): boolean {
    return this.graph.reading(undefined, () =>
      this.#sources.every((source, i) => Object.is(source.peek(), this.#seen[i])),
    );
  }
}

// <beside>
/** Something of what goes on of a task: the same within an action as before it. */
class Reading<T> extends Node<T> {
  readonly #of: () => T;

  constructor(graph: Graph, name: string, of: () => T) {
    super(graph, name);
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

  /** It may have changed. */
  tell(): void {
    this.notify();
  }
}

// </beside>
// <lazy>
/** No store has so many. */
const mostFields = 10_000;

// </lazy>
/** What an action, or a reaction to one, does. What it returns is given to the reactions. */
type Work = (payload: never, given: never) => unknown;

// <lazy>
/** A store that is attached later. */
export interface LazyStore<Made = object> {
  readonly name: string;
  readonly checks?: StoreChecks;
  readonly create: (around: never) => Made;
}

// </lazy>
/** The atoms of an application, with its actions and watchers. */
export class Graph {
  readonly tools: Tools;
  readonly guard: boolean;
  readonly watchers: Watchers;
  /** What is being computed. */
  reader: Derived<unknown> | undefined;
  /** How often actions have written something. */
  writes = 0;
  #writesBefore = 0;
  readonly #turns: Turns;
  // <lazy>
  readonly #order: readonly string[];
  readonly #lazy: ReadonlySet<string>;
  readonly #checks: Record<string, StoreChecks>;
  /** The names of lazy stores that are there. */
  #attached: ReadonlySet<string> = new Set();
  readonly #there: Reading<ReadonlySet<string>>;
  /** The store that is being made, and where what it does after others belongs. */
  #making = '';
  readonly #places = new Map<Work, number>();
  // </lazy>
  // <!lazy>
  //+ readonly #checks: Readonly<Record<string, StoreChecks>>;
  // </!lazy>
  readonly #atoms = new Map<string, Atom<unknown>>();
  readonly #stores = new Set<string>();
  /** What the action under way has written to. */
  #written: Atom<unknown>[] = [];
  readonly #actions = new Map<string, Work>();
  readonly #reactions = new Map<string, Work[]>();
  // <log>
  /** The store that each reaction belongs to. */
  readonly #reacting = new Map<Work, string>();
  // </log>
  // <tasks>
  readonly #plans: Record<string, AtomTaskPlan> = {};
  readonly #readings = new Map<string, Reading<unknown>[]>();
  readonly #tasks: Tasks;
  // </tasks>
  // <saved>
  readonly #saved: SavedStores;
  // </saved>
  // <begins>
  readonly #beginnings: Beginnings;
  readonly #begun = new Map<string, Readonly<Record<string, unknown>>>();
  // </begins>
  // <history>
  readonly #histories: Histories;
  readonly #historyReadings = new Map<string, readonly Reading<boolean>[]>();
  // </history>

  // <!lazy>
  //+ constructor(checks: Readonly<Record<string, StoreChecks>>, options: Options) {
  //+   this.#checks = checks;
  // </!lazy>
  // <lazy>
  /** `order`: all stores in the order of the schema, `lazy`: those that are attached later. */
  constructor(
    checks: Readonly<Record<string, StoreChecks>>,
    options: Options,
    order: readonly string[] = [],
    lazy: readonly string[] = [],
  ) {
    this.#order = order;
    this.#lazy = new Set(lazy);
    this.#checks = { ...checks };
    this.#there = new Reading(this, '', () => this.#attached);
    // </lazy>
    this.#turns = new Turns(options, () => {
      this.watchers.round();
    });
    this.tools = this.#turns.tools;
    this.guard = this.#turns.guard;
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
      changed: (task) => {
        for (const reading of this.#readings.get(task) ?? []) reading.tell();
      },
      // <history>
      later: (name) => {
        this.#histories.later(name);
      },
      // </history>
    });
    // </tasks>
    // <kept>
    const fields = {
      read: (store: string, field: string | undefined) => this.#fieldOf(store, field).committed,
      put: (store: string, field: string | undefined, value: unknown) => {
        this.#fieldOf(store, field).set(value);
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
    this.#histories = new Histories(this.#turns, {
      ...fields,
      changed: (store) => {
        for (const reading of this.#historyReadings.get(store) ?? []) reading.tell();
      },
    });
    // </history>
  }

  // <log>
  /** Begins the log; once all stores are made. */
  startLog(options: Options): void {
    this.#turns.startLog(options, this.watchers, () => this.#committed());
  }

  /** The states as they were logged last, and the values that they were made of. */
  #logged: Record<string, unknown> = {};
  #loggedValues: unknown[] = [];

  /** The committed states of all stores; the same objects for those that have not changed. */
  #committed(): object {
    const [atoms, values] = [[...this.#atoms.values()], this.#loggedValues];
    const changed = atoms.filter((atom, i) => values.length <= i || values[i] !== atom.committed);
    if (changed.length === 0) return this.#logged;
    const states: Record<string, unknown> = {};
    // <lazy>
    for (const name of this.#order) states[name] = null;
    // </lazy>
    Object.assign(states, this.#logged);
    const copied = new Set<string>();
    for (const { name, committed } of changed) {
      const [store = '', field] = name.split('.');
      if (field === undefined) states[store] = committed;
      else if (copied.has(store)) (states[store] as Record<string, unknown>)[field] = committed;
      else states[store] = { ...(states[store] as object | null), [field]: committed };
      copied.add(store);
    }
    this.#loggedValues = atoms.map((atom) => atom.committed);
    return (this.#logged = states);
  }

  // </log>
  /** Whether code of an action runs. */
  get isActing(): boolean {
    return this.#turns.isActing;
  }

  /** Whether code of an action runs that has written something. */
  get isChanging(): boolean {
    return this.#turns.isActing && this.writes > this.#writesBefore;
  }

  report(problem: Problem): void {
    this.#turns.report(problem);
  }

  /** A field of a store: `deck.vehicles`; `berth` if the store is one value. */
  atom<T>(name: string, initial: T): Atom<T> {
    // <lazy>
    [this.#making = ''] = name.split('.');
    const place = this.#order.indexOf(this.#making) * mostFields + this.#atoms.size;
    const atom = new Atom(this, name, initial, place);
    //- const atom = new Atom(this, name, initial, this.#atoms.size);
    // </lazy>
    this.#atoms.set(name, atom);
    // <begins>
    const [store = '', field] = name.split('.');
    let begun = this.#begun.get(store);
    if (begun === undefined)
      this.#begun.set(store, (begun = this.#beginnings.of(store, field === undefined)));
    if (Object.hasOwn(begun, field ?? 'value')) atom.begin(begun[field ?? 'value'] as T);
    // </begins>
    return atom;
  }

  /** What is computed from atoms; it notes what `compute` reads. */
  derived<T>(name: string, compute: () => T): AtomView<T> {
    return new Derived(this, name, compute);
  }

  /** A derived value for each combination of arguments. */
  derivedFor<Args extends readonly unknown[], T>(
    name: string,
    compute: (...args: Args) => T,
  ): (...args: Args) => AtomView<T> {
    const known = new Remembered<AtomView<T>>();
    return (...args) => {
      const text = textOf(args);
      let node = known.get(text);
      if (node === undefined) known.set(text, (node = this.derived(name, () => compute(...args))));
      return node;
    };
  }

  /** What is given out of a store: its atoms can be read, not set. */
  views<Nodes>(nodes: Nodes): {
    readonly [Name in keyof Nodes]: Nodes[Name] extends Atom<infer T> ? AtomView<T> : Nodes[Name];
  };
  views(nodes: unknown): unknown {
    return nodes;
  }

  /** An action: what it does is kept whole, or not at all. */
  action<P = void, Given extends readonly unknown[] = P extends void ? [] : [payload: P]>(
    name: string,
    work: (payload: P) => unknown,
  ): (...given: Given) => Outcome {
    this.#actions.set(name, work);
    const [store = '', action = ''] = name.split('.');
    const check = this.#checks[store]?.actions?.[action];
    const transaction = this.#transaction<P>((accepted) => {
      this.#perform(name, accepted);
    });
    return (...[payload]) => this.#turns.take(name, payload, check, transaction);
  }

  #transaction<P>(act: (payload: P) => void): Transaction<P> {
    return {
      act: (accepted) => {
        this.#writesBefore = this.writes;
        act(accepted);
      },
      commit: () => this.#commit(),
      drop: () => {
        for (const atom of this.#written) atom.drop();
        this.#written = [];
      },
    };
  }

  // <saved>
  /** Takes in what a storage has, and saves there from then on. */
  get takeSaved(): SavedStores['takeSaved'] {
    return this.#saved.takeSaved;
  }

  /** Keeps a store in storage; before its atoms are made. */
  saved(store: string, plan: SavedPlan): void {
    this.#saved.keep(store, plan);
  }

  // </saved>
  // <kept>
  #fieldOf(store: string, field: string | undefined): Atom<unknown> {
    const name = field === undefined ? store : `${store}.${field}`;
    return this.#atoms.get(name) as Atom<unknown>;
  }

  // </kept>
  // <history>
  /** What can be undone in a store: two atoms that tell of it, and two actions. */
  history(store: string, plan: HistoryPlan) {
    this.#histories.add(store, plan);
    const reading = (of: 'canUndo' | 'canRedo') =>
      new Reading(this, `${store}.${of}`, () => this.#histories.readings(store)[of]);
    const [canUndo, canRedo] = [reading('canUndo'), reading('canRedo')];
    this.#historyReadings.set(store, [canUndo, canRedo]);
    return {
      canUndo: canUndo as AtomView<boolean>,
      canRedo: canRedo as AtomView<boolean>,
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
  /** A task: what it does at each moment is kept whole, or not at all. */
  task<P = null, Given extends readonly unknown[] = P extends null ? [] : [payload: P]>(
    name: string,
    plan: AtomTaskPlan,
  ): AtomTask<P, Given> {
    this.#plans[name] = plan;
    const moments: readonly (keyof AtomTaskPlan)[] = ['start', 'each', 'finish', 'fail', 'cancel'];
    for (const moment of moments)
      if (plan[moment] !== undefined) this.#actions.set(`${name}.${moment}`, plan[moment] as Work);
    const reading = <T>(of: keyof TaskReadings): AtomView<T> => {
      const made = new Reading(this, `${name}.${of}`, () => this.#tasks.readings(name)[of] as T);
      this.#readings.set(name, [...(this.#readings.get(name) ?? []), made]);
      return made;
    };
    const start = (...[payload]: Given): StartOutcome => this.#tasks.start(name, payload);
    return Object.assign(start, {
      cancel: (...per: readonly unknown[]) => this.#tasks.cancel(name, ...per),
      running: reading<boolean>('running'),
      runs: reading<readonly P[]>('runs'),
      waiting: reading<readonly P[]>('waiting'),
    });
  }

  /** Asks for the start of a task after the action under way. */
  start(task: string, payload?: unknown): void {
    this.#tasks.ask(task, payload);
  }

  /** Abandons the runs of tasks, or those of one value. */
  cancel(tasks: readonly string[], ...per: readonly unknown[]): void {
    this.#tasks.abandon(tasks, ...per);
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

  /** What is done each time one of these actions was done. */
  afterAction<P = void, Given = void>(
    names: string | readonly string[],
    work: (payload: P, given: Given) => unknown,
    // <log>
    store = '',
    // </log>
  ): void {
    // <log>
    this.#reacting.set(work, store);
    // </log>
    // <lazy>
    this.#places.set(work, this.#order.indexOf(this.#making));
    // </lazy>
    for (const name of [names].flat() as readonly string[]) {
      const others = this.#reactions.get(name) ?? [];
      // <lazy>
      this.#reactions.set(name, others);
      insert<Work>(others, work, (one) => this.#places.get(one) ?? 0);
      //- this.#reactions.set(name, [...others, work]);
      // </lazy>
    }
  }

  // <tasks>
  #perform(name: string, payload: unknown, before?: object): unknown {
    // <log>
    this.#turns.log?.include(name);
    // </log>
    const bound = this.#actions.get(name)?.(payload as never, before as never);
    const given = before === undefined ? bound : { ...before, ...(bound as object | undefined) };
    // <log>
    for (const react of this.#reactions.get(name) ?? []) {
      this.#turns.log?.include(`${this.#reacting.get(react) ?? ''} after ${name}`);
      react(payload as never, given as never);
    }
    //- for (const react of this.#reactions.get(name) ?? [])
    //-   react(payload as never, given as never);
    // </log>
    return bound;
  }
  // </tasks>
  // <!tasks>
  //+ #perform(name: string, payload: unknown): void {
  // <log>
  //+   this.#turns.log?.include(name);
  // </log>
  //+   const given = this.#actions.get(name)?.(payload as never, undefined as never);
  // <log>
  //+   for (const react of this.#reactions.get(name) ?? []) {
  //+     this.#turns.log?.include(`${this.#reacting.get(react) ?? ''} after ${name}`);
  //+     react(payload as never, given as never);
  //+   }
  //- for (const react of this.#reactions.get(name) ?? [])
  //-   react(payload as never, given as never);
  // </log>
  //+ }
  // </!tasks>

  /** Does another action as part of the one under way. */
  run(name: string, payload?: unknown): void {
    // <lazy>
    if (!this.#actions.has(name)) refuse(notAttached);
    // </lazy>
    const [store = '', action = ''] = name.split('.');
    this.#perform(name, payload ?? this.#checks[store]?.actions?.[action]?.default);
  }

  /** Puts whole stores back to what they were at the start. */
  reset(...stores: readonly string[]): void {
    for (const [name, atom] of this.#atoms)
      if (stores.includes(name.split('.')[0] ?? '')) atom.reset();
  }

  // <lazy>
  /** All stores; what is computed from that is computed anew once another is attached. */
  all<Stores>(stores: Stores): Stores {
    this.#there.get();
    return stores;
  }

  /** Attaches a lazy store; does nothing if it is attached already. */
  attach(store: LazyStore, around: object, stores: object): Outcome {
    const { name, checks = {}, create } = store;
    if (this.#attached.has(name)) return attached;
    return this.#turns.take(`${name}.attach`, undefined, undefined, {
      // <log>
      act: () => {
        const { log } = this.#turns;
        if (log !== undefined) log.did = { type: name, kind: 'attach' };
      },
      //- act: () => undefined,
      // </log>
      commit: () => {
        if (this.#attached.has(name)) return false;
        this.#checks[name] = checks;
        Object.assign(stores, { [name]: create(around as never) });
        this.#attached = new Set([...this.#attached, name]);
        this.#there.tell();
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
  /** The state of a store; if none is named, of all stores whose states were asked for before. */
  state<T>(store?: string): AtomView<T> {
    if (store !== undefined) this.#stores.add(store);
    // <lazy>
    if (store !== undefined && this.#lazy.has(store))
      return this.derived(store, () => {
        if (!this.#there.get().has(store)) return null as T;
        const fields = [...this.#atoms].filter(([name]) => name.startsWith(`${store}.`));
        const values = fields.map(([name, atom]) => [name.slice(store.length + 1), atom.get()]);
        return Object.fromEntries(values) as T;
      });
    // </lazy>
    const own = [...this.#atoms].filter(([name]) => name.startsWith(`${store ?? ''}.`));
    const single = this.#atoms.get(store ?? '');
    if (single !== undefined) return single as unknown as AtomView<T>;
    if (store !== undefined)
      return this.derived(store, () => {
        const values = own.map(([name, atom]) => [name.slice(store.length + 1), atom.get()]);
        return Object.fromEntries(values) as T;
      });
    const states = [...this.#stores].map((name) => [name, this.state(name)] as const);
    return this.derived('*', () => {
      const values = states.map(([name, state]) => [name, state.get()]);
      return Object.fromEntries(values) as T;
    });
  }

  /** Notes that an action writes to an atom. */
  noteWrite(atom: Atom<unknown>, isFirst: boolean): void {
    if (!this.#turns.isActing) throw new TypeError(`${atom.name} is changed by actions only.`);
    this.writes += 1;
    if (isFirst) this.#written.push(atom);
  }

  #commit(): boolean {
    const written = this.#written;
    if (written.length === 0) return false;
    // In the order in which they were made, which is that of the schema.
    if (written.length > 1) written.sort((a, b) => a.place - b.place);
    for (const atom of written) atom.settle();
    this.#written = [];
    let changed = false;
    for (const atom of written) if (atom.commit()) changed = true;
    return changed;
  }

  /** Gives what `read` gives, while what it reads is noted for a node, or for none. */
  reading<T>(reader: Derived<unknown> | undefined, read: () => T): T {
    const outer = this.reader;
    this.reader = reader;
    try {
      return read();
    } finally {
      this.reader = outer;
    }
  }

  guarded<T>(value: T): T {
    return this.guard ? freeze(value) : value;
  }

  /** What a field must be. */
  typeOf(name: string): ValueType | undefined {
    const [store = '', field] = name.split('.');
    const type = this.#checks[store]?.state;
    if (type === undefined || field === undefined) return type;
    return typeof type === 'object' && 'fields' in type ? type.fields[field] : undefined;
  }
}
