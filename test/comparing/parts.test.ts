import { beforeAll, describe, expect, test } from '@jest/globals';
import { Random } from '../../src/base/random.js';
import { PayloadSource } from '../../src/comparing/inputs/payloads.js';
import { poolOf } from '../../src/comparing/inputs/pool.js';
import { plannedScript } from '../../src/comparing/search/planned-script.js';
import { isSend, payloadIn, type Script } from '../../src/comparing/script.js';
import { shrink } from '../../src/comparing/shrinking/shrink.js';
import { targetsOf } from '../../src/comparing/inputs/targets.js';
import { Judge } from '../../src/meaning/judge.js';
import { named, storeNamed, type Application } from '../../src/model/application.js';
import { coverableOf } from '../../src/model/cover-points.js';
import type { Type } from '../../src/model/types.js';
import { ferryText, modelOf } from '../helpers.js';

let ferry: Application;
beforeAll(async () => {
  ferry = await modelOf(ferryText);
});

const vehicle = (id: string) => ({ id, plate: 'SK 4', lengthM: 4, lane: 'port', boarded: false });
const stateWith = (...ids: string[]) => ({
  deck: { vehicles: ids.map(vehicle), capacityM: 240, hold: null, byLane: { port: 8 } },
  wind: { speed: 3, gusts: [1], limit: 18 },
  desk: { officer: null, since: null, relieved: 0 },
  berth: 2,
  log: { entries: [], watch: ['mate'], closed: false, openLanes: [], tides: [], sails: null },
});

const actionOf = (store: string, action: string) => named(storeNamed(ferry, store).actions, action);

describe('payloads', () => {
  test('mostly fit their types, often name what exists, and sometimes do not fit', () => {
    const judge = new Judge(ferry.types);
    const pool = poolOf(ferry, stateWith('id-1', 'id-2'));
    const source = new PayloadSource(ferry.types, new Random(1));
    let [fitting, filled, all] = [0, 0, 0];
    for (const store of ferry.stores) {
      for (const { payload: type } of store.actions) {
        if (type === undefined) continue;
        for (let i = 0; i < 300; i++) {
          const { payload, fill } = source.draw(type, pool);
          all++;
          if (judge.fits(payload, type)) fitting++;
          if (Object.keys(fill).length > 0) filled++;
        }
      }
    }
    expect(fitting / all).toBeGreaterThan(0.9);
    expect(fitting).toBeLessThan(all);
    expect(filled / all).toBeGreaterThan(0.2);
  });

  test('where something odd is given, it is drawn again and again, as far as it fits', () => {
    const odd = { number: 1.7e308, text: '__proto__' };
    const { payload: admit } = actionOf('deck', 'admit');
    const { payload: setLimit } = actionOf('wind', 'setLimit');
    const drawn = (type: Type, source: PayloadSource) =>
      Array.from({ length: 200 }, () =>
        JSON.stringify(source.draw(type, poolOf(ferry, stateWith())).payload),
      );
    const source = new PayloadSource(ferry.types, new Random(1), odd);
    const admitted = drawn(admit as Type, source);
    expect(admitted.filter((text) => text.includes('1.7e+308')).length).toBeGreaterThan(50);
    expect(admitted.filter((text) => text.includes('__proto__')).length).toBeGreaterThan(50);
    // From 5 to 40.
    expect(drawn(setLimit as Type, source)).not.toContain('1.7e+308');
    const usual = drawn(admit as Type, new PayloadSource(ferry.types, new Random(1)));
    expect(usual.some((text) => /e\+308|__proto__/.test(text))).toBe(false);
  });

  test('some scripts have something odd, the same for the same seed', () => {
    const odd = (seed: number) =>
      Array.from({ length: 300 }, (_, number) => plannedScript(seed, number, []).odd);
    const given = odd(1).filter((one) => one !== undefined);
    expect(given.length).toBeGreaterThan(10);
    expect(given.length).toBeLessThan(60);
    expect(new Set(given.map(({ number }) => number)).size).toBeGreaterThan(2);
    expect(odd(1)).toEqual(odd(1));
  });

  test('the pool knows keys with their places, names, texts and numbers', () => {
    const pool = poolOf(ferry, stateWith('id-1', 'id-2'));
    expect(pool.keys).toEqual([
      { pointer: '/deck/vehicles/0/id', value: 'id-1' },
      { pointer: '/deck/vehicles/1/id', value: 'id-2' },
    ]);
    expect(pool.names).toEqual(['port']);
    expect(pool.numbers).toContain(240);
    expect(pool.texts).toContain('SK 4');
  });

  test('what is filled in comes from the state, and stays as written where there is nothing', () => {
    const step = {
      send: 'deck.rename',
      payload: { id: 'id-9', plate: 'a' },
      fill: { '/id': '/deck/vehicles/1/id' },
    };
    expect(payloadIn(step, stateWith('id-1', 'id-2'))).toEqual({ id: 'id-2', plate: 'a' });
    expect(payloadIn(step, stateWith('id-1'))).toEqual({ id: 'id-9', plate: 'a' });
  });
});

