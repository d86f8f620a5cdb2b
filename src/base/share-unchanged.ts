import { isObject } from './json.js';
import { same } from './same.js';

/**
 * `after`, with every part that equals what had its place in `before` replaced by that very object:
 * `before` itself where nothing changed. Neither argument is changed.
 */
export function shareUnchanged<T>(before: unknown, after: T): T {
  if (before === after) return after;
  if (Array.isArray(before) && Array.isArray(after)) {
    let isWhole = before.length === after.length;
    let kept: unknown[] = after;
    for (let i = 0; i < after.length; i++) {
      const part: unknown = i < before.length ? shareUnchanged(before[i], after[i]) : after[i];
      if (i >= before.length || !Object.is(part, before[i])) isWhole = false;
      if (Object.is(part, after[i])) continue;
      if (kept === after) kept = [...(after as unknown[])];
      kept[i] = part;
    }
    return (isWhole ? before : kept) as T;
  }
  if (isObject(before) && isObject(after)) {
    const keys = Object.keys(after);
    let isWhole = keys.length === Object.keys(before).length;
    let kept = after;
    for (const key of keys) {
      const there = Object.hasOwn(before, key);
      const part = there ? shareUnchanged(before[key], after[key]) : after[key];
      if (!there || !Object.is(part, before[key])) isWhole = false;
      if (Object.is(part, after[key])) continue;
      if (kept === after) kept = { ...after };
      (kept as Record<string, unknown>)[key] = part;
    }
    return (isWhole ? before : kept) as T;
  }
  return same(before, after) ? (before as T) : after;
}
