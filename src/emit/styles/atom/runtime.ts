// A graph of atoms: one small unit of state each, and derived values that know what they read.
import {
  Draw,
  environmentOf,
  Turns,
  type Environment,
  type Options,
  type Outcome,
  type Problem,
} from '../../common/transaction.js';
import { Cell, GivenOut } from '../../common/cell.js';
import { Followed } from '../../common/followed.js';
import { freeze, same } from '../../common/values.js';
import { Watchers } from '../../common/watchers.js';

/** Reads an atom or a derived value, and remembers that it was read. */
export type Get = <T>(node: GraphNode<T>) => T;

/** Something that has a value: an atom, or what is derived from atoms. */
export abstract class GraphNode<T> extends Followed<T> {
  readonly name: string;
  /** What is computed from it and holds: each is told once that it may not hold any more. */
  readonly readers = new Set<Derived<unknown>>();
  protected readonly graph: Graph;

  constructor(graph: Graph, name: string) {
    super();
    this.graph = graph;
    this.name = name;
  }

  /** The value of now. */
  abstract get(): T;

  /** The value of now for what is computed from it: nothing is given out. */
  abstract read(): T;

  /** The value within a transaction. */
  abstract within(transaction: Transaction): T;

  override watch(changed: (now: T, before: T) => void): () => void {
    return this.graph.watchers.add(this.name, () => this.get(), changed);
  }

  override toJSON(): T {
    return this.get();
  }

  protected tell(): void {
    for (const reader of this.readers) reader.invalidate();
    this.readers.clear();
  }

  protected override report(problem: Problem): void {
    this.graph.report(problem);
  }
}

/** One unit of state. Only actions set it. */
export class Atom<T> extends GraphNode<T> {
  readonly #cell: Cell<T>;

  constructor(graph: Graph, name: string, initial: T) {
    super(graph, name);
    this.#cell = new Cell(graph.guarded(initial));
  }

  override get(): T {
    return this.#cell.value;
  }

  override read(): T {
    return this.#cell.value;
  }

  override within(): T {
    return this.#cell.within;
  }

  /** Sets the value within a transaction; false if it had set one before. */
  put(value: T): boolean {
    return this.#cell.put(value);
  }

  /** Ends a transaction, and keeps what it set if that is wanted; false if nothing is new. */
  settle(isKept: boolean): boolean {
    if (!this.#cell.settle(isKept, this.graph.environment.guard)) return false;
    this.tell();
    return true;
  }
}

/** A value computed from other nodes: when it is asked for, and only if one that it read has changed. */
export class Derived<T> extends GraphNode<T> {
  readonly #compute: (get: Get) => T;
  readonly #get: Get = (node) => this.#note(node);
  /** What was read for the last value, and what it was. */
  #sources: GraphNode<unknown>[] = [];
  #seen: unknown[] = [];
  #last: { readonly value: T } | undefined;
  readonly #given = new GivenOut<T>();
  #within:
    { readonly transaction: Transaction; readonly moment: number; readonly value: T } | undefined;
  #fresh = false;

  constructor(graph: Graph, name: string, compute: (get: Get) => T) {
    super(graph, name);
    this.#compute = compute;
  }

  override get(): T {
    return this.#given.of(this.read());
  }

  override read(): T {
    if (!this.#fresh) {
      if (this.#last === undefined || !this.#isUnchanged()) this.#renew();
      for (const source of this.#sources) source.readers.add(this);
      this.#fresh = true;
    }
    return (this.#last as { readonly value: T }).value;
  }

  override within(transaction: Transaction): T {
    const { moment } = transaction;
    if (moment === 0) return this.read();
    const known = this.#within;
    if (known?.transaction === transaction && known.moment === moment) return known.value;
    const value =
      this.#last !== undefined && this.#isUnchanged(transaction)
        ? this.#last.value
        : this.#compute(transaction.get);
    this.#within = { transaction, moment, value };
    return value;
  }

  /** A source may have changed: so may this, and what reads it. */
  invalidate(): void {
    if (!this.#fresh) return;
    this.#fresh = false;
    this.tell();
  }

  #renew(): void {
    const last = this.#last;
    this.#last = undefined;
    this.#sources = [];
    this.#seen = [];
    const value = this.#compute(this.#get);
    this.#last =
      last !== undefined && same(last.value, value) ? last : { value: this.graph.guarded(value) };
  }

  #note<V>(node: GraphNode<V>): V {
    const place = this.#sources.indexOf(node);
    if (place >= 0) return this.#seen[place] as V;
    const value = node.read();
    this.#sources.push(node);
    this.#seen.push(value);
    return value;
  }

  #isUnchanged(transaction?: Transaction): boolean {
    for (let i = 0; i < this.#sources.length; i++) {
      const source = this.#sources[i] as GraphNode<unknown>;
      const now = transaction === undefined ? source.read() : source.within(transaction);
      if (!Object.is(now, this.#seen[i])) return false;
    }
    return true;
  }
}

/** What an action reads and sets; nothing of it is seen outside before it is done. */
export class Transaction extends Draw {
  readonly #atoms: Atom<unknown>[] = [];
  #moment = 0;

  /** How often something was set. */
  get moment(): number {
    return this.#moment;
  }

  readonly get: Get = (node) => node.within(this);

  set<T>(atom: GraphNode<T>, value: NoInfer<T>): void {
    if (!(atom instanceof Atom)) throw new TypeError(`${atom.name} is computed: it is not set.`);
    this.#moment += 1;
    if (atom.put(value)) this.#atoms.push(atom);
  }

  /** Ends it, and keeps what was set if that is wanted; false if nothing is new. */
  settle(isKept: boolean): boolean {
    let changed = false;
    for (const atom of this.#atoms) if (atom.settle(isKept)) changed = true;
    return changed;
  }
}

/** The atoms of an application, with its actions and watchers. */
export class Graph {
  readonly environment: Environment;
  readonly watchers: Watchers;
  readonly #turns: Turns;

  constructor(options: Options) {
    this.environment = environmentOf(options);
    this.#turns = new Turns(this.environment, () => {
      this.watchers.round();
    });
    this.watchers = new Watchers((problem) => {
      this.report(problem);
    });
  }

  report(problem: Problem): void {
    this.#turns.report(problem);
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
      try {
        work(transaction);
      } catch (error) {
        transaction.settle(false);
        throw error;
      }
      return transaction.settle(true);
    });
  }

  guarded<T>(value: T): T {
    return this.environment.guard ? freeze(value) : value;
  }
}
