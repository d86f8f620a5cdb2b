import { describe, expect, test } from '@jest/globals';
import { nextTurn } from '../../src/base/turn.js';
import { participantNames, start } from '../participants.js';

const schema = `
leeshore: 1
types: { Metres: { type: number, minimum: 0 }, Car: { fields: { id: string, m: Metres } } }
services: { office: { operations: { cars: { result: { list: Car } } } } }
stores:
  deck:
    state:
      metres: { list: Metres }
      cars: { list: Car, by: id }
      few: { list: Metres, maxItems: 2 }
    actions:
      take: { payload: { list: Metres }, steps: [{ set: { metres: "payload" } }] }
      takeAndAdd:
        payload: { list: Metres }
        steps: [{ set: { metres: "payload" } }, { append: { to: metres, value: "payload.length - 5" } }]
      takeFew: { payload: { list: Metres }, steps: [{ set: { few: "payload" } }] }
      takeCars: { payload: { fields: { cars: { list: Car } } }, steps: [{ set: { cars: "payload.cars" } }] }
      takeAndChange:
        payload: { list: Car }
        steps: [{ set: { cars: "payload" } }, { update: { in: cars, key: "'a'", set: { m: "-1" } } }]
    tasks:
      load: { operation: office.cars, finish: [{ set: { cars: "result" } }], fail: [{ set: { metres: "[7]" } }] }
`;

const cars = [
  { id: 'a', m: 1 },
  { id: 'b', m: 2 },
];
const misfit = (at: string) => ({ status: 'refused', reason: 'does not fit', at });

describe.each(participantNames)('%s: a list that was judged as it came in', (name) => {
  test('is stored as it is, and what an action adds to it or changes in it is judged', async () => {
    const { running } = await start(schema, name);
    const send = (action: string, payload: never) => running.send('deck', action, payload);
    expect(send('take', [1, 2] as never)).toEqual({ status: 'done' });
    expect(send('takeAndAdd', [1, 2] as never)).toEqual(misfit('/deck/metres/2'));
    expect(send('takeAndChange', cars as never)).toEqual(misfit('/deck/cars/0/m'));
    expect(running.read()).toEqual({ deck: { metres: [1, 2], cars: [], few: [] } });
  });

  test('must be as long as the field says, and have different keys', async () => {
    const { running } = await start(schema, name);
    expect(running.send('deck', 'takeFew', [1, 2, 3])).toEqual(misfit('/deck/few'));
    const twice = { cars: [...cars, { id: 'a', m: 3 }] };
    expect(running.send('deck', 'takeCars', twice)).toEqual(misfit('/deck/cars/2'));
    expect(running.send('deck', 'takeCars', { cars })).toEqual({ status: 'done' });
  });

  test('may be an answer: keys that come twice are found all the same', async () => {
    const { running } = await start(schema, name, {
      services: { office: { cars: () => [...cars, { id: 'b', m: 3 }] } },
    });
    running.start?.('deck', 'load', undefined);
    await nextTurn();
    expect(running.read()).toEqual({ deck: { metres: [7], cars: [], few: [] } });
  });
});
