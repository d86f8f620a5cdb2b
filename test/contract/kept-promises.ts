import { expect } from '@jest/globals';
import type { Json } from '../../src/base/json.js';
import { TextStorage } from '../../src/base/text-storage.js';
import type { Outcome } from '../../src/model/participant.js';
import type { Begin, Promised } from './task-promises.js';
import type { TideWorld } from './tide-world.js';

/** A schema in which each promise about what is saved, and about the state to begin from, can be seen. */
export const cabin = `
leeshore: 1
types:
  Berth: { fields: { id: string, depthM: { type: number, minimum: 0 } } }
services:
  office: { operations: { note: { payload: string } } }
stores:
  cabin:
    state:
      limit: { type: integer, minimum: 0, maximum: 60, default: 18 }
      berths: { list: Berth, by: id }
      officer: { maybe: string }
    derived: { strict: "limit < 15" }
    history: { of: [limit] }
    saved:
      fields: [limit, berths]
      key: cabin-settings
      version: 2
      from:
        0: { limit: "old.threshold ?? 18" }
        1: { berths: "old.names.map(n => ({ id: n, depthM: 3 }))" }
    actions:
      setLimit: { payload: integer, steps: [{ set: { limit: "payload" } }] }
      add: { payload: Berth, steps: [{ put: { in: berths, value: "payload" } }] }
      sign: { payload: string, steps: [{ set: { officer: "payload" } }] }
      thereAndBack: [{ set: { limit: "limit + 1" } }, { set: { limit: "limit - 1" } }]
      clear: [{ reset: all }]
  tone:
    value: { enum: [day, night], default: day }
    saved: {}
    actions: { turn: { payload: { enum: [day, night] }, steps: [{ set: { value: "payload" } }] } }
    tasks:
      note: { auto: { follows: "cabin.limit > 30 ? 'high' : null", first: true }, payload: string, operation: office.note }
    reacts: [{ to: cabin.add, steps: [{ set: { value: "'night'" } }] }]
`;

const all: Promised[] = [];
const promise = (what: string, rules: string, holds: Promised['holds']) =>
  all.push({ what, rules, holds });

/** What every participant promises about what is saved, and about the state to begin from. */
export const keptPromises: readonly Promised[] = all;

const done: Outcome = { status: 'done' };
const limit = (world: TideWorld) => world.state('cabin').limit;

/** A storage that holds some texts, and says what was written. */
class Kept extends TextStorage {
  readonly written: string[] = [];

  constructor(texts: Readonly<Record<string, string>> = {}) {
    super();
    for (const [key, text] of Object.entries(texts)) super.setItem(key, text);
  }

  override setItem(key: string, text: string): void {
    this.written.push(key);
    super.setItem(key, text);
  }

  json(key: string): unknown {
    return JSON.parse(this.getItem(key) ?? 'null') as unknown;
  }
}

const defaults = { limit: 18, berths: [], officer: null };

/** Begins on what stands in the storage under the key of the cabin. */
const on = (begin: Begin, data: Json | string) =>
  begin({
    storage: new Kept({ 'cabin-settings': typeof data === 'string' ? data : JSON.stringify(data) }),
  });

promise('what is saved is written with its version when it has changed', '36', async (begin) => {
  const storage = new Kept();
  const world = await begin({ storage });
  expect(storage.length).toBe(0);
  world.send('cabin.setLimit', 12);
  expect(storage.json('cabin-settings')).toEqual({ version: 2, fields: { limit: 12, berths: [] } });
  expect(storage.written).toEqual(['cabin-settings']);
});

promise(
  'a store without a version is written as its fields alone, each in schema order',
  '22, 36',
  async (begin) => {
    const storage = new Kept();
    const world = await begin({ storage });
    world.send('cabin.add', { id: 'a', depthM: 2 });
    expect(storage.json('tone')).toEqual({ value: 'night' });
    expect(storage.written).toEqual(['cabin-settings', 'tone']);
  },
);

