import { expect } from '@jest/globals';
import type { Json } from '../../src/base/json.js';
import type { Environment, Outcome } from '../../src/model/participant.js';
import type { Started } from '../participants.js';

/** A schema in which each promise can be seen. */
export const quay = `
leeshore: 1
types:
  Crate: { fields: { id: string, weight: { type: number, minimum: 0 }, tags: { list: string }, note: string }, optional: [note] }
  Pallet: { fields: { id: string, on: { list: Pallet } } }
stores:
  quay:
    state:
      crates: { list: Crate, by: id }
      names: { map: string }
      limit: { type: number, minimum: 1, maximum: 100, default: 10, setter: setLimit }
      open: { type: boolean, default: true }
      stamp: { maybe: number }
      marks: { list: number }
    derived:
      total: "sum(crates, c => c.weight)"
      room: "limit - total"
      heavy: "crates.filter(c => c.weight > 5)"
      ratio: "total / crates.length"
      windy: "tide.level > 3"
      openText: "open ? 'open' : 'shut'"
    actions:
      land:
        payload: Crate
        requires: [{ that: "open", otherwise: Shut. }]
        steps:
          - append: { to: crates, value: "payload" }
      landTwo:
        payload: { fields: { first: Crate, second: Crate } }
        steps:
          - append: { to: crates, value: "payload.first" }
          - append: { to: crates, value: "payload.second" }
      weigh:
        payload: { fields: { id: string, by: number } }
        steps:
          - update: { in: crates, key: "payload.id", each: c, set: { weight: "c.weight + payload.by" }, none: No such crate. }
      swapAndBack:
        steps:
          - set: { limit: "limit + 1" }
          - set: { limit: "limit - 1" }
      name:
        payload: { fields: { key: string, value: string } }
        steps:
          - put: { in: names, key: "payload.key", value: "payload.value" }
      forget:
        payload: string
        steps:
          - drop: { from: names, key: "payload" }
      stampTwice:
        let: { a: "now()" }
        steps:
          - set: { stamp: "a", marks: "[a, now(), now()]" }
      ids:
        steps:
          - append: { to: crates, value: { id: "newId()", weight: 1, tags: [] } }
          - append: { to: crates, value: { id: "newId()", weight: limit - 50, tags: [] } }
      shut:
        - set: { open: false }
      close:
        - remove: { from: crates, each: c, where: "c.weight > 0" }
        - reset: [limit]
  tide:
    state: { level: { type: number, default: 0 } }
    derived: { deep: "level + quay.total" }
    actions:
      rise: { payload: number, steps: [{ set: { level: "level + payload" } }] }
      float: { payload: Pallet, steps: [{ set: { level: "payload.on.length" } }] }
`.replace('limit - 50', '"limit - 50"');

const crate = (id: string, weight: number): Json => ({ id, weight, tags: [] });
const done: Outcome = { status: 'done' };

interface Quay {
  readonly crates: readonly { readonly id: string; readonly tags: object }[];
  readonly names: Readonly<Record<string, string>>;
  readonly limit: number;
  readonly marks: readonly number[];
  readonly stamp: number | null;
}

/** Starts a participant of the schema; parts of its environment can be replaced. */
export type Start = (change?: Partial<Environment>) => Promise<Started>;

/** Something that every participant promises. */
export interface Promised {
  readonly what: string;
  /** The rules of the contract that it is about. */
  readonly rules: readonly number[];
  /** Throws if a participant does not keep it. */
  readonly holds: (start: Start) => Promise<void>;
}

async function begin(start: Start, change: Partial<Environment> = {}) {
  const { running, reports } = await start(change);
  const send = (path: string, payload?: Json) => {
    const [store = '', action = ''] = path.split('.');
    return running.send(store, action, payload) as Outcome;
  };
  const state = () => running.read().quay as Quay;
  const derived = () => running.derive?.().quay ?? {};
  return { running, reports, send, state, derived };
}

const all: Promised[] = [];
const promise = (what: string, rules: readonly number[], holds: (start: Start) => Promise<void>) =>
  void all.push({ what, rules, holds });

