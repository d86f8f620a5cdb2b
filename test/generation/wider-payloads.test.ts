import { describe, expect, test } from '@jest/globals';
import { loadModules } from '../../src/participants/load-modules.js';
import { allStyles, foldersOf, modelOf, problemsOf } from '../helpers.js';
import { participantNames, start } from '../participants.js';

const schema = `
leeshore: 1
types:
  Car: { fields: { plate: string, lane: string } }
services: { office: { operations: { note: { payload: Car } } } }
stores:
  deck:
    state: { cars: { list: Car }, metres: { type: number, default: 0 } }
    actions:
      admit: { payload: Car, steps: [{ append: { to: cars, value: "payload" } }] }
      takeAny: { payload: { list: Car }, extra: drop, steps: [{ set: { cars: "[...cars, ...payload]" } }] }
      measure:
        payload: { fields: { metres: number } }
        extra: drop
        accepts: text
        steps: [{ set: { metres: "payload.metres" } }]
    tasks:
      note: { payload: Car, extra: drop, operation: office.note, start: [{ append: { to: cars, value: "payload" } }] }
`;

const car = { plate: 'SK 1', lane: 'port' };
const wide = { ...car, colour: 'red' };

describe.each(participantNames)('%s: a payload with more than its type has', (name) => {
  test('is refused', async () => {
    const { running, reports } = await start(schema, name);
    expect(running.send('deck', 'admit', wide)).toEqual({
      status: 'refused',
      reason: 'does not fit',
      at: '/payload/colour',
    });
    expect(reports).toEqual([]);
  });

  test('is taken without that where the schema says so, of tasks and of text too', async () => {
    const { running } = await start(schema, name, {
      services: { office: { note: () => undefined } },
    });
    expect(running.send('deck', 'takeAny', [wide, car])).toEqual({ status: 'done' });
    expect(running.start?.('deck', 'note', wide)).toMatchObject({ status: 'done' });
    expect(running.send('deck', 'measure', { metres: '12', unit: 'm' })).toEqual({
      status: 'done',
    });
    expect(running.read()).toEqual({ deck: { cars: [car, car, car], metres: 12 } });
    expect(running.send('deck', 'takeAny', [{ ...wide, lane: 7 }])).toMatchObject({
      at: '/payload/0/lane',
    });
  });
});

describe.each(allStyles)('%s: who develops an application', (style) => {
  async function told(options: object, output: object = {}) {
    const [folder] = await foldersOf(await modelOf(schema), [style], output);
    const problems: unknown[] = [];
    const { createStores } = loadModules(folder?.files ?? [], 'index.ts');
    const app = (createStores as (options: object) => unknown)({
      onProblem: (problem: unknown) => problems.push(problem),
      ...options,
    }) as {
      dispatch?(action: object): unknown;
      stores: { deck: { admit(car: object): unknown } };
    };
    for (const payload of [car, wide])
      if (app.dispatch === undefined) app.stores.deck.admit(payload);
      else app.dispatch({ type: 'deck.admit', payload });
    return problems;
  }

  test('hears which action was refused for which part', async () => {
    expect(await told({ guard: true })).toEqual([
      { kind: 'payload', at: 'deck.admit', pointer: '/payload/colour' },
    ]);
  });

  test('hears nothing of it in production, or where nothing is judged', async () => {
    expect(await told({ guard: false })).toEqual([]);
    expect(await told({ guard: true }, { checks: 'never' })).toEqual([]);
  });
});

test("'extra' without a payload is a problem", async () => {
  const odd = schema
    .replace('admit: { payload: Car,', 'admit: { extra: drop,')
    .replace(
      '"payload" } }] }\n      takeAny',
      "\"{ plate: '', lane: '' }\" } }] }\n      takeAny",
    );
  expect(await problemsOf(odd)).toEqual([
    "10:23 wrong-structure 'extra' needs a 'payload': what it takes properties off.",
  ]);
});
