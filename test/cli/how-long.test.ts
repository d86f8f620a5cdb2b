import { expect, test } from '@jest/globals';
import { endOf, progressNote } from '../../src/cli/compare/how-long.js';

test('a search ends by its steps unless seconds are asked for', () => {
  expect(endOf(500, undefined)).toBe(Infinity);
  expect(endOf(500, 2)).toBe(2500);
});

test('progress says what is left, and what makes it less, once it takes long', () => {
  const far = { steps: 4000, most: 40_000, reached: 31 };
  expect(progressNote({ ...far, ms: 4000 })).toBe('1000 steps/s, 31 reached');
  expect(progressNote({ ...far, ms: 8000 })).toBe(
    '500 steps/s, 31 reached, 72 s left; --steps or Ctrl+C for less',
  );
  expect(progressNote({ ...far, steps: 0, ms: 8000 })).toBe('0 steps/s, 31 reached');
});