promise(
  'there and back again is no change: nobody is told, everything stays the same object',
  [2, 27],
  async (start) => {
    const { running, send, state } = await begin(start);
    const before = running.read();
    const calls: unknown[] = [];
    for (const target of ['*', 'quay', 'quay.limit', 'quay.room'])
      running.watch?.(target, () => calls.push(target));
    expect(send('quay.swapAndBack')).toEqual(done);
    expect(send('quay.setLimit', 10)).toEqual(done);
    expect(calls).toEqual([]);
    expect(running.read()).toBe(before);
    expect(state().limit).toBe(10);
  },
);

promise('all or nothing: a misfit in the second step takes back the first', [13], async (start) => {
  const { send, state } = await begin(start);
  const outcome = send('quay.landTwo', { first: crate('a', 1), second: crate('a', 2) });
  expect(outcome).toEqual({
    status: 'refused',
    reason: 'does not fit',
    at: '/quay/crates/1',
  });
  expect(state().crates).toEqual([]);
});

promise(
  'ids that were asked for are spent even if the transaction is refused',
  [19],
  async (start) => {
    const { send, state } = await begin(start);
    expect(send('quay.ids')).toMatchObject({ status: 'refused', at: '/quay/crates/1/weight' });
    send('quay.setLimit', 60);
    expect(send('quay.ids')).toEqual(done);
    expect(state().crates.map(({ id }) => id)).toEqual(['id-3', 'id-4']);
  },
);

promise('the time is asked for once in a transaction', [19], async (start) => {
  let asked = 0;
  const { send, state } = await begin(start, { now: () => (asked += 1) });
  send('quay.stampTwice');
  expect(state()).toMatchObject({ stamp: 1, marks: [1, 1, 1] });
  send('quay.stampTwice');
  expect(asked).toBe(2);
});

promise(
  'an environment that throws breaks the transaction, and is reported',
  [13],
  async (start) => {
    const newId = () => {
      throw new Error('no ids left');
    };
    const { send, state, reports } = await begin(start, { newId });
    expect(send('quay.ids')).toEqual({ status: 'broken', action: 'quay.ids' });
    expect(state().crates).toEqual([]);
    expect(reports.map(({ kind, at }) => ({ kind, at }))).toEqual([
      { kind: 'action', at: 'quay.ids' },
    ]);
  },
);

promise(
  'readers outside see the last committed moment, even from within a transaction',
  [9],
  async (start) => {
    const seen: number[] = [];
    let read = (): number => -1;
    const newId = () => {
      seen.push(read());
      return `n${seen.length}`;
    };
    const { send, state } = await begin(start, { newId });
    read = () => state().crates.length;
    send('quay.setLimit', 60);
    send('quay.ids');
    expect(seen).toEqual([0, 0]);
    expect(state().crates).toHaveLength(2);
  },
);

promise('a payload belongs to the store, which never changes it', [4], async (start) => {
  const { send, state } = await begin(start);
  const payload = Object.freeze({
    id: 'a',
    weight: 2,
    tags: Object.freeze(['x']),
    note: undefined,
  });
  send('quay.land', payload as unknown as Json);
  send('quay.weigh', { id: 'a', by: 3 });
  expect(payload).toEqual({ id: 'a', weight: 2, tags: ['x'], note: undefined });
  expect(state().crates).toEqual([{ id: 'a', weight: 5, tags: ['x'] }]);
  expect(Object.keys(state().crates[0] ?? {})).not.toContain('note');
});

for (const [what, at, payload] of [
  ['a Date', '/payload/id', { ...(crate('a', 1) as object), id: new Date(0) }],
  ['a Map', '/payload', new Map([['id', 'a']])],
  ['NaN', '/payload/weight', crate('a', NaN)],
  ['a function', '/payload/note', { ...(crate('a', 1) as object), note: () => 'x' }],
  ['a hole', '/payload/tags/0', { ...(crate('a', 1) as object), tags: [, 'x'] }], // eslint-disable-line no-sparse-arrays
  [
    'a class instance',
    '/payload',
    Object.assign(Object.create({ own: 1 }) as object, crate('a', 1)),
  ],
  ['an unknown property', '/payload/colour', { ...(crate('a', 1) as object), colour: 'red' }],
  ['nothing at all', '/payload', undefined],
] as const satisfies readonly (readonly [string, string, unknown])[])
  promise(`${what} does not fit`, [4, 5], async (start) => {
    const { send } = await begin(start);
    expect(send('quay.land', payload as unknown as Json)).toMatchObject({
      status: 'refused',
      reason: 'does not fit',
      at,
    });
  });

