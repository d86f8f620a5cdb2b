import { escapePointer } from '../../base/json.js';
import { same } from '../../base/same.js';
import type { DerivedShown } from '../playing/derived-shown.js';

/** How deep unchanged parts stay the same objects: all stores, a store, a field, and what stands in it. */
const levels = 3;

/**
 * Where parts of a state that did not change are other objects than before, as JSON Pointers: the
 * outermost of each. Of two equal items of one list either may stand at a place.
 */
export function lostIdentity(before: unknown, now: unknown): string[] {
  const lost: string[] = [];
  visit(before, now, [], lost);
  return lost;
}

function visit(before: unknown, now: unknown, at: readonly string[], lost: string[]): void {
  if (before === now || !isObject(before) || !isObject(now)) return;
  if (same(before, now)) {
    lost.push(at.map((key) => `/${escapePointer(key)}`).join(''));
    return;
  }
  if (at.length === levels || Array.isArray(before) !== Array.isArray(now)) return;
  for (const key of Object.keys(now)) {
    const part = now[key];
    if (!Object.hasOwn(before, key) || before[key] === part) continue;
    if (Array.isArray(before) && before.includes(part)) continue;
    visit(before[key], part, [...at, key], lost);
  }
}

/** Which derived values are equal to what was given out before, but another object. */
export function regivenDerived(before: DerivedShown, now: DerivedShown): string[] {
  const lost: string[] = [];
  if (isObject(before.values) && isObject(now.values))
    for (const [store, own] of Object.entries(now.values)) {
      const old = before.values[store];
      if (!isObject(old) || !isObject(own)) continue;
      for (const name of Object.keys(own))
        if (isRegiven(old[name], own[name])) lost.push(`${store}.${name}`);
    }
  for (const [i, { text }] of now.asked.entries()) {
    const place = before.asked.findIndex((question) => question.text === text);
    if (isRegiven(before.answers[place], now.answers[i])) lost.push(text);
  }
  return lost;
}

const isRegiven = (old: unknown, own: unknown): boolean =>
  isObject(old) && isObject(own) && old !== own && same(old, own);

function isObject(value: unknown): value is Readonly<Record<string, unknown>> {
  return typeof value === 'object' && value !== null;
}
