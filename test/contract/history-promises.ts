import { expect } from '@jest/globals';
import type { Json } from '../../src/base/json.js';
import type { Outcome } from '../../src/model/participant.js';
import type { TideWorld } from './tide-world.js';
import type { Promised } from './task-promises.js';

/** A schema in which each promise about what can be undone can be seen. */
export const berths = `
leeshore: 1
types:
  Ship: { fields: { id: string, at: { type: integer, minimum: 0, maximum: 9 } } }
services:
  office: { operations: { book: { payload: string, result: string } } }
stores:
  berths:
    state:
      ships: { list: Ship, by: id }
      note: { type: string, default: '' }
      seen: { type: integer, minimum: 0, maximum: 20, default: 0 }
    derived:
      hint: "canUndo ? canRedo ? 'both' : 'undo' : canRedo ? 'redo' : 'none'"
      ids: "ships.map(s => s.id).join(' ')"
    history: { of: [ships, note], limit: 3, together: [drag, crane.pull] }
    actions:
      moor: { payload: Ship, steps: [{ put: { in: ships, value: "payload" } }] }
      drag:
        payload: { fields: { id: string, at: integer } }
        steps:
          - update: { in: ships, key: "payload.id", set: { at: "payload.at" } }
          - set: { seen: "seen + 1" }
      write: { payload: string, steps: [{ set: { note: "payload" } }] }
      look: [{ set: { seen: "seen + 1" } }]
      forgetAll: [{ reset: history }]
      writeAndForget: { payload: string, steps: [{ set: { note: "payload" } }, { reset: history }] }
      writeAndUndo: { payload: string, steps: [{ run: undo }, { set: { note: "payload + (canUndo ? '+' : '-')" } }] }
      refusedUndo: [{ run: undo }, { set: { seen: 99 } }]
  crane:
    value: { type: integer, minimum: 0, maximum: 9, default: 0 }
    derived: { ready: "berths.canUndo" }
    history: { limit: 2 }
    actions:
      lift: { payload: integer, steps: [{ set: { value: "payload" } }] }
      pull: { payload: integer, steps: [{ set: { value: "payload" } }, { run: berths.write, payload: "String(payload)" }] }
      undoBoth: [{ run: undo }, { run: berths.undo }]
    tasks:
      book:
        payload: string
        operation: office.book
        finish: [{ set: { value: "result.length" } }, { run: berths.write, payload: "result" }]
    reacts:
      - to: berths.moor
        steps: [{ set: { value: "payload.at" } }]
`;

const all: Promised[] = [];
const promise = (what: string, rules: string, holds: Promised['holds']) =>
  all.push({ what, rules, holds });

/** What every participant promises about what can be undone. */
export const historyPromises: readonly Promised[] = all;

const done: Outcome = { status: 'done' };
const refused = (reason: string): Outcome => ({ status: 'refused', reason });
const ship = (id: string, at: number): Json => ({ id, at });

const note = (world: TideWorld) => world.state('berths').note;
const crane = (world: TideWorld) => world.running.read().crane;
const hint = (world: TideWorld) => world.running.derive?.().berths?.hint;
const can = (world: TideWorld, store = 'berths') => {
  const { canUndo, canRedo } = world.running.derive?.()[store] ?? {};
  return [canUndo, canRedo];
};

promise('undo and redo put the tracked fields back, one change at a time', '35', async (begin) => {
  const world = await begin();
  expect(can(world)).toEqual([false, false]);
  world.send('berths.write', 'a');
  world.send('berths.moor', ship('x', 1));
  expect(world.send('berths.undo')).toEqual(done);
  expect(world.state('berths')).toEqual({ ships: [], note: 'a', seen: 0 });
  expect(can(world)).toEqual([true, true]);
  expect(world.send('berths.undo')).toEqual(done);
  expect(note(world)).toBe('');
  expect(can(world)).toEqual([false, true]);
  expect(world.send('berths.redo')).toEqual(done);
  expect(world.send('berths.redo')).toEqual(done);
  expect(world.state('berths')).toEqual({ ships: [ship('x', 1)], note: 'a', seen: 0 });
  expect(can(world)).toEqual([true, false]);
});

