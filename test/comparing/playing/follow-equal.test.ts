import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { same } from '../../../src/base/same.js';
import { FollowEqual } from '../../../src/comparing/playing/follow-equal.js';

describe('comparing step after step', () => {
  test('says the same as comparing in full, for values that are replaced and never changed in place', () => {
    const part = fc.jsonValue({ maxDepth: 2 });
    const step = fc.record({ at: fc.constantFrom('a', 'b', 'c'), part, other: fc.option(part) });
    fc.assert(
      fc.property(fc.array(step, { maxLength: 12 }), (steps) => {
        const follow = new FollowEqual();
        let [expected, actual]: Record<string, unknown>[] = [{}, {}];
        for (const { at, part, other } of steps) {
          expected = { ...expected, [at]: part };
          actual = { ...actual, [at]: other ?? structuredClone(part) };
          const equal = same(expected, actual);
          if (follow.isEqual(expected, actual, false) !== equal) return false;
          // The first difference ends a script: what comes after is not compared.
          if (!equal) return true;
        }
        return true;
      }),
      { numRuns: 1000 },
    );
  });

  test('finds what differs in a part that one of them has replaced', () => {
    const follow = new FollowEqual();
    const [kept, copy] = [[{ id: 'a' }], [{ id: 'a' }]];
    expect(follow.isEqual({ kept, level: 1 }, { kept: copy, level: 1 }, false)).toBe(true);
    expect(follow.isEqual({ kept, level: 1 }, { kept: copy, level: 2 }, false)).toBe(false);
    expect(follow.isEqual({ kept }, { kept: [{ id: 'b' }] }, false)).toBe(false);
    expect(follow.isEqual({ kept: [...kept, 1] }, { kept: copy }, false)).toBe(false);
  });

  test('finds a list that was changed in place when it compares in full', () => {
    const follow = new FollowEqual();
    const [expected, actual] = [{ marks: ['a'] }, { marks: ['a'] }];
    expect(follow.isEqual(expected, actual, false)).toBe(true);
    actual.marks.push('b');
    expect(follow.isEqual(expected, actual, true)).toBe(false);
  });
});
