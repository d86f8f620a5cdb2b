// Fields, and what is computed from them: every read is noted.
import { Cell, GivenOut } from '../../common/cell.js';
import { freeze, same } from '../../common/values.js';
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
  #count = 0;

  /** Begins anew; what is written over does not cost a thing. */
  clear(): void {
    this.#count = 0;
  }

  add(what: Readable, seen: unknown): void {
    for (let i = 0; i < this.#count; i++) if (this.#of[i] === what) return;
    this.#of[this.#count] = what;
    this.#seen[this.#count++] = seen;
  }

  /** Forgets what was read before and is not read any more. */
  trim(): void {
    if (this.#of.length > this.#count) this.#of.length = this.#seen.length = this.#count;
  }

  /** Whether all of it is still what it was. */
  hold(look: (what: Readable) => unknown): boolean {
    for (let i = 0; i < this.#count; i++)
      if (!Object.is(look(this.#of[i] as Readable), this.#seen[i])) return false;
    return true;
  }
}

const peek = (what: Readable): unknown => what.peek();
const within = (what: Readable): unknown => what.within();

/** Knows who is reading, and when something was written. */
export class Tracker {
  readonly guard: boolean;
  #moment = 0;
  #written = 0;
  #begun = 0;
  #reads: Reads | undefined;

  constructor(guard: boolean) {
    this.guard = guard;
  }

  /** Counts the actions that changed something. */
  get moment(): number {
    return this.#moment;
  }

  /** Counts what actions write. */
  get written(): number {
    return this.#written;
  }

  /** Whether an action is under way that has written something. */
  get isWritten(): boolean {
    return this.#written > this.#begun;
  }

  /** Notes that an action begins or ends; `changed` says whether it changed anything. */
  turn(changed = false): void {
    this.#begun = this.#written;
    if (changed) this.#moment += 1;
  }

  /** Notes that an action writes something. */
  write(): void {
    this.#written += 1;
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
      reads.trim();
    }
  }

  guarded<T>(value: T): T {
    return this.guard ? freeze(value) : value;
  }
}

/** A field of a store. */
export class Field implements Readable {
  readonly #tracker: Tracker;
  readonly #cell: Cell<unknown>;
  #node: DraftNode | undefined;

  constructor(tracker: Tracker, initial: unknown) {
    this.#tracker = tracker;
    this.#cell = new Cell(tracker.guarded(initial));
  }

  get(): unknown {
    return this.read();
  }

  read(): unknown {
    const { value } = this.#cell;
    this.#tracker.note(this, value);
    return value;
  }

  peek(): unknown {
    return this.#cell.value;
  }

  within(): unknown {
    return this.#cell.within;
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
    if (this.#cell.put(value)) drafting.changed.push(this);
  }

  /** Ends an action, and keeps what it made of the field if that is wanted; false if nothing is new. */
  settle(isKept: boolean): boolean {
    this.#node = undefined;
    return this.#cell.settle(isKept, this.#tracker.guard);
  }
}

/** What is computed: anew only if something that was read for it has changed, and the same object if equal. */
export class Tracked<T> implements Readable {
  readonly #tracker: Tracker;
  readonly #compute: () => T;
  readonly #computeWithin: () => T;
  readonly #reads = new Reads();
  #hasResult = false;
  #result: T | undefined;
  readonly #given = new GivenOut<T>();
  #within: { readonly written: number; readonly result: T } | undefined;
  /** The moment for which the last result is known to hold. */
  #moment = -1;

  constructor(tracker: Tracker, compute: () => T, computeWithin: () => T = compute) {
    this.#tracker = tracker;
    this.#compute = compute;
    this.#computeWithin = computeWithin;
  }

  get(): T {
    return this.#given.of(this.read());
  }

  read(): T {
    const result = this.peek();
    this.#tracker.note(this, result);
    return result;
  }

  within(): T {
    const { written, isWritten } = this.#tracker;
    if (!isWritten) return this.peek();
    if (this.#within?.written === written) return this.#within.result;
    const result =
      this.#hasResult && this.#reads.hold(within) ? (this.#result as T) : this.#computeWithin();
    this.#within = { written, result };
    return result;
  }

  peek(): T {
    const tracker = this.#tracker;
    if (this.#hasResult && (this.#moment === tracker.moment || this.#reads.hold(peek))) {
      this.#moment = tracker.moment;
      return this.#result as T;
    }
    const had = this.#hasResult;
    this.#hasResult = false;
    const result = tracker.noting(this.#reads, this.#compute);
    if (!had || !same(this.#result, result)) this.#result = tracker.guarded(result);
    this.#hasResult = true;
    this.#moment = tracker.moment;
    return this.#result as T;
  }
}