promise('nothing is written when no saved field has changed', '36', async (begin) => {
  const storage = new Kept();
  const world = await begin({ storage });
  world.send('cabin.sign', 'Ebb');
  world.send('cabin.thereAndBack');
  world.send('cabin.setLimit', 61);
  expect(storage.written).toEqual([]);
});

promise('an undo is written too', '35, 36', async (begin) => {
  const storage = new Kept();
  const world = await begin({ storage });
  world.send('cabin.setLimit', 12);
  world.send('cabin.undo');
  expect(storage.json('cabin-settings')).toMatchObject({ fields: { limit: 18 } });
});

promise('what watchers see is written already', '22', async (begin) => {
  const storage = new Kept();
  const world = await begin({ storage });
  const seen: unknown[] = [];
  world.running.watch?.('cabin.limit', () => seen.push(storage.json('cabin-settings')));
  world.send('cabin.setLimit', 12);
  expect(seen).toEqual([{ version: 2, fields: { limit: 12, berths: [] } }]);
});

promise('stores begin with what was saved, and write nothing then', '36', async (begin) => {
  const fields = { limit: 9, berths: [{ id: 'a', depthM: 2 }] };
  const storage = new Kept({
    'cabin-settings': JSON.stringify({ version: 2, fields }),
    tone: '{"value":"night"}',
  });
  const world = await begin({ storage });
  expect(world.running.read()).toEqual({ cabin: { ...fields, officer: null }, tone: 'night' });
  expect(world.running.derive?.().cabin?.strict).toBe(true);
  expect(storage.written).toEqual([]);
  expect(world.reports).toEqual([]);
});

promise('a reset goes back to the defaults, not to what was saved', '36', async (begin) => {
  const world = await on(begin, { version: 2, fields: { limit: 9 } });
  expect(world.send('cabin.clear')).toEqual(done);
  expect(limit(world)).toBe(18);
});

promise('what was saved cannot be undone', '35, 36', async (begin) => {
  const world = await on(begin, { version: 2, fields: { limit: 9 } });
  expect(world.running.derive?.().cabin?.canUndo).toBe(false);
  world.send('cabin.setLimit', 12);
  world.send('cabin.undo');
  expect(limit(world)).toBe(9);
});

promise(
  'a missing field begins with its default, an unknown one is passed over',
  '36',
  async (begin) => {
    const world = await on(begin, {
      version: 2,
      fields: { limit: 9, colour: 'red', officer: 'Ebb' },
    });
    expect(world.state('cabin')).toEqual({ ...defaults, limit: 9 });
    expect(world.reports).toEqual([]);
  },
);

promise('data without a version is of version 0', '36', async (begin) => {
  const world = await on(begin, { threshold: 7, berths: [{ id: 'b', depthM: 1 }] });
  expect(world.state('cabin')).toEqual({ ...defaults, limit: 7, berths: [{ id: 'b', depthM: 1 }] });
});

promise('an earlier version is made into the present one directly', '36', async (begin) => {
  const world = await on(begin, { version: 1, fields: { limit: 5, names: ['x', 'y'] } });
  const berths = [
    { id: 'x', depthM: 3 },
    { id: 'y', depthM: 3 },
  ];
  expect(world.state('cabin')).toEqual({ ...defaults, limit: 5, berths });
});

const wrong: readonly (readonly [what: string, data: Json | string])[] = [
  ['text that is no JSON', '{'],
  ['something else than fields', '[]'],
  ['null', 'null'],
  ['a value that does not fit', { version: 2, fields: { limit: 61, berths: [] } }],
  [
    'two items of one key',
    {
      version: 2,
      fields: {
        limit: 5,
        berths: [
          { id: 'a', depthM: 1 },
          { id: 'a', depthM: 2 },
        ],
      },
    },
  ],
  [
    'an item with a property too many',
    { version: 2, fields: { berths: [{ id: 'a', depthM: 1, x: 1 }] } },
  ],
  ['an earlier version that throws', { version: 1, fields: { limit: 5 } }],
  ['an earlier version that does not fit', { threshold: 'high' }],
];
for (const [what, data] of wrong)
  promise(
    `${what}: all defaults, it is told, and the data stays until the next write`,
    '36',
    async (begin) => {
      const text = typeof data === 'string' ? data : JSON.stringify(data);
      const storage = new Kept({ 'cabin-settings': text });
      const world = await begin({ storage });
      expect(world.state('cabin')).toEqual(defaults);
      expect(world.reports).toEqual([{ kind: 'storage', at: 'cabin.saved' }]);
      expect(storage.getItem('cabin-settings')).toBe(text);
      world.send('cabin.setLimit', 12);
      expect(storage.json('cabin-settings')).toEqual({
        version: 2,
        fields: { limit: 12, berths: [] },
      });
    },
  );

