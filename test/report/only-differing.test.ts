import { expect, test } from '@jest/globals';
import { onlyDiffering } from '../../src/report/only-differing.js';

test('properties that are alike are left out, at any depth, and counted', () => {
  const shown = onlyDiffering(
    { lane: 'port', berth: { number: 2, free: true, name: 'a' }, used: 3 },
    { lane: 'port', berth: { number: 2, free: false, name: 'b' }, used: 4 },
  );
  expect(shown).toEqual({
    expected: { berth: { free: true, name: 'a' }, used: 3 },
    actual: { berth: { free: false, name: 'b' }, used: 4 },
    alike: 2,
  });
});

test('both sides have one order: that of the first', () => {
  const { expected, actual } = onlyDiffering({ b: 1, a: 2 }, { c: 3, a: 1, b: 2 });
  expect(Object.keys(expected as object)).toEqual(['b', 'a']);
  expect(Object.keys(actual as object)).toEqual(['b', 'a', 'c']);
});

test('what only one has is shown whole; lists stay whole', () => {
  expect(onlyDiffering({ a: [1, 2], b: { c: 1 } }, { a: [1, 3] })).toEqual({
    expected: { a: [1, 2], b: { c: 1 } },
    actual: { a: [1, 3] },
    alike: 0,
  });
  expect(onlyDiffering(1, { a: 1 })).toEqual({ expected: 1, actual: { a: 1 }, alike: 0 });
});
