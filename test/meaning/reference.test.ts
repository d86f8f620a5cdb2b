import { beforeAll, describe, expect, test } from '@jest/globals';
import type { Json } from '../../src/base/json.js';
import { repeatableEnvironment } from '../../src/comparing/playing/environment.js';
import { referenceParticipant } from '../../src/meaning/reference.js';
import type { Application } from '../../src/model/application.js';
import type { Report, Running } from '../../src/model/participant.js';
import { ferryText, modelOf } from '../helpers.js';

let application: Application;
let reports: Report[];

beforeAll(async () => {
  application = await modelOf(ferryText);
});

function start(): Running {
  reports = [];
  return referenceParticipant(application).create(repeatableEnvironment(reports));
}

const bus: Json = { plate: 'SK 4', lengthM: 12, lane: 'port' };
const done = { status: 'done' };

describe('what the ferry schema means', () => {
  test('admitting a vehicle puts it into its lane, with a new id', () => {
    const ferry = start();
    expect(ferry.send('deck', 'admit', bus)).toEqual(done);
    expect(ferry.read().deck).toEqual({
      vehicles: [{ id: 'id-1', plate: 'SK 4', lengthM: 12, lane: 'port', boarded: false }],
      capacityM: 240,
      hold: null,
      byLane: { port: 12 },
    });
    expect(ferry.derive?.().deck).toMatchObject({
      usedM: 0,
      freeM: 240,
      nextPlate: 'SK 4',
      busiestLane: 'port',
    });
  });

  test('a refusal says why, and leaves everything as it was', () => {
    const ferry = start();
    ferry.send('deck', 'holdFor', 'fog');
    const before = ferry.read();
    expect(ferry.send('deck', 'admit', bus)).toEqual({
      status: 'refused',
      reason: 'Boarding is on hold.',
    });
    expect(ferry.read()).toBe(before);
  });

  test.each<[string, Json | undefined, string]>([
    ['none at all', undefined, '/payload'],
    ['a property too few', { plate: 'SK 4', lane: 'port' }, '/payload/lengthM'],
    ['a property too many', { ...bus, wheels: 6 }, '/payload/wheels'],
    ['text for a number', { ...bus, lengthM: '12' }, '/payload/lengthM'],
    ['another lane', { ...bus, lane: 'bow' }, '/payload/lane'],
  ])('a payload that does not fit is refused: %s', (_name, payload, at) => {
    expect(start().send('deck', 'admit', payload)).toMatchObject({
      status: 'refused',
      reason: 'does not fit',
      at,
    });
  });

  test('a value that does not fit where it is stored refuses the whole action', () => {
    const ferry = start();
    expect(ferry.send('deck', 'admit', { ...bus, lengthM: 31 })).toMatchObject({
      status: 'refused',
      at: '/deck/vehicles/0/lengthM',
    });
    expect(ferry.read().deck).toMatchObject({ vehicles: [], byLane: {} });
  });

  test('an undefined property counts as absent', () => {
    const ferry = start();
    const vehicle = {
      id: 'a',
      plate: 'SK 4',
      lengthM: 4,
      lane: 'port',
      boarded: false,
      note: undefined,
    } as unknown as Json;
    expect(ferry.send('deck', 'swap', vehicle)).toEqual(done);
    expect(
      Object.keys((ferry.read().deck as { vehicles: object[] }).vehicles[0] ?? {}),
    ).not.toContain('note');
  });

  test('a whole crossing: sign in, admit, board, depart', () => {
    const ferry = start();
    expect(ferry.send('desk', 'signIn', { name: 'Ada Holm', rank: 'mate' })).toEqual(done);
    ferry.send('deck', 'admit', bus);
    ferry.send('deck', 'admit', { ...bus, lane: 'centre' });
    expect(ferry.send('deck', 'board', 'id-1')).toEqual(done);
    expect(ferry.derive?.().deck).toMatchObject({ usedM: 12, freeM: 228 });
    expect(ferry.send('deck', 'board', 'id-9')).toMatchObject({
      reason: 'No such vehicle is waiting.',
    });
    ferry.send('wind', 'measure', 30);
    expect(ferry.send('deck', 'board', 'id-2')).toMatchObject({ reason: 'No boarding now.' });
    expect(ferry.send('deck', 'depart', undefined)).toEqual(done);
    expect(ferry.read().deck).toMatchObject({
      vehicles: [{ id: 'id-2' }],
      byLane: {},
      hold: 'wind 30 m/s',
    });
  });

  test('a store of one value is that value', () => {
    const ferry = start();
    expect(ferry.read().berth).toBe(0);
    expect(ferry.send('berth', 'moor', 3)).toEqual(done);
    expect(ferry.read().berth).toBe(3);
    expect(ferry.send('berth', 'moor', 2)).toMatchObject({ reason: 'She is moored already.' });
    ferry.send('berth', 'castOff', undefined);
    expect(ferry.read().berth).toBe(0);
  });
});