promise(
  'at either end there is nothing to undo or to redo, and nothing happens',
  '35',
  async (begin) => {
    const world = await begin();
    const told: unknown[] = [];
    world.running.watch?.('*', (now) => told.push(now));
    expect(world.send('berths.undo')).toEqual(refused('nothing to undo'));
    expect(world.send('crane.redo')).toEqual(refused('nothing to redo'));
    expect(told).toEqual([]);
    expect(world.reports).toEqual([]);
  },
);

promise('what does not change a tracked field adds nothing', '35', async (begin) => {
  const world = await begin();
  world.send('berths.look');
  world.send('berths.write', '');
  expect(can(world)).toEqual([false, false]);
  world.send('berths.write', 'a');
  world.send('berths.look');
  expect(world.send('berths.undo')).toEqual(done);
  expect(world.state('berths')).toEqual({ ships: [], note: '', seen: 2 });
});

promise('a change clears what could be redone', '35', async (begin) => {
  const world = await begin();
  world.send('berths.write', 'a');
  world.send('berths.undo');
  world.send('berths.look');
  expect(can(world)).toEqual([false, true]);
  world.send('berths.write', 'b');
  expect(can(world)).toEqual([true, false]);
  expect(world.send('berths.redo')).toEqual(refused('nothing to redo'));
});

promise('a refused action adds nothing and clears nothing', '13, 35', async (begin) => {
  const world = await begin();
  world.send('berths.write', 'a');
  world.send('berths.undo');
  world.send('berths.moor', ship('x', 10));
  expect(can(world)).toEqual([false, true]);
});

promise('the limit counts what can be undone; the oldest goes', '35', async (begin) => {
  const world = await begin();
  for (const text of ['a', 'b', 'c', 'd']) world.send('berths.write', text);
  for (let i = 0; i < 3; i++) expect(world.send('berths.undo')).toEqual(done);
  expect(note(world)).toBe('a');
  expect(world.send('berths.undo')).toEqual(refused('nothing to undo'));
});

promise('several in a row that belong together are undone at once', '35', async (begin) => {
  const world = await begin();
  world.send('berths.moor', ship('x', 1));
  world.send('berths.drag', { id: 'x', at: 2 });
  world.send('berths.look');
  world.send('berths.drag', { id: 'x', at: 3 });
  world.send('crane.pull', 4);
  world.send('berths.undo');
  expect(world.state('berths')).toEqual({ ships: [ship('x', 1)], note: '', seen: 3 });
});

promise('a row ends with another change, and with an undo', '35', async (begin) => {
  const world = await begin();
  world.send('berths.moor', ship('x', 1));
  world.send('berths.drag', { id: 'x', at: 2 });
  world.send('berths.write', 'a');
  world.send('berths.drag', { id: 'x', at: 3 });
  world.send('berths.undo');
  expect(world.state('berths')).toMatchObject({ ships: [ship('x', 2)], note: 'a' });
  world.send('berths.redo');
  world.send('berths.drag', { id: 'x', at: 4 });
  world.send('berths.undo');
  expect(world.state('berths').ships).toEqual([ship('x', 3)]);
});

promise('undo touches no other store, and nothing reacts to it', '35', async (begin) => {
  const world = await begin();
  world.send('berths.moor', ship('x', 7));
  expect(crane(world)).toBe(7);
  world.send('berths.undo');
  expect(crane(world)).toBe(7);
  world.send('crane.undo');
  expect(crane(world)).toBe(0);
  expect(world.state('berths').ships).toEqual([]);
});

promise(
  'a change counts wherever it began: by run, by a reaction, by the end of a task',
  '35',
  async (begin) => {
    const world = await begin();
    world.send('crane.pull', 3);
    expect([can(world), can(world, 'crane')]).toEqual([
      [true, false],
      [true, false],
    ]);
    const started = world.start('crane.book', 'x');
    expect(started.status).toBe('done');
    await world.rest();
    expect(world.send('crane.undo')).toEqual(done);
    expect(world.of('crane.book')?.running).toBe(true);
    await world.answer(1, 'fog');
    expect([crane(world), note(world)]).toEqual([3, 'fog']);
    expect(world.send('berths.undo')).toEqual(done);
    expect([crane(world), note(world)]).toEqual([3, '3']);
    expect(world.send('crane.undo')).toEqual(done);
    expect(crane(world)).toBe(0);
  },
);

