import { same } from '../../base/same.js';

/**
 * Compares what two participants show step after step, as long as it is equal: parts that both have kept as
 * the same objects since the step before are not compared again. That rests on a promise that is itself to be
 * checked, so some steps are compared in full: a list that is changed in place is the same object still.
 */
export class FollowEqual {
  #expected: unknown;
  #actual: unknown;

  /** True if both are equal now; `isFull` compares everything. */
  isEqual(expected: unknown, actual: unknown, isFull: boolean): boolean {
    const equal = isFull
      ? same(expected, actual)
      : sameSince(expected, actual, this.#expected, this.#actual);
    this.#expected = expected;
    this.#actual = actual;
    return equal;
  }

  /** Goes on from two values that are known to be equal. */
  assume(expected: unknown, actual: unknown): void {
    this.#expected = expected;
    this.#actual = actual;
  }
}

/** True if two values are equal, given that what they were before is known to be. */
export function sameSince(a: unknown, b: unknown, aBefore: unknown, bBefore: unknown): boolean {
  if (a === b) return true;
  if (!isObject(a) || !isObject(b)) return same(a, b);
  if (a === aBefore && b === bBefore) return true;
  if (!isObject(aBefore) || !isObject(bBefore) || Array.isArray(a) !== Array.isArray(b))
    return same(a, b);
  const keys = Object.keys(a);
  if (keys.length !== Object.keys(b).length) return false;
  for (const key of keys)
    if (!Object.hasOwn(b, key) || !sameSince(a[key], b[key], aBefore[key], bBefore[key]))
      return false;
  return true;
}

function isObject(value: unknown): value is Readonly<Record<string, unknown>> {
  return typeof value === 'object' && value !== null;
}
