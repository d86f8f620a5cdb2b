import { describe, expect, test } from '@jest/globals';
import { same } from '../../../src/base/same.js';
import { Leniency, type Both } from '../../../src/comparing/session/leniency.js';
import type { ObservedClass } from '../../../src/model/observed-class.js';
import type { KnownDifference } from '../../../src/model/participant.js';

const state = (freeM: number, note: string, marks: readonly string[] = ['a']) => ({
  deck: { freeM, note, cars: [{ id: 'x', marks }] },
});

function lenient(known: readonly KnownDifference[], tolerance?: number | Record<string, number>) {
  const noted: number[] = [];
  const leniency = new Leniency({ known, tolerance }, (one) => noted.push(one));
  return { leniency, noted };
}

const isEqualBy = (leniency: Leniency, what: ObservedClass, both: Both) =>
  same(both.expected, leniency.settled(what, both));

const reason = 'for a test';

describe('a tolerance', () => {
  test('counts numbers as equal that are near enough, whatever they stand in', () => {
    const { leniency } = lenient([], 0.1);
    const isEqual = (expected: unknown, actual: unknown) =>
      isEqualBy(leniency, 'state', { expected, actual });
    expect(isEqual(state(1, ''), state(1.1, ''))).toBe(true);
    expect(isEqual(state(1, ''), state(1.2, ''))).toBe(false);
    expect(isEqual([1, { a: [2] }], [1.05, { a: [1.95] }])).toBe(true);
    expect(isEqual([1], [1, 1])).toBe(false);
    expect(isEqual({ a: 1 }, { b: 1 })).toBe(false);
    expect(isEqual(1, '1')).toBe(false);
    expect(isEqual(NaN, 1)).toBe(false);
  });

  test('holds for the fields that are named', () => {
    const { leniency } = lenient([], { 'deck.freeM': 1, berth: 2 });
    const isEqual = (expected: unknown, actual: unknown) =>
      isEqualBy(leniency, 'state', { expected, actual });
    expect(isEqual({ deck: { freeM: 1, usedM: 1 } }, { deck: { freeM: 2, usedM: 1 } })).toBe(true);
    expect(isEqual({ deck: { freeM: 1, usedM: 1 } }, { deck: { freeM: 1, usedM: 2 } })).toBe(false);
    expect(isEqual({ berth: 1 }, { berth: 3 })).toBe(true);
  });
});

test('a tolerance of a field holds for what its watchers are told', () => {
  const { leniency } = lenient([], { 'deck.freeM': 1 });
  const told = (target: string, now: unknown) => [{ watcher: 'w', target, now, before: 0 }];
  const isEqual = (expected: unknown, actual: unknown) =>
    isEqualBy(leniency, 'notices', { expected, actual });
  expect(isEqual(told('deck.freeM', 1), told('deck.freeM', 2))).toBe(true);
  expect(isEqual(told('deck.usedM', 1), told('deck.usedM', 2))).toBe(false);
  expect(isEqual(told('deck', { freeM: 1 }), told('deck', { freeM: 2 }))).toBe(true);
  expect(isEqual(told('*', { deck: { freeM: 1 } }), told('*', { deck: { freeM: 2 } }))).toBe(true);
  expect(isEqual(told('deck.freeM', 1), [])).toBe(false);
});

describe('a known difference', () => {
  test('is passed over at its place, and noted once', () => {
    const { leniency, noted } = lenient([{ what: 'state', at: '/deck/note', reason }]);
    const both = { expected: state(1, 'a'), actual: state(1, 'b') };
    expect(isEqualBy(leniency, 'state', both)).toBe(true);
    expect(isEqualBy(leniency, 'state', both)).toBe(true);
    expect(noted).toEqual([0]);
    const more = { expected: state(1, 'a'), actual: state(2, 'b') };
    expect(isEqualBy(leniency, 'state', more)).toBe(false);
    expect(leniency.settled('state', more)).toEqual(state(2, 'a'));
  });

  test('is of its class alone', () => {
    const { leniency, noted } = lenient([{ what: 'derived', at: '/deck/note', reason }]);
    const both = { expected: state(1, 'a'), actual: state(1, 'b') };
    expect(isEqualBy(leniency, 'state', both)).toBe(false);
    expect(noted).toEqual([]);
  });

  test('with an action begins with that action, and stays', () => {
    const { leniency } = lenient([
      { what: 'state', at: '/deck/note', action: 'deck.trim', reason },
    ]);
    const both = { expected: state(1, 'a'), actual: state(1, 'b') };
    leniency.begin('deck.admit');
    expect(isEqualBy(leniency, 'state', both)).toBe(false);
    leniency.begin('deck.trim');
    expect(isEqualBy(leniency, 'state', both)).toBe(true);
    leniency.begin('deck.admit');
    expect(isEqualBy(leniency, 'state', both)).toBe(true);
  });

  test('takes * for any position or key', () => {
    const { leniency } = lenient([{ what: 'state', at: '/deck/cars/*/marks', reason }]);
    const both = { expected: state(1, '', ['a']), actual: state(1, '', ['b', 'c']) };
    expect(isEqualBy(leniency, 'state', both)).toBe(true);
  });

  test('covers a property that one side lacks', () => {
    const { leniency } = lenient([{ what: 'state', at: '/deck/hold', reason }]);
    const isEqual = (expected: unknown, actual: unknown) =>
      isEqualBy(leniency, 'state', { expected, actual });
    expect(isEqual({ deck: { hold: 'fog' } }, { deck: {} })).toBe(true);
    expect(isEqual({ deck: {} }, { deck: { hold: 'fog' } })).toBe(true);
  });

  test('without a place is all of its class', () => {
    const { leniency, noted } = lenient([{ what: 'outcome', action: 'deck.admit', reason }]);
    const both = { expected: { status: 'refused' }, actual: { status: 'done' } };
    leniency.begin('deck.board');
    expect(isEqualBy(leniency, 'outcome', both)).toBe(false);
    leniency.begin('deck.admit');
    expect(isEqualBy(leniency, 'outcome', both)).toBe(true);
    expect(noted).toEqual([0]);
  });
});