promise('a sum that leaves what numbers can hold does not fit', [12], async (start) => {
  const { running, send } = await begin(start);
  expect(send('tide.rise', 1.7e308)).toEqual(done);
  expect(send('tide.rise', 1.7e308)).toEqual({
    status: 'refused',
    reason: 'does not fit',
    at: '/tide/level',
  });
  expect(running.read().tide).toEqual({ level: 1.7e308 });
});

promise('a cycle does not fit', [4], async (start) => {
  const loop: Record<string, unknown> = { id: 'a', weight: 1, tags: [] };
  loop.note = loop;
  const { send } = await begin(start);
  expect(send('quay.land', loop as Json)).toMatchObject({
    status: 'refused',
    at: '/payload/note',
  });
  const pallet = (...on: Json[]): Json => ({ id: 'p', on });
  const stacked = pallet(pallet(), pallet());
  expect(send('tide.float', stacked)).toEqual(done);
  (stacked as { on: Json[] }).on.push(stacked);
  expect(send('tide.float', stacked)).toMatchObject({ status: 'refused', at: '/payload/on/2' });
});

promise('a dictionary is read by own keys only, and __proto__ does not fit', [3], async (start) => {
  const { send, state } = await begin(start);
  expect(send('quay.name', { key: 'constructor', value: 'c' })).toEqual(done);
  expect(send('quay.name', { key: '__proto__', value: 'p' })).toMatchObject({
    status: 'refused',
    reason: 'does not fit',
  });
  expect(send('quay.forget', 'toString')).toEqual(done);
  expect(Object.entries(state().names)).toEqual([['constructor', 'c']]);
  expect(Object.getPrototypeOf(state().names)).toBe(Object.prototype);
});

promise('putting a key that is there leaves it in its place', [3, 17], async (start) => {
  const { send, state } = await begin(start);
  for (const key of ['a', 'b', 'a']) send('quay.name', { key, value: `${key}!` });
  expect(Object.keys(state().names)).toEqual(['a', 'b']);
});

promise('what is not written to stays the same object', [7], async (start) => {
  const { running, send, state } = await begin(start);
  send('quay.landTwo', { first: crate('a', 1), second: crate('b', 7) });
  const [before, all] = [state(), running.read()];
  send('quay.weigh', { id: 'b', by: 1 });
  const after = state();
  expect(after.crates[0]).toBe(before.crates[0]);
  expect(after.crates[1]?.tags).toBe(before.crates[1]?.tags);
  expect(after.names).toBe(before.names);
  expect(running.read().tide).toBe(all.tide);
  expect(before.crates).toEqual([crate('a', 1), crate('b', 7)]);
});

promise('snapshots are plain, frozen data that can be cloned', [6, 8], async (start) => {
  const { running, send, state } = await begin(start);
  send('quay.land', crate('a', 1));
  expect(structuredClone(running.read())).toEqual(running.read());
  expect(() => Object.assign(running.read(), { quay: {} })).toThrow(TypeError);
  expect(() => Object.assign(state(), { limit: 5 })).toThrow(TypeError);
  expect(() => (state().crates as unknown[]).push(1)).toThrow(TypeError);
  expect(() => Object.assign(state().crates[0] ?? {}, { id: 'z' })).toThrow(TypeError);
});

promise(
  'a derived value is given out as the same object while it is equal',
  [23, 24],
  async (start) => {
    const { send, derived } = await begin(start);
    send('quay.landTwo', { first: crate('a', 1), second: crate('b', 7) });
    const { heavy } = derived();
    send('quay.weigh', { id: 'a', by: 1 });
    expect(derived().heavy).toBe(heavy);
    expect(derived()).toMatchObject({ total: 9, room: 1 });
  },
);

promise(
  'derived values may be NaN or infinite, and stay so without notices',
  [1, 2],
  async (start) => {
    const { running, send, derived } = await begin(start);
    const calls: unknown[] = [];
    running.watch?.('quay.ratio', (now, before) => calls.push([now, before]));
    expect(derived().ratio).toBeNaN();
    send('quay.setLimit', 20);
    send('quay.land', crate('a', 4));
    expect(calls).toEqual([[4, NaN]]);
  },
);

