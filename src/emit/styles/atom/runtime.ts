// A graph of atoms: one small unit of state each, and derived values that know what they read.
import {
  Draw,
  environmentOf,
  Turns,
  type Environment,
  type Options,
  type Outcome,
} from '../../common/transaction.js';
import { freeze, keep, same } from '../../common/values.js';
import { Watchers } from '../../common/watchers.js';

/** Reads an atom or a derived value, and remembers that it was read. */
export type Get = <T>(node: GraphNode<T>) => T;

/** Something that has a value: an atom, or what is derived from atoms. */
export interface GraphNode<T> {
  readonly name: string;
  /** The value of now. */
  get(): T;
  /** Calls back after every change. */
  watch(changed: (now: T, before: T) => void): () => void;
  /** The value within a transaction. */
  within(transaction: Transaction): T;
}

/** One unit of state. Only actions set it. */
export class Atom<T> implements GraphNode<T> {
  readonly name: string;
  readonly readers = new Set<Derived<unknown>>();
  readonly #graph: Graph;
  #value: T;

  constructor(graph: Graph, name: string, initial: T) {
    this.#graph = graph;
    this.name = name;
    this.#value = graph.guarded(initial);
  }

  get(): T {
    return this.#value;
  }

  watch(changed: (now: T, before: T) => void): () => void {
    return this.#graph.watchers.add(this.name, () => this.#value, changed);
  }

  within(transaction: Transaction): T {
    return transaction.valueOf(this);
  }

  /** Takes a new value at the end of a transaction; false if it equals the old one. */
  settle(value: T): boolean {
    const kept = keep(this.#value, value);
    if (kept === this.#value) return false;
    this.#value = this.#graph.guarded(kept);
    for (const reader of this.readers) reader.invalidate();
    return true;
  }
}

/** A value computed from other nodes: when it is asked for, and only if one that it read has changed. */
export class Derived<T> implements GraphNode<T> {
  readonly name: string;
  readonly readers = new Set<Derived<unknown>>();
  readonly #graph: Graph;
  readonly #compute: (get: Get) => T;
  readonly #sources = new Map<
    GraphNode<unknown> & { readonly readers: Set<Derived<unknown>> },
    unknown
  >();
  #last: { readonly value: T } | undefined;
  #fresh = false;

  constructor(graph: Graph, name: string, compute: (get: Get) => T) {
    this.#graph = graph;
    this.name = name;
    this.#compute = compute;
  }

  get(): T {
    if (this.#last !== undefined && (this.#fresh || this.#isUnchanged())) {
      this.#fresh = true;
      return this.#last.value;
    }
    for (const source of this.#sources.keys()) source.readers.delete(this);
    this.#sources.clear();
    const value = this.#graph.guarded(this.#compute((node) => this.#read(node)));
    this.#last = this.#last !== undefined && same(this.#last.value, value) ? this.#last : { value };
    this.#fresh = true;
    return this.#last.value;
  }

  watch(changed: (now: T, before: T) => void): () => void {
    return this.#graph.watchers.add(this.name, () => this.get(), changed);
  }

  within(transaction: Transaction): T {
    return transaction.isClean ? this.get() : transaction.remember(this, this.#compute);
  }

  /** A source may have changed: so may this, and what reads it. */
  invalidate(): void {
    if (!this.#fresh) return;
    this.#fresh = false;
    for (const reader of this.readers) reader.invalidate();
  }

  #read<V>(node: GraphNode<V>): V {
    const value = node.get();
    if (node instanceof Atom || node instanceof Derived) {
      this.#sources.set(node, value);
      node.readers.add(this);
    }
    return value;
  }

  #isUnchanged(): boolean {
    for (const [source, seen] of this.#sources) if (!Object.is(source.get(), seen)) return false;
    return true;
  }
}

/** What an action reads and sets; nothing of it is seen outside before it is done. */
export class Transaction extends Draw {
  readonly #set = new Map<
    Atom<unknown>,
    { readonly value: unknown; readonly settle: () => boolean }
  >();
  readonly #derived = new Map<GraphNode<unknown>, unknown>();

  /** Whether nothing has been set yet. */
  get isClean(): boolean {
    return this.#set.size === 0;
  }

  readonly get: Get = (node) => node.within(this);

  readonly set = <T>(atom: GraphNode<T>, value: NoInfer<T>): void => {
    if (!(atom instanceof Atom)) throw new TypeError(`${atom.name} is computed: it is not set.`);
    this.#set.set(atom, { value, settle: () => atom.settle(value) });
    this.#derived.clear();
  };

  valueOf<T>(atom: Atom<T>): T {
    const set = this.#set.get(atom);
    return set === undefined ? atom.get() : (set.value as T);
  }

  remember<T>(node: GraphNode<T>, compute: (get: Get) => T): T {
    if (!this.#derived.has(node)) this.#derived.set(node, compute(this.get));
    return this.#derived.get(node) as T;
  }

  /** Keeps what was set; the atoms that changed. */
  settle(): readonly Atom<unknown>[] {
    return [...this.#set].filter(([, { settle }]) => settle()).map(([atom]) => atom);
  }
}

/** The atoms of an application, with its actions and watchers. */
export class Graph {
  readonly environment: Environment;
  readonly watchers: Watchers;
  readonly #turns: Turns;

  constructor(options: Options) {
    this.environment = environmentOf(options);
    this.#turns = new Turns(this.environment);
    this.watchers = new Watchers(this.#turns);
  }

  atom<T>(name: string, initial: T): Atom<T> {
    return new Atom(this, name, initial);
  }

  derived<T>(name: string, compute: (get: Get) => T): Derived<T> {
    return new Derived(this, name, compute);
  }

  /** Does an action in one transaction: all of it or nothing. */
  act(name: string, work: (transaction: Transaction) => void): Outcome {
    return this.#turns.take(name, () => {
      const transaction = new Transaction(this.environment);
      work(transaction);
      const changed = transaction.settle();
      return () => {
        if (changed.length > 0) this.watchers.round();
      };
    });
  }

  guarded<T>(value: T): T {
    return this.environment.guard ? freeze(value) : value;
  }
}
