// Fields, and what is computed from them: every read is noted.
import { freeze, keep, same } from '../../common/values.js';
import { DraftNode, type Drafting } from './draft.js';

/** Something that can be read. */
export interface Readable {
  /** What it gives to those outside; the read is noted. */
  get(): unknown;
  /** What it gives to what is computed from it: the read is noted, but nothing is given out. */
  read(): unknown;
  /** What it gives to who only looks whether it has changed. */
  peek(): unknown;
  /** What it is in the middle of an action. */
  within(): unknown;
}

/** What was read for a result, and what it was. */
class Reads {
  readonly #of: Readable[] = [];
  readonly #seen: unknown[] = [];

  clear(): void {
    this.#of.length = 0;
    this.#seen.length = 0;
  }

  add(what: Readable, seen: unknown): void {
    if (this.#of.includes(what)) return;
    this.#of.push(what);
    this.#seen.push(seen);
  }

  /** Whether all of it is still what it was. */
  hold(look: (what: Readable) => unknown): boolean {
    for (let i = 0; i < this.#of.length; i++)
      if (!Object.is(look(this.#of[i] as Readable), this.#seen[i])) return false;
    return true;
  }
}

const peek = (what: Readable): unknown => what.peek();
const within = (what: Readable): unknown => what.within();

/** Knows who is reading, and when something was written. */
export class Tracker {
  readonly guard: boolean;
  /** Counts the transactions that changed something. */
  moment = 0;
  /** Counts what actions write; those of the action under way are above `begun`. */
  written = 0;
  begun = 0;
  #reads: Reads | undefined;

  constructor(guard: boolean) {
    this.guard = guard;
  }

  /** Notes that something was read. */
  note(what: Readable, seen: unknown): void {
    this.#reads?.add(what, seen);
  }

  /** What `compute` gives; what it reads is noted. */
  noting<T>(reads: Reads, compute: () => T): T {
    const outer = this.#reads;
    reads.clear();
    this.#reads = reads;
    try {
      return compute();
    } finally {
      this.#reads = outer;
    }
  }

  guarded<T>(value: T): T {
    return this.guard ? freeze(value) : value;
  }
}

/** A field of a store. */
export class Field implements Readable {
  readonly #tracker: Tracker;
  #value: unknown;
  /** What the action under way has made of it. */
  #next: { readonly value: unknown } | undefined;
  #node: DraftNode | undefined;

  constructor(tracker: Tracker, initial: unknown) {
    this.#tracker = tracker;
    this.#value = tracker.guarded(initial);
  }

  get(): unknown {
    return this.read();
  }

  read(): unknown {
    this.#tracker.note(this, this.#value);
    return this.#value;
  }

  peek(): unknown {
    return this.#value;
  }

  within(): unknown {
    return this.#next === undefined ? this.#value : this.#next.value;
  }

  /** The field as an action changes it. */
  draft(drafting: Drafting): unknown {
    const value = this.within();
    if (typeof value !== 'object' || value === null) return value;
    if (this.#node?.latest !== value || this.#node.drafting !== drafting)
      this.#node = new DraftNode(drafting, value, (_old, copy) => {
        this.#put(copy, drafting);
      });
    return this.#node.proxy;
  }

  set(value: unknown, drafting: Drafting): void {
    drafting.noteWrite();
    this.#put(drafting.plain(value), drafting);
  }

  #put(value: unknown, drafting: Drafting): void {
    if (this.#next === undefined) drafting.changed.push(this);
    this.#next = { value };
  }

  /** Ends an action, and keeps what it made of the field if that is wanted; false if nothing is new. */
  settle(isKept: boolean): boolean {
    const next = this.#next;
    this.#next = undefined;
    this.#node = undefined;
    if (!isKept || next === undefined) return false;
    const before = this.#value;
    this.#value = keep(before, next.value, this.#tracker.guard);
    return this.#value !== before;
  }
}

/** What is computed: anew only if something that was read for it has changed, and the same object if equal. */
export class Tracked<T> implements Readable {
  readonly #tracker: Tracker;
  readonly #compute: () => T;
  readonly #computeWithin: () => T;
  readonly #reads = new Reads();
  #last: { readonly result: T } | undefined;
  #given: { readonly of: T; readonly out: T } | undefined;
  /** The moment for which what was given out last is known to hold. */
  #givenAt = -1;
  #within: { readonly written: number; readonly result: T } | undefined;
  /** The moment for which the last result is known to hold. */
  #moment = -1;

  constructor(tracker: Tracker, compute: () => T, computeWithin: () => T = compute) {
    this.#tracker = tracker;
    this.#compute = compute;
    this.#computeWithin = computeWithin;
  }

  get(): T {
    const result = this.read();
    const given = this.#given;
    if (given !== undefined && this.#givenAt === this.#tracker.moment) return given.out;
    this.#givenAt = this.#tracker.moment;
    if (given !== undefined && Object.is(given.of, result)) return given.out;
    const out = given !== undefined && same(given.out, result) ? given.out : result;
    this.#given = { of: result, out };
    return out;
  }

  read(): T {
    const result = this.peek();
    this.#tracker.note(this, result);
    return result;
  }

  within(): T {
    const { written, begun } = this.#tracker;
    if (written === begun) return this.peek();
    if (this.#within?.written === written) return this.#within.result;
    const last = this.#last;
    const result =
      last !== undefined && this.#reads.hold(within) ? last.result : this.#computeWithin();
    this.#within = { written, result };
    return result;
  }

  peek(): T {
    const tracker = this.#tracker;
    const last = this.#last;
    if (last !== undefined && this.#moment === tracker.moment) return last.result;
    if (last !== undefined && this.#reads.hold(peek)) {
      this.#moment = tracker.moment;
      return last.result;
    }
    this.#last = undefined;
    const result = tracker.noting(this.#reads, this.#compute);
    const isEqual = last !== undefined && same(last.result, result);
    this.#last = isEqual ? last : { result: tracker.guarded(result) };
    this.#moment = tracker.moment;
    return this.#last.result;
  }
}
