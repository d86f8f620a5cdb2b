import { expect } from '@jest/globals';
import type { Json } from '../../src/base/json.js';
import { TextStorage } from '../../src/base/text-storage.js';
import type { Outcome } from '../../src/model/participant.js';
import type { Promised } from './task-promises.js';
import type { TideWorld } from './tide-world.js';

/** A schema in which each promise about a store that comes later can be seen. */
export const annex = `
leeshore: 1
services:
  office: { operations: { note: { payload: string } } }
stores:
  deck:
    state:
      usedM: { type: number, minimum: 0, maximum: 50, default: 0 }
      note: { type: string, default: '' }
    derived:
      fee: "usedM * (annex?.perM ?? 0)"
      running: "annex?.ask.running ?? false"
      price: "annex?.price(usedM) ?? -1"
    actions:
      load: { payload: number, steps: [{ set: { usedM: "payload" } }] }
      write: { payload: string, steps: [{ set: { note: "payload" } }] }
      raise: [{ set: { note: "'raised'" } }, { run: annex.raise }]
      ask: [{ start: annex.ask, payload: "'x'" }, { set: { note: "'asked'" } }]
      undo: [{ run: annex.undo }, { set: { note: "'back'" } }]
      clear: [{ reset: { stores: all } }, { cancel: { stores: [annex] } }]
  annex:
    lazy: true
    state:
      perM: { type: number, minimum: 0, maximum: 9, default: 2 }
      seen: { list: string }
    derived:
      price: { given: { metres: number }, value: "metres * perM" }
      double: "perM * 2"
    history: { of: [perM] }
    saved: { fields: [perM] }
    actions:
      raise: [{ set: { perM: "perM + 1" } }]
      write: { payload: string, steps: [{ append: { to: seen, value: "payload" } }] }
    tasks:
      ask: { payload: string, operation: office.note }
      hello: { auto: once, operation: office.note, with: "'hello'" }
      follow: { auto: { follows: "deck.note" }, payload: string, operation: office.note }
    reacts:
      - { to: deck.write, steps: [{ append: { to: seen, value: "payload" } }] }
  log:
    state: { last: { type: string, default: '' }, times: { type: integer, default: 0 } }
    reacts:
      - { to: deck.write, steps: [{ set: { last: "(annex?.seen ?? []).join(' ')" } }] }
      - { to: annex.raise, steps: [{ set: { times: "times + 1" } }] }
`;

const all: Promised[] = [];
const promise = (what: string, rules: string, holds: Promised['holds']) =>
  all.push({ what, rules, holds });

/** What every participant promises about a store that comes later. */
export const laterPromises: readonly Promised[] = all;

const done: Outcome = { status: 'done' };
const refused: Outcome = { status: 'refused', reason: 'not attached' };
const defaults = { perM: 2, seen: [] };

const attach = (world: TideWorld) => world.running.attach?.('annex');
const annexIn = (world: TideWorld) => world.running.read().annex;
const deckDerived = (world: TideWorld) => world.running.derive?.().deck;
const attached = async (world: TideWorld) => {
  expect(attach(world)).toEqual(done);
  await world.rest();
  return world;
};

promise(
  'until it is attached it is null in the whole snapshot, and nothing is derived in it',
  '37',
  async (begin) => {
    const world = await begin();
    expect(world.running.read()).toEqual({
      deck: { usedM: 0, note: '' },
      annex: null,
      log: { last: '', times: 0 },
    });
    expect(Object.keys(world.running.derive?.() ?? {})).not.toContain('annex');
    expect(Object.keys(world.running.read())).toEqual(['deck', 'annex', 'log']);
  },
);

promise('what is asked of it is refused', '37', async (begin) => {
  const world = await begin();
  expect(world.send('annex.raise')).toEqual(refused);
  expect(world.send('annex.undo')).toEqual(refused);
  expect(world.start('annex.ask', 'x')).toEqual(refused);
  expect(world.cancel('annex.ask')).toEqual(refused);
  expect([annexIn(world), world.calls, world.reports]).toEqual([null, [], []]);
});

promise('an action that runs one of its actions is refused as a whole', '13, 37', async (begin) => {
  const world = await begin();
  expect(world.send('deck.raise')).toEqual(refused);
  expect(world.state('deck').note).toBe('');
});

promise(
  'a start or an undo of it as a step comes to nothing, and nobody hears of it',
  '29a, 37',
  async (begin) => {
    const world = await begin();
    expect(world.send('deck.ask')).toEqual(done);
    expect(world.send('deck.undo')).toEqual(done);
    await world.rest();
    expect([world.state('deck').note, world.calls, world.reports]).toEqual(['back', [], []]);
  },
);

promise('resets and cancels of several stores pass it over', '37', async (begin) => {
  const world = await begin();
  world.send('deck.load', 5);
  expect(world.send('deck.clear')).toEqual(done);
  expect(world.running.read()).toMatchObject({ deck: { usedM: 0 }, annex: null });
});

