import { expect, test } from '@jest/globals';
import {
  missesOfComparison,
  missesOfPick,
  missesOfStored,
} from '../../src/comparing/corner-sides.js';

test('two numbers are equal, just below or just above, or miss each by so much', () => {
  expect(missesOfComparison(7, 7)).toEqual([0, 1, -1]);
  expect(missesOfComparison(6, 7)).toEqual([-1, 0, -2]);
  expect(missesOfComparison(7.5, 7)).toEqual([0.5, 1.5, 0]);
  expect(missesOfComparison(90, 7)).toEqual([83, 84, 82]);
});

test('of the items of a list none matches, all, the first, the last, or several and not all', () => {
  const met = (...answers: boolean[]) =>
    missesOfPick(answers).flatMap((miss, i) =>
      miss === 0 ? [['none', 'all', 'first', 'last', 'several'][i]] : [],
    );
  expect(met()).toEqual([]);
  expect(met(false)).toEqual(['none']);
  expect(met(true)).toEqual([]);
  expect(met(true, true)).toEqual(['all']);
  expect(met(true, false)).toEqual(['first']);
  expect(met(false, true)).toEqual(['last']);
  expect(met(true, false, true)).toEqual(['several']);
  expect(met(true, true, false)).toEqual(['first', 'several']);
});

test('a list is the nearer, the fewer items are missing', () => {
  const several = (...answers: boolean[]) => missesOfPick(answers).at(-1);
  expect([several(), several(true), several(true, true), several(true, true, false)]).toEqual([
    3, 2, 1, 0,
  ]);
});

test('what is stored is another, or the same part by part', () => {
  expect(missesOfStored([1, { a: 2 }], [1, { a: 2 }])).toEqual([1, 0]);
  expect(missesOfStored([1], [])).toEqual([0, 1]);
});
