import { isObject } from '../../base/json.js';
import { same } from '../../base/same.js';
import { reasons } from '../../model/participant.js';
import { sameSince } from '../playing/follow-equal.js';
import type { Notice } from '../playing/player-watchers.js';

/** True if two calls of watchers are the same; `known` holds values that were found equal, and is added to. */
export function isSameNotice(
  a: Notice,
  b: Notice,
  isFull: boolean,
  known: WeakMap<object, unknown>,
): boolean {
  if (a.watcher !== b.watcher) return false;
  if (isFull) return same(a.now, b.now) && same(a.before, b.before);
  const isKnown = isObjectOrList(a.before) && known.get(a.before) === b.before;
  if (!isKnown && !same(a.before, b.before)) return false;
  if (!sameSince(a.now, b.now, a.before, b.before)) return false;
  if (isObjectOrList(a.now)) known.set(a.now, b.now);
  return true;
}

const isObjectOrList = (value: unknown): value is object =>
  typeof value === 'object' && value !== null;

/** An outcome, with what is left unsaid as it is expected: a participant may leave out the reason, or all of it. */
export function asTold(expected: unknown, actual: unknown): unknown {
  if (actual === undefined) return expected;
  const isOfOne = isObject(expected) && isObject(actual) && actual.status === expected.status;
  return isOfOne ? { ...expected, ...actual } : actual;
}

/** True if something was refused. */
export function isRefused(outcome: unknown): boolean {
  return isObject(outcome) && outcome.status === 'refused';
}

/** True if an action was refused since something does not fit its type. */
export function isMisfit(outcome: unknown): boolean {
  return isObject(outcome) && outcome.reason === reasons.misfit;
}
