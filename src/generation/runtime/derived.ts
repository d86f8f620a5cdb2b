// Derived values: computed when they are asked for, and again only if what was read for them has changed.
import { Remembered, textOf } from './arguments.js';
import { freeze, same } from './values.js';

/** The state of all stores, by store: an object of fields, or a store's one value. */
export type States = Readonly<Record<string, unknown>>;

/** How a value is computed from the stores as they are read; `args` if it has parameters. */
type Compute = (app: never, ...args: never[]) => unknown;

/** How the derived values of a store are computed, from an application that is read as `App`. */
export type DerivedBy<App, Derived> = {
  readonly [Name in keyof Derived]: Derived[Name] extends (...args: infer Args) => infer Value
    ? (app: App, ...args: Args) => Value
    : (app: App) => Derived[Name];
};

/** What a store is at the start, and how its derived values are computed. */
export interface DerivingStore {
  readonly initial: unknown;
  /** True if it is one value, not an object of fields. */
  readonly isValue?: boolean;
  readonly derived?: Readonly<Record<string, Compute>>;
}

/** A state that derived values are asked for, and how often it has been written to. */
export interface At {
  readonly states: States;
  readonly version: number;
  /** True if an action asks, in the middle of its transaction: then nothing is given out. */
  readonly isInside: boolean;
  /** What can be read beside them: another object each time that it is not what it was. */
  readonly beside: object;
}

/** Gives a derived value for a state. */
type Value = (at: At, args: readonly unknown[]) => unknown;

/** Something that was read for a value, and what it was. */
interface Read {
  readonly of: (at: At) => unknown;
  readonly seen: unknown;
}

/** What was computed, from what. */
interface Memory {
  states: States;
  /** For what an action computed from working copies: they may be written to again. */
  readonly version: number | undefined;
  readonly reads: readonly Read[];
  readonly value: unknown;
  beside: object;
}

/** The derived values of an application. */
export class Derivations {
  /** The stores with their fields and derived values, as computing reads them. */
  readonly app: Record<string, object> = {};
  readonly #values = new Map<string, ReadonlyMap<string, Value>>();
  readonly #guard: boolean;
  readonly #now: () => At;
  readonly #views: Record<string, object> = {};
  #at: At | undefined;
  #reads: Read[] | undefined;

  /** `now`: the state that is read while nothing is computed. */
  constructor(guard: boolean, now: () => At) {
    this.#guard = guard;
    this.#now = now;
  }

  /** What is derived in a store, by name: each gives its value for a state. */
  values(store: string): ReadonlyMap<string, Value> {
    return this.#values.get(store) ?? new Map<string, Value>();
  }

  /** What a store is read as that is there. */
  view(store: string): object {
    return this.#views[store] as object;
  }

  /** Adds a store, with what is derived in it. */
  add(store: string, { initial, isValue = false, derived = {} }: DerivingStore): void {
    const view = {};
    for (const field of isValue ? ['value'] : Object.keys(initial as States)) {
      const of = ({ states }: At): unknown =>
        isValue ? states[store] : (states[store] as States)[field];
      Object.defineProperty(view, field, { enumerable: true, get: () => this.read(of) });
    }
    const values = new Map<string, Value>();
    for (const [name, compute] of Object.entries(derived)) {
      // A function that takes more than the stores is a value for each combination of arguments.
      const hasParameters = compute.length > 1;
      const known = hasParameters ? new Remembered<DerivedValue>() : undefined;
      const own = new DerivedValue();
      const value = (at: At, args: readonly unknown[]): unknown =>
        this.#ask(known === undefined ? own : valueFor(args, known), compute, args, at);
      values.set(name, value);
      // The same function at each reading: who reads it alone reads nothing new.
      const asked = (...args: readonly unknown[]) => this.read((at) => value(at, args));
      const of = (at: At): unknown => value(at, none);
      const get = hasParameters ? () => asked : () => this.read(of);
      Object.defineProperty(view, name, { enumerable: true, get });
    }
    this.#values.set(store, values);
    this.#views[store] = view;
    // One that is attached later is found there already.
    if (!Object.hasOwn(this.app, store)) this.app[store] = view;
  }

  /** Adds something that can be read beside the states. */
  addReading(onto: object, name: string, of: () => unknown): void {
    Object.defineProperty(onto, name, { enumerable: true, get: () => this.read(of) });
  }

  /** Gives what a function reads: computed anew only if something that it read has changed. */
  tracked<T>(read: () => T): () => T {
    const own = new DerivedValue();
    return () => this.read((at) => this.#ask(own, read, none, at)) as T;
  }

  /** Reads something now, or for the value that is being computed: then it is noted. */
  read(of: (at: At) => unknown): unknown {
    const reads = this.#reads;
    if (reads === undefined) return of(this.#now());
    for (const read of reads) if (read.of === of) return read.seen;
    const seen = of(this.#at as At);
    reads.push({ of, seen });
    return seen;
  }

  #ask(value: DerivedValue, compute: Compute, args: readonly unknown[], at: At): unknown {
    const { given, inside } = value;
    if (given !== undefined && holds(given, at)) return given.value;
    let memory = inside;
    if (memory === undefined || !holds(memory, at)) {
      memory = this.#compute(compute, args, at);
      if (given !== undefined && same(given.value, memory.value))
        memory = { ...memory, value: given.value };
    }
    if (at.isInside || this.#reads !== undefined) value.inside = memory;
    else {
      // Not before: an action may still be at work on what it computed from.
      if (this.#guard) freeze(memory.value);
      value.given = { ...memory, version: undefined };
      value.inside = undefined;
    }
    return memory.value;
  }

  #compute(compute: Compute, args: readonly unknown[], at: At): Memory {
    const [outerAt, outerReads] = [this.#at, this.#reads];
    const reads: Read[] = [];
    this.#at = at;
    this.#reads = reads;
    try {
      const value = compute(this.app as never, ...(args as never[]));
      const version = at.isInside ? at.version : undefined;
      return { states: at.states, beside: at.beside, version, reads, value };
    } finally {
      this.#at = outerAt;
      this.#reads = outerReads;
    }
  }
}

const none: readonly unknown[] = [];

/** What is remembered of a value: as it was last given out, and as an action, or another value, has seen it. */
class DerivedValue {
  given: Memory | undefined = undefined;
  inside: Memory | undefined = undefined;
}

function valueFor(args: readonly unknown[], known: Remembered<DerivedValue>): DerivedValue {
  const text = textOf(args);
  let value = known.get(text);
  if (value === undefined) known.set(text, (value = new DerivedValue()));
  return value;
}

/** True if what was read is still the same. */
function holds(memory: Memory, at: At): boolean {
  const { version } = memory;
  if (version !== undefined && version !== at.version) return false;
  if (memory.states === at.states && memory.beside === at.beside) return true;
  for (const { of, seen } of memory.reads) if (!Object.is(of(at), seen)) return false;
  // An action may go on writing to its states.
  memory.beside = at.beside;
  if (!at.isInside) memory.states = at.states;
  return true;
}