describe('shrinking', () => {
  const difference = (step: number) =>
    ({ step, what: 'state', at: '', participant: 'x', expected: 1, actual: 2 }) as const;

  /** Fails where these are sent in this order, the last with a number above a bound. */
  function failsFor(wanted: readonly string[], bound: number) {
    return async ({ steps }: Script) => {
      await Promise.resolve();
      let next = 0;
      for (const [i, step] of steps.entries()) {
        if (!isSend(step) || step.send !== wanted[next]) continue;
        const n = (step.payload as { n?: number } | undefined)?.n ?? 0;
        if (next === wanted.length - 1 && n <= bound) continue;
        next++;
        if (next === wanted.length) return difference(i);
      }
      return undefined;
    };
  }

  test.each([1, 2, 3, 4, 5, 6, 7, 8])(
    'leaves nothing out and nothing in (seed %i)',
    async (seed) => {
      const random = new Random(seed);
      const names = ['deck.a', 'deck.b', 'deck.c', 'deck.d'];
      const wanted = Array.from({ length: 1 + random.below(4) }, () => random.pick(names));
      const fails = failsFor(wanted, 3);
      const noise = Array.from({ length: 80 }, () => ({
        send: random.pick(names),
        payload: { n: random.below(9), note: 'long text' },
      }));
      const script: Script = {
        steps: [
          ...noise,
          ...wanted.map((send) => ({ send, payload: { n: 8, note: 'long text' } })),
        ],
      };
      const found = await fails(script);
      if (found === undefined) throw new Error('the script does not fail');
      const shrunk = await shrink({ script, difference: found }, fails);
      const steps = shrunk.script.steps.filter(isSend);
      expect(steps.map(({ send }) => send)).toEqual(wanted);
      expect(steps.at(-1)?.payload).toMatchObject({ n: expect.any(Number) });
      expect(Object.keys((steps.at(-1)?.payload ?? {}) as object)).toEqual(['n']);
      expect(await shrink({ script, difference: found }, fails)).toEqual(shrunk);
    },
  );

  test('a filled part is written out if that is enough', async () => {
    const script: Script = {
      steps: [{ send: 'deck.a', payload: { id: 'id-7' }, fill: { '/id': '/deck/vehicles/0/id' } }],
    };
    const { script: shrunk } = await shrink({ script, difference: difference(0) }, (tried) =>
      Promise.resolve(tried.steps.length === 1 ? difference(0) : undefined),
    );
    expect(shrunk.steps).toEqual([{ send: 'deck.a', payload: {} }]);
  });
});

test('everything can be watched, and everything that can happen is counted', () => {
  const targets = targetsOf(ferry);
  expect(targets).toContain('*');
  expect(targets).toEqual(expect.arrayContaining(['deck', 'deck.vehicles', 'deck.freeM', 'berth']));
  expect(targets).not.toContain('berth.value');
  const { points: simple, decisions } = coverableOf(ferry);
  const points = [...simple, ...decisions.flatMap(({ sides }) => sides)].map(({ id }) => id);
  expect(points).toEqual(
    expect.arrayContaining([
      'deck.admit done',
      'deck.admit.requires[0] refused',
      'deck.depart.steps[2] then',
      'deck.turnAway.steps[0] none',
    ]),
  );
  expect(new Set(points).size).toBe(points.length);
});
