import { describe, expect, test } from '@jest/globals';
import type {
  ComparisonJson,
  DifferenceJson,
} from '../../../src/comparing/reports/comparison-json.js';
import { mergeComparisons } from '../../../src/comparing/reports/merge-comparisons.js';
import { comparisonMade, participantMade } from './comparison-made.js';

const missing = (...ids: readonly string[]) =>
  ids.map((id) => ({ id, file: 'ferry.stores.yaml', line: 1, column: 1 }));

const share = (shard: string, change: Partial<ComparisonJson> = {}): ComparisonJson =>
  comparisonMade({
    shard,
    participants: ['reference', 'atom'].map((name) => participantMade(name, 2)),
    coverage: {
      reached: 3,
      total: 5,
      missing: missing('deck.clear done', 'wind.mood changed'),
      bounds: { broken: 1, never: missing('deck.hold maximum', 'deck.hold minimum') },
      corners: { met: 5, never: missing('deck.full equal', 'deck.full just-below') },
    },
    ...change,
  });

const differing = (at: string, scripts = 1) =>
  ({ participant: 'atom', what: 'state', at, action: 'deck.admit', scripts }) as DifferenceJson;

describe('shares of a search', () => {
  test('are one result: what one has reached is reached', () => {
    const other = {
      reached: 4,
      total: 5,
      missing: missing('deck.clear done'),
      bounds: { broken: 2, never: missing('deck.hold minimum') },
      corners: { met: 6, never: missing('deck.full equal') },
    };
    const merged = mergeComparisons([share('2/2', { coverage: other, tookMs: 30 }), share('1/2')]);
    expect(merged).toMatchObject({
      verdict: 'same',
      steps: 200,
      scripts: 4,
      tookMs: 30,
      coverage: other,
      participants: [
        { notReported: 4, known: [], tolerance: null },
        { notReported: 4, known: [], tolerance: null },
      ],
    });
    expect(merged).not.toHaveProperty('shard');
  });

  test('show the difference of the first share that has one', () => {
    const difference = differing('/deck/hold');
    const found = share('2/3', { verdict: 'different', end: 'found', difference });
    expect(mergeComparisons([share('3/3'), found, share('1/3')])).toMatchObject({
      verdict: 'different',
      end: 'found',
      difference: { participant: 'atom' },
    });
  });

  test('show each cause once, with the scripts of all shares', () => {
    const shares = [
      share('1/2', {
        difference: differing('/deck/cars/0', 2),
        alsoFound: [differing('/deck/hold')],
      }),
      share('2/2', { difference: differing('/deck/cars/7', 3) }),
    ];
    expect(mergeComparisons(shares)).toMatchObject({
      difference: { at: '/deck/cars/0', scripts: 5 },
      alsoFound: [{ at: '/deck/hold', scripts: 1 }],
    });
  });

  test('say which of them there are if some are missing', () => {
    expect(mergeComparisons([share('3/4'), share('1/4')])).toMatchObject({ shard: '1+3/4' });
  });

  test.each([
    [[], 'there is nothing to merge'],
    [[share('1/2'), share('2/2', { seed: 2 })], "they differ in 'seed'"],
    [[share('1/2'), share('1/2')], 'share 1/2 is given twice'],
    [[share('1/2'), share('2/3')], 'they are shares of searches of different size'],
    [
      [share('1/2', { participants: [] }), share('2/2')],
      'they do not compare the same participants',
    ],
  ])('%#: others are refused', (shares, why) => {
    expect(mergeComparisons(shares)).toBe(why);
  });
});
