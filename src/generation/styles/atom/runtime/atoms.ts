// A graph of atoms: one small unit of state each, and derived values that know what they read.
import { Remembered, textOf } from '../../../runtime/arguments.js';
import type { StoreChecks, ValueType } from '../../../runtime/value-types.js';
import { Watchable } from '../../../runtime/watchable.js';
import { settled } from '../../../runtime/settling.js';
import { begunFields, type Ask, type Begin, type Engine } from '../../../runtime/engine.js';
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
import { Watchers, type Listener } from '../../../runtime/watchers.js';

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

/** An atom, or what is derived from atoms. */
export abstract class Node<T> extends Watchable<T> {
  readonly name: string;
  /** What is computed from it and holds: each is told once that it may not hold any more. */
  readonly readers = new Set<Derived<unknown>>();
  /** Told each time that it may have changed. */
  readonly touched = new Set<Listener>();
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
    return this.graph.watchers.add(this.name, () => this.get(), changed, ended, this);
  }

  override toJSON(): T {
    return this.get();
  }

  protected notify(): void {
    for (const watcher of this.touched) watcher.touch();
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

  /** The value as it was committed. */
  get committed(): T {
    return this.#value;
  }

  /** Begins with another value than the one that it is put back to. */
  begin(value: T): void {
    this.#value = this.graph.guarded(value);
  }

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

/** What an action, or a reaction to one, does. What it returns is given to the reactions. */
export type Work = (payload: never, given: never) => unknown;

/** What a store does after something that was done. */
interface Reaction {
  readonly store: string;
  readonly work: Work;
}

/** The atoms of an application, with its actions and watchers. */
export class Graph implements Engine {
  readonly turns: Turns;
  readonly tools: Tools;
  readonly guard: boolean;
  readonly watchers: Watchers;
  readonly checks: Record<string, StoreChecks>;
  readonly begins: Begin[] = [];
  /** What is being computed. */
  reader: Derived<unknown> | undefined;
  /** How often actions have written something. */
  writes = 0;
  /** What can be read beside the atoms. */
  readonly readings: { tell(): void }[] = [];
  readonly atoms = new Map<string, Atom<unknown>>();
  readonly actions = new Map<string, Work>();
  readonly reactions = new Map<string, Reaction[]>();
  /** The states of stores that were asked for. */
  readonly states = new Map<string, AtomView<unknown>>();
  /** Gives the place of a store among the others; they are made in their order if not given. */
  placeOf: ((store: string) => number) | undefined;
  #writesBefore = 0;
  /** What the action under way has written to. */
  #written: Atom<unknown>[] = [];
  /** The store that is being made, and what it begins with. */
  #making = { store: '', begun: {} as Readonly<Record<string, unknown>> };

  constructor(checks: Readonly<Record<string, StoreChecks>>, options: EngineOptions) {
    this.checks = { ...checks };
    this.turns = new Turns(options, () => {
      this.watchers.round();
    });
    this.tools = this.turns.tools;
    this.guard = this.turns.guard;
    this.watchers = new Watchers((problem) => {
      this.report(problem);
    });
  }

  /** True if code of an action runs. */
  get isActing(): boolean {
    return this.turns.isActing;
  }

  /** True if code of an action runs that has written something. */
  get isChanging(): boolean {
    return this.turns.isActing && this.writes > this.#writesBefore;
  }

  report(problem: Problem): void {
    this.turns.report(problem);
  }

  /** A field of a store: `deck.vehicles`; `berth` if the store is one value. */
  atom<T>(name: string, initial: T): Atom<T> {
    const [store = '', field] = name.split('.');
    if (this.#making.store !== store) this.making(store, field === undefined);
    const { begun } = this.#making;
    const place = (this.placeOf?.(store) ?? 0) * mostFields + this.atoms.size;
    const atom = new Atom(this, name, initial, place);
    this.atoms.set(name, atom);
    if (Object.hasOwn(begun, field ?? 'value')) atom.begin(begun[field ?? 'value'] as T);
    return atom;
  }

  /** Says which store is being made: one that has no atoms says so itself. */
  making(store: string, isValue = false): void {
    this.#making = { store, begun: begunFields(this.begins, store, isValue) };
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
    const [store = '', action = ''] = name.split('.');
    if (this.#making.store !== store) this.making(store);
    this.actions.set(name, work);
    const check = this.checks[store]?.actions?.[action];
    const transaction = this.transaction<P>((accepted) => {
      this.perform(name, accepted);
    });
    return (...[payload]) => this.turns.take(name, payload, check, transaction);
  }

  transaction<P>(act: (payload: P) => void): Transaction<P> {
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

  /** Abandons all tasks, and ends what is watched. */
  readonly close = (): void => {
    this.turns.close(() => {
      this.watchers.close();
    });
  };

  /** What is done each time one of these actions was done. */
  afterAction<P = void, Given = void>(
    names: string | readonly string[],
    work: (payload: P, given: Given) => unknown,
  ): void {
    const { store } = this.#making;
    for (const name of [names].flat() as readonly string[]) {
      const others = this.reactions.get(name) ?? [];
      this.reactions.set(name, others);
      others.push({ store, work });
    }
  }

  perform(name: string, payload: unknown, before?: object): unknown {
    const { log } = this.turns;
    log?.include(name);
    const bound = this.actions.get(name)?.(payload as never, before as never) as object | undefined;
    const given = before === undefined ? bound : { ...before, ...bound };
    for (const { store, work } of this.reactions.get(name) ?? []) {
      log?.include(`${store} after ${name}`);
      work(payload as never, given as never);
    }
    return bound;
  }

  ask(of: Ask, payload: unknown, given: object): unknown {
    return of(payload as never, given as never);
  }

  /** Does another action as part of the one under way. */
  run(name: string, payload?: unknown): void {
    if (!this.actions.has(name)) refuse(notAttached);
    const [store = '', action = ''] = name.split('.');
    this.perform(name, payload ?? this.checks[store]?.actions?.[action]?.default);
  }

  /** Puts whole stores back to what they were at the start. */
  reset(...stores: readonly string[]): void {
    for (const [name, atom] of this.atoms)
      if (stores.includes(name.split('.')[0] ?? '')) atom.reset();
  }

  #atomOf(store: string, field: string | undefined): Atom<unknown> {
    return this.atoms.get(field === undefined ? store : `${store}.${field}`) as Atom<unknown>;
  }

  read(store: string, field: string | undefined): unknown {
    return this.#atomOf(store, field).committed;
  }

  put(store: string, field: string | undefined, value: unknown): void {
    this.#atomOf(store, field).set(value);
  }

  renew(): void {
    for (const reading of this.readings) reading.tell();
  }

  /** The state of a store; if none is named, of all stores whose states were asked for before. */
  state<T>(store?: string): AtomView<T> {
    if (store === undefined) {
      const states = [...this.states];
      return this.derived('*', () => objectOf<T>(states));
    }
    const own = this.atomsOf(store);
    const state = this.atoms.get(store) ?? this.derived(store, () => objectOf<object>(own));
    this.states.set(store, state);
    return state as AtomView<T>;
  }

  /** The fields of a store. */
  atomsOf(store: string): (readonly [string, Atom<unknown>])[] {
    const own = [...this.atoms].filter(([name]) => name.startsWith(`${store}.`));
    return own.map(([name, atom]) => [name.slice(store.length + 1), atom]);
  }

  /** Notes that an action writes to an atom. */
  noteWrite(atom: Atom<unknown>, isFirst: boolean): void {
    if (!this.turns.isActing) throw new TypeError(`${atom.name} is changed by actions only.`);
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
    const type = this.checks[store]?.state;
    if (type === undefined || field === undefined) return type;
    return 'fields' in type ? type.fields[field] : undefined;
  }
}

/** No store has so many. */
const mostFields = 10_000;

/** An object of what nodes give. */
export const objectOf = <T>(nodes: readonly (readonly [string, AtomView<unknown>])[]): T =>
  Object.fromEntries(nodes.map(([name, node]) => [name, node.get()])) as T;
