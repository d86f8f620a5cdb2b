import { isObject } from '../base/json.js';
import { same } from '../base/same.js';

/** Two values without what is alike in them, and how many parts that were. */
export interface Differing {
  readonly expected: unknown;
  readonly actual: unknown;
  readonly alike: number;
}

/**
 * The properties of two objects that differ, in the order of the first; of those that are objects again, what differs in
 * them. Lists and all else stay whole.
 */
export function onlyDiffering(expected: unknown, actual: unknown): Differing {
  if (!isObject(expected) || !isObject(actual)) return { expected, actual, alike: 0 };
  const names = [...new Set([...Object.keys(expected), ...Object.keys(actual)])];
  const [left, right]: [Record<string, unknown>, Record<string, unknown>] = [{}, {}];
  let alike = 0;
  for (const name of names) {
    const [isLeft, isRight] = [Object.hasOwn(expected, name), Object.hasOwn(actual, name)];
    if (isLeft && isRight && same(expected[name], actual[name])) {
      alike += 1;
      continue;
    }
    const both = isLeft && isRight;
    const parts = both ? onlyDiffering(expected[name], actual[name]) : undefined;
    alike += parts?.alike ?? 0;
    if (isLeft) left[name] = parts === undefined ? expected[name] : parts.expected;
    if (isRight) right[name] = parts === undefined ? actual[name] : parts.actual;
  }
  return { expected: left, actual: right, alike };
}
