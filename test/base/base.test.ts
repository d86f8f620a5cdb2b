import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { atPointer, withPointer } from '../../src/base/json.js';
import { shareUnchanged } from '../../src/base/share-unchanged.js';
import { Random } from '../../src/base/random.js';
import { same } from '../../src/base/same.js';
import { nearest } from '../../src/base/suggest.js';
import { settled } from '../../src/generation/runtime/settling.js';
import * as generated from '../../src/generation/runtime/values.js';

describe('same', () => {
  test.each([
    [NaN, NaN, true],
    [0, -0, true],
    [{ a: 1, b: 2 }, { b: 2, a: 1 }, true],
    [{ a: undefined }, {}, false],
    [null, undefined, false],
    [[], {}, false],
    [[1, [2]], [1, [2]], true],
    ['1', 1, false],
  ])('%j and %j: %s', (a, b, equal) => {
    expect(same(a, b)).toBe(equal);
    expect(generated.same(a, b)).toBe(equal);
  });

  test('agrees with JSON text on JSON data, in the core and in the generated stores', () => {
    const value = fc
      .jsonValue({ maxDepth: 3 })
      .map((json) => JSON.parse(JSON.stringify(json)) as unknown);
    const ordered = (json: unknown): string =>
      JSON.stringify(json, (_key, part: unknown) =>
        typeof part === 'object' && part !== null && !Array.isArray(part)
          ? Object.fromEntries(Object.entries(part).sort(([a], [b]) => (a < b ? -1 : 1)))
          : part,
      );
    fc.assert(
      fc.property(value, value, (a, b) => {
        const equal = ordered(a) === ordered(b);
        return (
          same(a, b) === equal && generated.same(a, b) === equal && same(a, structuredClone(a))
        );
      }),
      { numRuns: 2000 },
    );
  });
});

/** What a generated store shares of a field, and directly within it. */
const generatedShare = <T>(before: T, after: T): T => settled(before, after, undefined, '', false);

describe.each([
  ['core', shareUnchanged],
  ['generated', generatedShare],
])('sharing what is unchanged (%s)', (_name, share) => {
  test('gives the old object where nothing changed', () => {
    const before = { vehicles: [{ id: 'a', tags: ['x'] }], hold: null };
    expect(share(before, structuredClone(before))).toBe(before);
  });

  test('gives the old parts where they are equal, in their places', () => {
    const before = [{ id: 'a' }, { id: 'b', at: { lane: 'port' } }];
    const after = [{ id: 'z' }, { id: 'b', at: { lane: 'port' } }, { id: 'c' }];
    const kept = share<readonly unknown[]>(before, after);
    expect(kept).toEqual(after);
    expect(kept[1]).toBe(before[1]);
    expect(kept[0]).toEqual({ id: 'z' });
  });

  test('is equal to what came in, and changes neither argument', () => {
    const value = fc.jsonValue({ maxDepth: 3 });
    fc.assert(
      fc.property(value, value, (before, after) => {
        const copies = structuredClone([before, after]);
        const kept = share(before, after);
        return same(kept, after) && same([before, after], copies);
      }),
      { numRuns: 1000 },
    );
  });
});

describe('JSON Pointer', () => {
  test('reads and replaces by own properties only', () => {
    const state = { deck: { 'a/b': [{ id: 'x' }] } };
    expect(atPointer(state, '/deck/a~1b/0/id')).toBe('x');
    expect(atPointer(state, '/deck/constructor')).toBeUndefined();
    expect(withPointer(state, '/deck/a~1b/0/id', 'y')).toEqual({ deck: { 'a/b': [{ id: 'y' }] } });
    expect(withPointer(state, '/nowhere/else', 1)).toBe(state);
  });
});

test('nearest finds slips of the pen, and nothing far away', () => {
  expect(nearest('borded', ['boarded', 'lane'])).toBe('boarded');
  expect(nearest('Capacitym', ['capacityM'])).toBe('capacityM');
  expect(nearest('wind', ['boarded', 'lane'])).toBeUndefined();
});

test('the same seed gives the same choices, another seed others', () => {
  const draw = (seed: number) => {
    const random = new Random(seed);
    return Array.from({ length: 20 }, () => random.below(1000));
  };
  expect(draw(7)).toEqual(draw(7));
  expect(draw(7)).not.toEqual(draw(8));
  expect(draw(7).every((n) => n >= 0 && n < 1000)).toBe(true);
});
