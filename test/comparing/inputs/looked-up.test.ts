import { beforeAll, describe, expect, test } from '@jest/globals';
import { Random } from '../../../src/base/random.js';
import { lookedUpBy } from '../../../src/comparing/inputs/looked-up.js';
import { PayloadSource } from '../../../src/comparing/inputs/payloads.js';
import { poolFor } from '../../../src/comparing/inputs/pool.js';
import { named, storeNamed, type Application } from '../../../src/model/application.js';
import type { Type } from '../../../src/model/types.js';
import { ferryText, modelOf } from '../../helpers.js';

const twoLists = `
leeshore: 1
types:
  Berth: { fields: { id: string, boat: string } }
  Boat: { fields: { name: string, length: number } }
stores:
  pier:
    state:
      berths: { list: Berth, by: id }
      boats: { list: Boat, by: name }
    actions:
      moor:
        payload: { fields: { at: string, boat: string } }
        requires:
          - { that: "boats.some(one => one.name === payload.boat)", otherwise: no boat }
        steps: [{ update: { in: berths, key: "payload.at", set: { boat: "payload.boat" } } }]
      leave: { payload: string, steps: [{ remove: { from: berths, each: b, where: "b.boat === payload" } }] }
      lengthen:
        payload: string
        steps: [{ set: { "boats[payload].length": "9" } }]
`;

const state = {
  pier: {
    berths: [{ id: 'b1', boat: '' }],
    boats: [
      { name: 'Tern', length: 4 },
      { name: 'Auk', length: 5 },
    ],
  },
};

let pier: Application;
beforeAll(async () => {
  pier = await modelOf(twoLists);
});

describe('where the parts of a payload are looked up', () => {
  test('is read off requirements, steps and places', () => {
    expect([...lookedUpBy(pier, 'pier.moor')]).toEqual([
      ['/boat', [{ below: '/pier/boats', key: 'name' }]],
      ['/at', [{ below: '/pier/berths', key: 'id' }]],
    ]);
    expect([...lookedUpBy(pier, 'pier.lengthen')]).toEqual([
      ['', [{ below: '/pier/boats', key: 'name' }]],
    ]);
  });

  test('holds for the ferry too', async () => {
    const ferry = await modelOf(ferryText);
    expect([...lookedUpBy(ferry, 'deck.board')]).toEqual([
      ['', [{ below: '/deck/vehicles', key: 'id' }]],
    ]);
    expect([...lookedUpBy(ferry, 'deck.rename')]).toEqual([
      ['/id', [{ below: '/deck/vehicles', key: 'id' }]],
    ]);
  });

  test('decides which keys a payload mostly names', () => {
    const pool = poolFor(pier, 'pier.moor', state);
    const { payload: type } = named(storeNamed(pier, 'pier').actions, 'moor');
    const source = new PayloadSource(pier.types, new Random(1));
    const drawn = Array.from({ length: 400 }, () => source.draw(type as Type, pool));
    const from = (part: string, list: string) =>
      drawn.filter(({ fill }) => fill[part]?.startsWith(`/pier/${list}/`)).length;
    expect(from('/boat', 'boats')).toBeGreaterThan(3 * from('/boat', 'berths'));
    expect(from('/at', 'berths')).toBeGreaterThan(3 * from('/at', 'boats'));
  });
});

test('an object that stands in the state is passed again, mostly with one property changed', () => {
  const source = new PayloadSource(pier.types, new Random(2));
  const type: Type = { kind: 'list', item: { kind: 'named', name: 'Boat' } };
  const pool = poolFor(pier, 'pier.leave', state);
  const all = Array.from({ length: 400 }, () => source.fitting(type, pool)).flat() as {
    name: string;
    length: number;
  }[];
  const [tern] = state.pier.boats;
  expect(all).toContainEqual(tern);
  const longer = all.filter(({ name, length }) => name === 'Tern' && length !== 4);
  expect(longer.length).toBeGreaterThan(20);
  // What stands in the state is not touched.
  expect(tern).toEqual({ name: 'Tern', length: 4 });
});
