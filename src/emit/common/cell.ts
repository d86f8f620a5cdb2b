// Where the value of a field stands, and what has been given out of a computed one.
import { keep, same } from './values.js';

/** The value of a field, and what the transaction under way makes of it. */
export class Cell<T> {
  #value: T;
  #next: { readonly value: T } | undefined;

  constructor(initial: T) {
    this.#value = initial;
  }

  /** The last committed value. */
  get value(): T {
    return this.#value;
  }

  /** The value within the transaction. */
  get within(): T {
    return this.#next === undefined ? this.#value : this.#next.value;
  }

  /** Sets the value within the transaction; false if it had set one before. */
  put(value: T): boolean {
    const isFirst = this.#next === undefined;
    this.#next = { value };
    return isFirst;
  }

  /** Ends the transaction, and keeps what it set if that is wanted; false if nothing is new. */
  settle(isKept: boolean, guard: boolean): boolean {
    const next = this.#next;
    this.#next = undefined;
    if (!isKept || next === undefined) return false;
    const before = this.#value;
    this.#value = keep(before, next.value, guard);
    return this.#value !== before;
  }
}

/** What is given out of a computed value: the same object as long as it is equal. */
export class GivenOut<T> {
  #of: T | undefined;
  #out: T | undefined;

  of(value: T): T {
    if (typeof value !== 'object' || value === null) return value;
    if (value !== this.#of) {
      this.#of = value;
      if (!same(this.#out, value)) this.#out = value;
    }
    return this.#out as T;
  }
}
