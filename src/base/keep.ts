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
    const keys = Object.keys(after);
    let isWhole = keys.length === Object.keys(before).length;
    const entries = keys.map((key) => {
      const there = Object.hasOwn(before, key);
      const part = there ? keep(before[key], after[key]) : after[key];
      isWhole &&= there && Object.is(part, before[key]);
      return [key, part] as const;
    });
    return isWhole ? (before as T) : (Object.fromEntries(entries) as T);
  }
  return same(before, after) ? (before as T) : after;
}
