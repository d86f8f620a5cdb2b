import { beforeAll, describe, expect, test } from '@jest/globals';
import { cornersOf } from '../../src/model/corners.js';
import { modelOf } from '../helpers.js';

const schema = `
leeshore: 1
types:
  Crate: { fields: { id: string, kg: integer, wet: boolean } }
stores:
  pier:
    state:
      crates: { list: Crate, by: id }
      most: { type: integer, default: 40 }
      last: { maybe: string }
    derived:
      heavy: "crates.some(c => c.kg > most)"
      first: "crates.find(c => c.id === last)?.kg ?? 0"
      empty: "crates.length === 0"
      named: "last === 'gull'"
    actions:
      land:
        payload: Crate
        steps:
          - append: { to: crates, value: "payload" }
          - set: { last: "payload.id" }
      dry:
        steps:
          - update: { in: crates, each: c, where: "c.wet", set: { wet: false } }
      mark:
        steps:
          - update: { in: crates, each: c, where: "c.kg > random()", set: { wet: true } }
`;

let sides: ReadonlyMap<string, boolean>;
beforeAll(async () => {
  const corners = cornersOf(await modelOf(schema));
  sides = new Map(
    corners.flatMap(({ points }) =>
      points.map(({ id, mayBeRuledOut }) => [id, mayBeRuledOut === true]),
    ),
  );
});

describe('the corners of an application', () => {
  test('are where numbers are compared, also within a test of items', () => {
    const all = [...sides.keys()].filter((id) => id.startsWith('pier.heavy: c.kg > most'));
    expect(all).toEqual([
      'pier.heavy: c.kg > most none',
      'pier.heavy: c.kg > most all',
      'pier.heavy: c.kg > most first',
      'pier.heavy: c.kg > most last',
      'pier.heavy: c.kg > most several',
      'pier.heavy: c.kg > most equal',
      'pier.heavy: c.kg > most just-below',
      'pier.heavy: c.kg > most just-above',
    ]);
  });

  test('are not where texts are compared', () => {
    expect([...sides.keys()].filter((id) => id.startsWith('pier.named'))).toEqual([]);
  });

  test('are the items that a step works on, and what it stores', () => {
    expect([...sides.keys()].filter((id) => id.startsWith('pier.dry'))).toEqual([
      'pier.dry.steps[0]: c.wet none',
      'pier.dry.steps[0]: c.wet all',
      'pier.dry.steps[0]: c.wet first',
      'pier.dry.steps[0]: c.wet last',
      'pier.dry.steps[0]: c.wet several',
      'pier.dry.steps[0]: false another',
      'pier.dry.steps[0]: false the-same',
    ]);
    expect(sides.has('pier.land.steps[1]: payload.id another')).toBe(true);
  });

  test('are not the tests that draw: to ask them twice would change what is done', () => {
    const picks = [...sides.keys()].filter((id) => /^pier\.mark.*(none|several)$/.test(id));
    expect(picks).toEqual([]);
  });

  test('have sides that nothing can be at: several items of one key, fewer than none', () => {
    const ruledOut = [...sides].flatMap(([id, isRuledOut]) => (isRuledOut ? [id] : []));
    expect(ruledOut).toEqual([
      'pier.first: c.id === last all',
      'pier.first: c.id === last several',
      'pier.empty: crates.length === 0 just-below',
    ]);
  });
});
