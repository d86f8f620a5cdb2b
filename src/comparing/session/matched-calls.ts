import { same } from '../../base/same.js';
import type { Abilities } from '../../model/participant.js';
import type { MadeCall } from '../playing/outside.js';

/** Calls that were made, with the number of the first among all calls of who made them, from 1. */
export interface NumberedCalls {
  readonly from: number;
  readonly calls: readonly MadeCall[];
}

/** The calls of a step that are compared. */
export interface ComparedCalls {
  readonly first: readonly MadeCall[];
  readonly own: readonly MadeCall[];
}

/**
 * Which call of a participant is which of the first: those of one step that call the same operation with the same, in
 * whichever order they were made.
 */
export class MatchedCalls {
  readonly #own = new Map<number, number>();
  readonly #operations: ReadonlySet<string>;
  readonly #shared: ReadonlySet<string>;
  readonly #settled: (expected: unknown, actual: unknown) => unknown;

  /**
   * `operations`: those that are compared; `sharedOperations`: those of them that tasks call, too, which the participant leaves
   * out; `settled`: what it called with, in the words of the first.
   */
  constructor(
    { operations, sharedOperations }: Pick<Abilities, 'operations' | 'sharedOperations'>,
    settled: (expected: unknown, actual: unknown) => unknown,
  ) {
    this.#operations = operations;
    this.#shared = sharedOperations;
    this.#settled = settled;
  }

  /** The number that a call of the first has with the participant; `undefined` for one that it has not made. */
  ownOf(number: number): number | undefined {
    return this.#own.get(number);
  }

  /**
   * Matches the calls of a step; gives those that are compared, in the order of the first. Of an operation that left-out tasks
   * call, too, a call that only one side makes may be of theirs: it is none of them.
   */
  match(first: NumberedCalls, own: NumberedCalls): ComparedCalls {
    const left = this.#listed(own);
    const all = this.#listed(first);
    const matched: (MadeCall | undefined)[] = all.map(() => undefined);
    // What is called with the same comes before what is called at all.
    for (const isSame of [this.#isSame, isOfOne])
      for (const [i, { number, call }] of all.entries()) {
        if (matched[i] !== undefined || (isSame === isOfOne && this.#isShared(call))) continue;
        const at = left.findIndex((other) => isSame(call, other.call));
        if (at < 0) continue;
        const [found] = left.splice(at, 1);
        if (found === undefined) continue;
        this.#own.set(number, found.number);
        matched[i] = found.call;
      }
    const others = left.map(({ call }) => call).filter((call) => !this.#isShared(call));
    return {
      first: all
        .filter(({ call }, i) => matched[i] !== undefined || !this.#isShared(call))
        .map(({ call }) => call),
      own: [...matched.filter((call) => call !== undefined), ...others],
    };
  }

  #isShared({ operation }: MadeCall): boolean {
    return this.#shared.has(operation);
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