describe('watchers', () => {
  test('are called once a transaction, in the order in which they were added, with the values now and before', () => {
    const ferry = start();
    const calls: unknown[] = [];
    for (const target of ['deck.freeM', 'deck.capacityM', 'wind', 'deck.capacityM']) {
      ferry.watch?.(target, (now, before) => calls.push([target, now, before]));
    }
    ferry.send('deck', 'setCapacity', 100);
    expect(calls).toEqual([
      ['deck.freeM', 100, 240],
      ['deck.capacityM', 100, 240],
      ['deck.capacityM', 100, 240],
    ]);
    calls.length = 0;
    ferry.send('deck', 'setCapacity', 100);
    ferry.send('deck', 'setCapacity', -1);
    expect(calls).toEqual([]);
  });

  test('that send wait for their turn, and one that throws stops nobody', async () => {
    const ferry = start();
    const outcomes: unknown[] = [];
    ferry.watch?.('deck.hold', () => {
      throw new Error('lost');
    });
    const stop = ferry.watch?.('deck.hold', () => {
      stop?.();
      outcomes.push(ferry.send('deck', 'setCapacity', 10));
      outcomes.push((ferry.read().deck as { capacityM: number }).capacityM);
    });
    expect(ferry.send('deck', 'holdFor', 'fog')).toEqual(done);
    expect(outcomes).toEqual([{ status: 'queued', outcome: expect.any(Promise) }, 240]);
    await expect((outcomes[0] as { outcome: Promise<unknown> }).outcome).resolves.toEqual(done);
    expect(ferry.read().deck).toMatchObject({ capacityM: 10 });
    expect(reports).toEqual([{ kind: 'watcher', at: 'deck.hold' }]);
  });

  test('that set each other off for ever are stopped after a thousand turns', () => {
    const ferry = start();
    let last = 0;
    ferry.watch?.('deck.capacityM', (now) => {
      last = now as number;
      ferry.send('deck', 'setCapacity', last === 1 ? 2 : 1);
    });
    ferry.send('deck', 'setCapacity', 1);
    expect(reports).toEqual([{ kind: 'unsettled', at: 'deck.setCapacity' }]);
  });
});

test('what did not change stays the same object', () => {
  const ferry = start();
  ferry.send('deck', 'admit', bus);
  ferry.send('deck', 'admit', bus);
  const before = ferry.read() as { deck: { vehicles: object[]; byLane: object }; wind: object };
  const derived = ferry.derive?.().deck;
  ferry.send('deck', 'rename', { id: 'id-2', plate: 'new' });
  const after = ferry.read() as typeof before;
  expect(after.wind).toBe(before.wind);
  expect(after.deck.byLane).toBe(before.deck.byLane);
  expect(after.deck.vehicles[0]).toBe(before.deck.vehicles[0]);
  expect(after.deck.vehicles[1]).not.toBe(before.deck.vehicles[1]);
  expect(ferry.derive?.().deck?.onBoard).toBe(derived?.onBoard);
  expect(() => Object.assign(after.deck, { hold: 'x' })).toThrow(TypeError);
});
