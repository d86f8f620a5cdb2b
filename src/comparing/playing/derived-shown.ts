import { isObject } from '../../base/json.js';
import { same } from '../../base/same.js';
import { sameSince } from './follow-equal.js';
import type { Question } from '../inputs/questions.js';

/** What a participant shows of derived values after one step. */
export interface DerivedShown {
  /** Those without parameters, by store and name; or what was thrown in place of them. */
  readonly values: unknown;
  readonly asked: readonly Question[];
  /** The answers to what was asked; {@link notAsked} where there is nothing to ask. */
  readonly answers: readonly unknown[];
}

/** Stands for the answer to a question that a participant cannot be asked. */
export const notAsked = Symbol('not asked');

/** All of it as one object: the answers by the texts of their questions, beside the stores. */
export function asObject({ values, asked, answers }: DerivedShown): Record<string, unknown> {
  const all: Record<string, unknown> = { ...(values as object) };
  for (const [i, { text }] of asked.entries()) if (answers[i] !== notAsked) all[text] = answers[i];
  return all;
}

/** True if two that have everything show the same, part by part; what was shown `before` is known to be equal. */
export function isSameDerived(
  [a, aBefore]: readonly [DerivedShown, DerivedShown | undefined],
  [b, bBefore]: readonly [DerivedShown, DerivedShown | undefined],
): boolean {
  const values = [a.values, b.values, aBefore?.values, bBefore?.values] as const;
  if (!isSameByStore(...values)) return false;
  return a.answers.every((answer, i) =>
    sameSince(answer, b.answers[i], aBefore?.answers[i], bBefore?.answers[i]),
  );
}

function isSameByStore(a: unknown, b: unknown, aBefore: unknown, bBefore: unknown): boolean {
  if (!isObject(a) || !isObject(b)) return same(a, b);
  if (Object.keys(a).length !== Object.keys(b).length) return false;
  for (const store in a) {
    const [own, other] = [a[store], b[store]];
    if (!isObject(own) || !isObject(other)) return same(a, b);
    const ownBefore = isObject(aBefore) ? aBefore[store] : undefined;
    const otherBefore = isObject(bBefore) ? bBefore[store] : undefined;
    if (Object.keys(own).length !== Object.keys(other).length) return false;
    for (const name in own) {
      const [value, theirs] = [own[name], other[name]];
      if (value === theirs) continue;
      const was = isObject(ownBefore) ? ownBefore[name] : undefined;
      const theirsWas = isObject(otherBefore) ? otherBefore[name] : undefined;
      if (!sameSince(value, theirs, was, theirsWas)) return false;
    }
  }
  return true;
}