promise(
  'a watcher is told of changes from any store, once, with the values now and before',
  [27],
  async (start) => {
    const { running, send } = await begin(start);
    const calls: unknown[] = [];
    for (const target of ['tide.deep', 'quay.windy', 'quay.total']) {
      running.watch?.(target, (now, before) => calls.push([target, now, before]));
    }
    send('tide.rise', 4);
    send('quay.land', crate('a', 2));
    expect(calls).toEqual([
      ['tide.deep', 4, 0],
      ['quay.windy', true, false],
      ['tide.deep', 6, 4],
      ['quay.total', 2, 0],
    ]);
  },
);

promise('no watcher sees a derived value and a field of different moments', [26], async (start) => {
  const { running, send, state, derived } = await begin(start);
  const seen: boolean[] = [];
  const look = () => seen.push(derived().room === state().limit - (derived().total as number));
  for (const target of ['quay.limit', 'quay.crates', 'quay.room', 'quay', '*'])
    running.watch?.(target, look);
  send('quay.land', crate('a', 2));
  send('quay.setLimit', 50);
  expect(seen.length).toBeGreaterThanOrEqual(8);
  expect(seen.every(Boolean)).toBe(true);
});

promise(
  'watchers that are stopped or added during a round wait or are passed over',
  [28],
  async (start) => {
    const { running, send } = await begin(start);
    const calls: string[] = [];
    const stops: (() => void)[] = [];
    running.watch?.('quay.limit', () => {
      calls.push('first');
      stops[0]?.();
      if (calls.length === 1) running.watch?.('quay.limit', () => calls.push('added'));
    });
    stops.push(running.watch?.('quay.limit', () => calls.push('stopped')) ?? (() => undefined));
    send('quay.setLimit', 20);
    expect(calls).toEqual(['first']);
    send('quay.setLimit', 30);
    expect(calls).toEqual(['first', 'first', 'added']);
  },
);

promise(
  'an action sent from a watcher is queued, and its turn comes after the round',
  [20],
  async (start) => {
    const { running, send, state } = await begin(start);
    const log: unknown[] = [];
    const queued: Outcome[] = [];
    const stop = running.watch?.('quay.limit', () => {
      stop?.();
      queued.push(send('quay.setLimit', 30), send('quay.setLimit', 0));
      log.push(['during', state().limit]);
    });
    running.watch?.('quay.limit', (now) => log.push(['after', now]));
    expect(send('quay.setLimit', 20)).toEqual(done);
    expect(log).toEqual([
      ['during', 20],
      ['after', 20],
      ['after', 30],
    ]);
    expect(queued.map(({ status }) => status)).toEqual(['queued', 'queued']);
    const finals = await Promise.all(
      queued.map(async (one) => (one.status === 'queued' ? await one.outcome : one)),
    );
    expect(finals).toEqual([done, expect.objectContaining({ status: 'refused', at: '/payload' })]);
  },
);

promise('a watcher that throws stops nobody, and is reported', [28], async (start) => {
  const { running, send, reports } = await begin(start);
  const calls: unknown[] = [];
  running.watch?.('quay.limit', () => {
    throw new Error('lost');
  });
  running.watch?.('quay.limit', (now) => calls.push(now));
  expect(send('quay.setLimit', 20)).toEqual(done);
  expect(calls).toEqual([20]);
  expect(reports.map(({ kind }) => kind)).toEqual(['watcher']);
});

promise(
  'what does not settle is stopped after a thousand turns, and reported once',
  [21],
  async (start) => {
    const { running, send, reports } = await begin(start);
    let turns = 0;
    running.watch?.('quay.limit', (now) => {
      turns++;
      send('quay.setLimit', now === 20 ? 30 : 20);
    });
    send('quay.setLimit', 20);
    expect(turns).toBe(1000);
    expect(reports.map(({ kind }) => kind)).toEqual(['unsettled']);
  },
);

promise('an action without a payload drops what it is given', [10], async (start) => {
  const { send } = await begin(start);
  expect(send('quay.shut', { surplus: true })).toEqual(done);
  expect(send('quay.land', crate('a', 1))).toMatchObject({
    status: 'refused',
    reason: 'Shut.',
  });
});

promise('an action that does not exist is the caller’s mistake', [13], async (start) => {
  const { send } = await begin(start);
  expect(() => send('quay.sink')).toThrow();
});

/** All promises. */
export const promises: readonly Promised[] = all;
