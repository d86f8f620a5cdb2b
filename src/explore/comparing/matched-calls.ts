import { same } from '../../base/same.js';
import type { MadeCall } from '../playing/outside.js';

/** Calls that were made, with the number of the first among all calls of who made them, from 1. */
export interface NumberedCalls {
  readonly from: number;
  readonly calls: readonly MadeCall[];
}

/**
 * Which call of a participant is which of the first: those of one step that call the same operation with the same, in
 * whichever order they were made.
 */
export class MatchedCalls {
  readonly #own = new Map<number, number>();
  readonly #operations: ReadonlySet<string>;
  readonly #settled: (expected: unknown, actual: unknown) => unknown;

  /** `operations`: those that are compared; `settled`: what it called with, in the words of the first. */
  constructor(
    operations: ReadonlySet<string>,
    settled: (expected: unknown, actual: unknown) => unknown,
  ) {
    this.#operations = operations;
    this.#settled = settled;
  }

  /** The number that a call of the first has with the participant; `undefined` for one that it has not made. */
  ownOf(number: number): number | undefined {
    return this.#own.get(number);
  }

  /** Matches the calls of a step; gives those of the participant that are compared, in the order of the first. */
  match(first: NumberedCalls, own: NumberedCalls): readonly MadeCall[] {
    const left = this.#listed(own);
    const matched: (MadeCall | undefined)[] = this.#listed(first).map(() => undefined);
    // What is called with the same comes before what is called at all.
    for (const isSame of [this.#isSame, isOfOne])
      for (const [i, { number, call }] of this.#listed(first).entries()) {
        if (matched[i] !== undefined) continue;
        const at = left.findIndex((other) => isSame(call, other.call));
        if (at < 0) continue;
        const [found] = left.splice(at, 1);
        if (found === undefined) continue;
        this.#own.set(number, found.number);
        matched[i] = found.call;
      }
    return [...matched.filter((call) => call !== undefined), ...left.map(({ call }) => call)];
  }

  #listed({ from, calls }: NumberedCalls) {
    return calls
      .map((call, i) => ({ number: from + i, call }))
      .filter(({ call }) => this.#operations.has(call.operation));
  }

  readonly #isSame = (a: MadeCall, b: MadeCall): boolean =>
    isOfOne(a, b) && same(a.with, this.#settled(a.with, b.with));
}

const isOfOne = (a: MadeCall, b: MadeCall): boolean => a.operation === b.operation;
