import { escapePointer } from '../base/json.js';
import { same } from '../base/same.js';

/** How deep unchanged parts stay the same objects: all stores, a store, a field, and what stands in it. */
const levels = 3;

/**
 * Where parts of a state that did not change are other objects than before, as JSON Pointers: the
 * outermost of each. Of two equal items of one list either may stand at a place.
 */
export function lostIdentity(before: unknown, now: unknown): string[] {
  const lost: string[] = [];
  visit(before, now, '', 0, lost);
  return lost;
}

function visit(before: unknown, now: unknown, at: string, level: number, lost: string[]): void {
  if (before === now || !isObject(before) || !isObject(now)) return;
  if (same(before, now)) {
    lost.push(at);
    return;
  }
  if (level === levels || Array.isArray(before) !== Array.isArray(now)) return;
  for (const key of Object.keys(now)) {
    const part = now[key];
    if (!Object.hasOwn(before, key) || before[key] === part) continue;
    if (Array.isArray(before) && before.includes(part)) continue;
    visit(before[key], part, `${at}/${escapePointer(key)}`, level + 1, lost);
  }
}

/** Which derived values are equal to what was given out before, but another object. */
export function regivenDerived(before: unknown, now: unknown): string[] {
  if (!isObject(before) || !isObject(now)) return [];
  return Object.keys(now).flatMap((store) => {
    const [old, own] = [before[store], now[store]];
    // The answer to a question stands beside the stores.
    if (store.includes('(')) return isRegiven(old, own) ? [store] : [];
    if (!isObject(old) || !isObject(own)) return [];
    return Object.keys(own)
      .filter((name) => isRegiven(old[name], own[name]))
      .map((name) => `${store}.${name}`);
  });
}

const isRegiven = (old: unknown, own: unknown): boolean =>
  isObject(old) && isObject(own) && old !== own && same(old, own);

function isObject(value: unknown): value is Readonly<Record<string, unknown>> {
  return typeof value === 'object' && value !== null;
}
