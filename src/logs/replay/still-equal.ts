import { isObject } from '../../base/json.js';
import { same } from '../../base/same.js';

/** A value before and after something was done. */
export interface Pair {
  readonly before: unknown;
  readonly after: unknown;
}

/**
 * True if two values are equal after something, that were equal before: parts that both sides have kept are passed over,
 * and so are the beginnings and the ends of lists that both have kept.
 */
export function stillEqual(one: Pair, other: Pair): boolean {
  if (one.before === one.after && other.before === other.after) return true;
  const [a, b] = [one.after, other.after];
  if (Array.isArray(a) && Array.isArray(b)) return stillEqualLists(one, other, a, b);
  if (!isObject(a) || !isObject(b) || !isObject(one.before) || !isObject(other.before))
    return same(a, b);
  const keys = Object.keys(a);
  if (keys.length !== Object.keys(b).length) return false;
  const [was, wasOther] = [one.before, other.before];
  return keys.every(
    (key) =>
      Object.hasOwn(b, key) &&
      stillEqual({ before: was[key], after: a[key] }, { before: wasOther[key], after: b[key] }),
  );
}

function stillEqualLists(
  one: Pair,
  other: Pair,
  a: readonly unknown[],
  b: readonly unknown[],
): boolean {
  if (a.length !== b.length) return false;
  const [was, wasOther] = [one.before, other.before];
  if (!Array.isArray(was) || !Array.isArray(wasOther)) return same(a, b);
  const least = Math.min(was.length, a.length);
  let start = 0;
  while (start < least && a[start] === was[start] && b[start] === wasOther[start]) start += 1;
  let end = 0;
  while (
    end < least - start &&
    a[a.length - 1 - end] === was[was.length - 1 - end] &&
    b[b.length - 1 - end] === wasOther[wasOther.length - 1 - end]
  )
    end += 1;
  for (let i = start; i < a.length - end; i++) {
    const pairs = [
      { before: was[i] as unknown, after: a[i] },
      { before: wasOther[i] as unknown, after: b[i] },
    ] as const;
    if (!stillEqual(...pairs)) return false;
  }
  return true;
}