promise('as a step an undo comes after the transaction, like a start', '20, 35', async (begin) => {
  const world = await begin();
  world.send('berths.write', 'a');
  world.send('berths.writeAndUndo', 'b');
  expect(note(world)).toBe('a');
  world.send('berths.redo');
  // Within it, what can be undone was as before it.
  expect(note(world)).toBe('b+');
});

promise('a refused transaction undoes nothing', '13, 22', async (begin) => {
  const world = await begin();
  world.send('berths.write', 'a');
  expect(world.send('berths.refusedUndo')).toMatchObject({ status: 'refused' });
  expect(note(world)).toBe('a');
  world.send('berths.look');
  expect(note(world)).toBe('a');
});

promise(
  'several undos join the queue in order; one that is refused stops nobody',
  '20, 35',
  async (begin) => {
    const world = await begin();
    world.send('berths.write', 'a');
    expect(world.send('crane.undoBoth')).toEqual(done);
    expect(note(world)).toBe('');
    expect(world.reports).toEqual([]);
  },
);

promise(
  'reset: history forgets all, what the same transaction adds included',
  '35',
  async (begin) => {
    const world = await begin();
    world.send('berths.write', 'a');
    world.send('berths.write', 'b');
    world.send('berths.undo');
    world.send('berths.writeAndForget', 'c');
    expect(can(world)).toEqual([false, false]);
    expect(note(world)).toBe('c');
  },
);

promise('reset: history ends a row', '35', async (begin) => {
  const world = await begin();
  world.send('berths.moor', ship('x', 1));
  world.send('berths.drag', { id: 'x', at: 2 });
  world.send('berths.forgetAll');
  world.send('berths.drag', { id: 'x', at: 3 });
  expect(can(world)).toEqual([true, false]);
  world.send('berths.undo');
  expect(world.state('berths').ships).toEqual([ship('x', 2)]);
});

promise('what can be undone is watched, and told with the change', '27, 35', async (begin) => {
  const world = await begin();
  const told: unknown[] = [];
  world.running.watch?.('berths.canUndo', (now, before) => told.push(['undo', now, before]));
  world.running.watch?.('berths.canRedo', (now, before) => told.push(['redo', now, before]));
  world.running.watch?.('crane.ready', (now, before) => told.push(['ready', now, before]));
  world.send('berths.write', 'a');
  world.send('berths.write', 'b');
  world.send('berths.undo');
  world.send('berths.forgetAll');
  expect(told).toEqual([
    ['undo', true, false],
    ['ready', true, false],
    ['redo', true, false],
    ['undo', false, true],
    ['redo', false, true],
    ['ready', false, true],
  ]);
});

promise('what is derived from it is never out of date', '23, 26, 35', async (begin) => {
  const world = await begin();
  expect(hint(world)).toBe('none');
  world.send('berths.write', 'a');
  expect(hint(world)).toBe('undo');
  world.send('berths.forgetAll');
  expect(hint(world)).toBe('none');
  world.send('berths.write', 'b');
  world.send('berths.write', 'c');
  world.send('berths.undo');
  expect(hint(world)).toBe('both');
});

promise('what an undo does not change stays the same object', '7, 35', async (begin) => {
  const world = await begin();
  world.send('berths.moor', ship('x', 1));
  world.send('berths.moor', ship('y', 2));
  const [x] = world.state('berths').ships as readonly unknown[];
  world.send('berths.write', 'a');
  const { ships } = world.state('berths');
  world.send('berths.undo');
  expect(world.state('berths').ships).toBe(ships);
  world.send('berths.undo');
  expect((world.state('berths').ships as readonly unknown[])[0]).toBe(x);
});

promise('an undo that a watcher asks for waits for its turn', '20', async (begin) => {
  const world = await begin();
  const outcomes: Outcome[] = [];
  const stop = world.running.watch?.('berths.note', () => {
    outcomes.push(world.send('berths.undo'));
    stop?.();
  });
  world.send('berths.write', 'a');
  expect(outcomes[0]?.status).toBe('queued');
  await world.rest();
  expect(note(world)).toBe('');
});

promise('after closing there is nothing to be undone any more', '38', async (begin) => {
  const world = await begin();
  world.send('berths.write', 'a');
  world.running.close?.();
  expect(world.send('berths.undo')).toEqual(refused('closed'));
  expect(note(world)).toBe('a');
});
