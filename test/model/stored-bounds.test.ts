import { expect, test } from '@jest/globals';
import { placeOf } from '../../src/model/bounds.js';
import { boundsAtRisk } from '../../src/model/stored-bounds.js';
import { modelOf } from '../helpers.js';

/** The bounds of a field that are at risk, with such steps. */
async function atRisk(steps: string): Promise<readonly string[]> {
  const application = await modelOf(`
leeshore: 1
title: Berths
types:
  Metres: { type: number, minimum: 0, maximum: 60 }
  Berth: { fields: { id: { type: string, maxLength: 4 }, depth: Metres, lines: { list: integer, maxItems: 3 } } }
stores:
  quay:
    state:
      berths: { list: Berth, by: id }
      tide: { type: number, minimum: 0, maximum: 60, default: 0 }
    actions:
      change:
        payload: { fields: { berth: Berth, depth: Metres, by: number } }
        steps: ${steps}
`);
  const [store] = application.stores;
  if (store === undefined) throw new Error('no store');
  return [...boundsAtRisk(application, store)].flatMap(([field, bounds]) =>
    bounds.map((bound) => `${field}${placeOf(bound)} ${bound.what}`),
  );
}

test.each([
  ['what keeps them already', '[{ set: { tide: "payload.depth" } }]', []],
  ['a number that fits', '[{ set: { tide: 12 } }]', []],
  [
    'a number that does not',
    '[{ when: "tide > 9", then: [{ set: { tide: "tide + payload.by" } }] }]',
    ['tide minimum', 'tide maximum'],
  ],
  [
    'an item: its key may be there',
    '[{ append: { to: berths, value: "payload.berth" } }]',
    ['berths key'],
  ],
  [
    'a part of an item',
    '[{ update: { in: berths, key: "payload.berth.id", set: { depth: "payload.depth + 1" } } }]',
    ['berths[].depth minimum', 'berths[].depth maximum'],
  ],
  [
    'a list within an item',
    '[{ append: { to: "berths[payload.berth.id].lines", value: 1 } }]',
    ['berths[].lines maxItems'],
  ],
  ['fewer items', '[{ remove: { from: berths, each: one, where: "one.depth > 2" } }]', []],
  ['nothing', '[{ reset: all }]', []],
])('%s', async (_, steps, risks) => {
  expect(await atRisk(steps)).toEqual(risks);
});
