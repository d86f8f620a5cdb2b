import { expect, test } from '@jest/globals';
import { endOf, progressNote } from '../../src/cli/compare/how-long.js';

test('a search ends by its steps unless seconds are asked for', () => {
  expect(endOf(500, undefined)).toBe(Infinity);
  expect(endOf(500, 2)).toBe(2500);
});

test('progress says what is left, and what makes it less, once it takes long', () => {
  const far = { steps: 4000, most: 40_000, reached: 31 };
  expect(progressNote({ ...far, ms: 4000 })).toBe('31 reached, 1000 steps/s');
  expect(progressNote({ ...far, ms: 8000 })).toBe(
    '72 s left, Ctrl+C ends it; 31 reached, 500 steps/s; --steps sets how many',
  );
  expect(progressNote({ ...far, steps: 0, ms: 8000 })).toBe('31 reached, 0 steps/s');
});
