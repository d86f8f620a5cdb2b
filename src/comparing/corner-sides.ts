import { same } from '../base/same.js';

/** How far each side of a corner was from being met, in its order: 0 if it was; below or above it, where that can be told. */
export type Misses = readonly number[];

/** Of two numbers that are compared: equal, just below, just above. */
export function missesOfComparison(left: number, right: number): Misses {
  const above = left - right;
  return [
    above,
    above >= -1 && above < 0 ? 0 : above + 1 || 1,
    above > 0 && above <= 1 ? 0 : above - 1 || -1,
  ];
}

/** Of the right side of a condition: true, false. */
export const missesOfRight = (value: unknown): Misses => (value ? [0, 1] : [1, 0]);

/** Of a test of the items of a list: none matches, all of several, the first and not the last, the last and not the first, two and not all. */
export function missesOfPick(answers: readonly boolean[]): Misses {
  const { length } = answers;
  const met = answers.filter(Boolean).length;
  const others = length - met;
  const lacking = Math.max(0, 2 - length);
  const isFirst = answers[0] === true;
  const isLast = answers.at(-1) === true;
  return [
    length === 0 ? 1 : met,
    lacking + others,
    lacking + (isFirst ? 0 : 1) + (isLast ? 1 : 0),
    lacking + (isFirst ? 1 : 0) + (isLast ? 0 : 1),
    Math.max(0, 2 - met) + (others === 0 ? 1 : 0),
  ];
}

/** Of a value that is stored: another than was there, or the same. */
export function missesOfStored(now: unknown, before: unknown): Misses {
  const isSame = same(now, before);
  return [isSame ? 1 : 0, isSame ? 0 : 1];
}
