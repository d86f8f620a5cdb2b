import { isObject } from './json.js';
import { same } from './same.js';

/**
 * `after`, with every part that equals what had its place in `before` replaced by that very object:
 * `before` itself where nothing changed. Neither argument is changed.
 */
export function keep<T>(before: unknown, after: T): T {
  if (before === after) return after;
  if (Array.isArray(before) && Array.isArray(after)) {
    const kept = after.map((item: unknown, i) =>
      i < before.length ? keep(before[i], item) : item,
    );
    const whole =
      kept.length === before.length && kept.every((item, i) => Object.is(item, before[i]));
    return (whole ? before : kept) as T;
  }
  if (isObject(before) && isObject(after)) {
    if (same(before, after)) return before as T;
    const entries = Object.entries(after).map(([key, value]) => [
      key,
      Object.hasOwn(before, key) ? keep(before[key], value) : value,
    ]);
    return Object.fromEntries(entries) as T;
  }
  return same(before, after) ? (before as T) : after;
}