promise('it reacts to nothing until then', '37', async (begin) => {
  const world = await begin();
  world.send('deck.write', 'a');
  await attached(world);
  expect(annexIn(world)).toEqual(defaults);
  world.send('deck.write', 'b');
  expect(annexIn(world)).toEqual({ perM: 2, seen: ['b'] });
});

promise(
  'its reactions stand in the order of the stores, whenever it came',
  '11, 37',
  async (begin) => {
    const world = await attached(await begin());
    world.send('deck.write', 'a');
    expect(world.state('log').last).toBe('a');
  },
);

promise('others react to it as soon as it is there', '11, 37', async (begin) => {
  const world = await attached(await begin());
  world.send('annex.raise');
  world.send('deck.raise');
  expect([world.state('log').times, world.state('deck').note]).toEqual([2, 'raised']);
});

promise('attaching tells whoever watches what it changes', '27, 37', async (begin) => {
  const world = await begin();
  world.send('deck.load', 10);
  const told: Json[] = [];
  for (const target of ['deck.fee', 'deck.note', '*', 'deck.price'])
    world.running.watch?.(target, () => told.push(target));
  expect(attach(world)).toEqual(done);
  expect(told).toEqual(['deck.fee', '*', 'deck.price']);
  expect(deckDerived(world)).toEqual({ fee: 20, running: false, price: 20 });
});

promise('what is derived from it is never out of date', '23, 26, 37', async (begin) => {
  const world = await begin();
  world.send('deck.load', 10);
  expect(deckDerived(world)).toEqual({ fee: 0, running: false, price: -1 });
  await attached(world);
  world.send('annex.raise');
  expect(deckDerived(world)).toEqual({ fee: 30, running: false, price: 30 });
  world.start('annex.ask', 'x');
  expect(deckDerived(world)?.running).toBe(true);
});

promise('the second time it is done without effect', '37', async (begin) => {
  const world = await attached(await begin());
  world.send('annex.raise');
  const before = world.running.read();
  const told: unknown[] = [];
  world.running.watch?.('*', (now) => told.push(now));
  expect(attach(world)).toEqual(done);
  await world.rest();
  expect([world.running.read(), told]).toEqual([before, []]);
  expect(world.calls).toEqual(['office.note "hello"']);
});

promise('what starts by itself in it is at its creation then', '34c, 37', async (begin) => {
  const world = await begin();
  expect(world.calls).toEqual([]);
  world.send('deck.write', 'a');
  await attached(world);
  expect(world.calls).toEqual(['office.note "hello"']);
  world.send('deck.write', 'b');
  await world.rest();
  expect(world.calls).toEqual(['office.note "hello"', 'office.note "b"']);
});

promise('it begins with what is saved by then, and writes nothing', '36, 37', async (begin) => {
  const storage = new TextStorage();
  const world = await begin({ storage });
  storage.setItem('annex', '{"perM":5}');
  await attached(world);
  expect(annexIn(world)).toEqual({ perM: 5, seen: [] });
  storage.setItem('annex', 'untouched');
  world.send('deck.write', 'a');
  expect(storage.getItem('annex')).toBe('untouched');
  world.send('annex.raise');
  expect(storage.getItem('annex')).toBe('{"perM":6}');
});

promise('there is nothing to undo in it at first', '35, 37', async (begin) => {
  const world = await attached(await begin());
  expect(world.running.derive?.().annex).toMatchObject({ canUndo: false, double: 4 });
  expect(world.send('annex.undo')).toEqual({ status: 'refused', reason: 'nothing to undo' });
  world.send('annex.raise');
  expect(world.send('deck.undo')).toEqual(done);
  expect(annexIn(world)).toEqual(defaults);
});

promise('what does not fit it is refused as anywhere', '12, 37', async (begin) => {
  const world = await attached(await begin());
  for (let i = 0; i < 7; i++) world.send('annex.raise');
  expect(world.send('annex.raise')).toEqual({
    status: 'refused',
    reason: 'does not fit',
    at: '/annex/perM',
  });
  expect(world.send('annex.write', 7)).toMatchObject({ status: 'refused', at: '/payload' });
});

promise('a watcher that attaches waits for its turn', '20, 37', async (begin) => {
  const world = await begin();
  const outcomes: unknown[] = [];
  world.running.watch?.('deck.note', () => {
    outcomes.push(attach(world)?.status, annexIn(world));
  });
  world.send('deck.write', 'a');
  await world.rest();
  expect([outcomes, annexIn(world)]).toEqual([['queued', null], defaults]);
});

promise('after closing it cannot be attached any more', '38', async (begin) => {
  const world = await begin();
  world.running.close?.();
  expect(attach(world)).toEqual({ status: 'refused', reason: 'closed' });
  expect(annexIn(world)).toBe(null);
});