promise('data of a later version is told once, and is never written over', '36', async (begin) => {
  const text = JSON.stringify({ version: 3, fields: { limit: 5, unit: 'm' } });
  const storage = new Kept({ 'cabin-settings': text, tone: '{"version":1,"fields":{}}' });
  const world = await begin({ storage });
  expect(world.running.read()).toEqual({ cabin: defaults, tone: 'day' });
  world.send('cabin.setLimit', 12);
  world.send('cabin.add', { id: 'a', depthM: 1 });
  world.send('cabin.setLimit', 13);
  expect(world.reports).toEqual([
    { kind: 'storage', at: 'cabin.saved' },
    { kind: 'storage', at: 'tone.saved' },
  ]);
  expect([storage.getItem('cabin-settings'), storage.written]).toEqual([text, []]);
});

promise('without a storage nothing is said', '36', async (begin) => {
  const world = await begin();
  expect(world.send('cabin.setLimit', 12)).toEqual(done);
  expect(world.reports).toEqual([]);
});

promise('a storage that is full is told, and changes nothing else', '36', async (begin) => {
  const storage = new Kept();
  storage.setItem = () => {
    throw new Error('full');
  };
  const world = await begin({ storage });
  const told: unknown[] = [];
  world.running.watch?.('cabin.limit', (now) => told.push(now));
  expect(world.send('cabin.setLimit', 12)).toEqual(done);
  expect([limit(world), told]).toEqual([12, [12]]);
  expect(world.reports).toEqual([{ kind: 'storage', at: 'cabin.saved' }]);
});

promise('a storage that throws when it is read is told for each store', '36', async (begin) => {
  const storage = new Kept();
  storage.getItem = () => {
    throw new Error('denied');
  };
  const world = await begin({ storage });
  expect(world.state('cabin')).toEqual(defaults);
  expect(world.reports).toEqual([
    { kind: 'storage', at: 'cabin.saved' },
    { kind: 'storage', at: 'tone.saved' },
  ]);
});

promise('what follows a value with first sees what was saved', '34c, 36', async (begin) => {
  const world = await on(begin, { version: 2, fields: { limit: 40 } });
  expect(world.calls).toEqual(['office.note "high"']);
});

promise(
  'stores begin from a state that is given; what was saved comes after it',
  '39',
  async (begin) => {
    const storage = new Kept({
      'cabin-settings': JSON.stringify({ version: 2, fields: { limit: 9 } }),
    });
    const state = {
      cabin: { limit: 30, officer: 'Ebb', berths: [{ id: 'a', depthM: 2 }] },
      tone: 'night',
    };
    const world = await begin({ storage, state });
    expect(world.running.read()).toEqual({ ...state, cabin: { ...state.cabin, limit: 9 } });
    world.send('cabin.clear');
    expect(world.state('cabin')).toEqual(defaults);
  },
);

promise('a state to begin from is judged as saved data is, store by store', '39', async (begin) => {
  const state = { cabin: { limit: 99, officer: 'Ebb' }, tone: 'night', quay: {} };
  const world = await begin({ state });
  expect(world.running.read()).toEqual({ cabin: defaults, tone: 'night' });
  expect(world.reports).toEqual([{ kind: 'storage', at: 'cabin.state' }]);
});
