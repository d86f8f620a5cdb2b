import { expect } from '@jest/globals';
import type { Json } from '../../src/base/json.js';
import type { Ended, Environment, Outcome } from '../../src/model/participant.js';
import type { TideWorld } from './tide-world.js';

/** A schema in which each promise about tasks can be seen. */
export const pier = `
leeshore: 1
types:
  Boat: { fields: { id: string, tons: { type: number, minimum: 0 } } }
  Refusal: { fields: { status: integer } }
services:
  office:
    operations:
      boats: { payload: string, result: { list: Boat }, error: Refusal, extra: drop }
      note: { payload: string }
      count: { payload: integer, result: { type: integer, minimum: 0 } }
      tides: { payload: string, results: { type: number, minimum: 0 }, result: string }
stores:
  pier:
    state:
      boats: { list: Boat, by: id }
      busy: { type: boolean, default: false }
      problem: { maybe: string }
      log: { list: string, setter: setLog }
      day: { maybe: string }
      limit: { type: integer, minimum: 0, maximum: 9, default: 0 }
      open: { type: boolean, default: false }
    derived:
      waits: "load.running && !busy"
      asked: "queued.waiting.length + queued.runs.length"
    actions:
      setDay: { payload: { maybe: string }, steps: [{ set: { day: "payload" } }] }
      setOpen: { payload: boolean, steps: [{ set: { open: "payload" } }] }
      loadTwice:
        payload: string
        steps:
          - start: load
            payload: "payload + '1'"
          - start: load
            payload: "payload + '2'"
          - append: { to: log, value: "load.running ? 'running' : 'idle'" }
      startAndCancel:
        steps:
          - start: load
            payload: "'x'"
          - cancel: load
      refuseAfterStart:
        steps:
          - start: load
            payload: "'x'"
          - set: { limit: 10 }
      cancelAndRefuse: [{ cancel: load }, { set: { limit: 10 } }]
      leave: [{ cancel: all }]
      drop: { payload: string, steps: [{ cancel: { task: each, per: "payload" } }] }
      startBad: [{ start: count, payload: "limit / 0" }]
    tasks:
      load:
        payload: string
        requires: [{ that: "payload !== ''", otherwise: Which day? }]
        let: { wanted: "payload.trim()" }
        operation: office.boats
        with: "wanted"
        start: [{ set: { busy: true, problem: null } }, { append: { to: log, value: "'s:' + wanted" } }]
        finish: [{ set: { busy: false, boats: "result" } }, { append: { to: log, value: "'f:' + wanted" } }]
        fail: [{ set: { busy: false, problem: "[error.kind, error.message, String(error.data?.status ?? 0)].join(' ')" } }]
        cancel: [{ set: { busy: false } }, { append: { to: log, value: "'c:' + wanted" } }]
      queued: { payload: string, overlap: queue, operation: office.note, finish: [{ append: { to: log, value: "'q:' + payload" } }] }
      each: { payload: string, per: "payload", overlap: first, operation: office.note, cancel: [{ append: { to: log, value: "'c:' + payload" } }] }
      beside: { payload: string, overlap: parallel, operation: office.note, cancel: [{ append: { to: log, value: "'c:' + payload" } }] }
      count:
        payload: { type: integer, default: 1 }
        operation: office.count
        timeLimit: 100
        retry: { times: 2, wait: "50 * attempt", when: "error.message !== 'stop'" }
        start: [{ append: { to: log, value: "'start'" } }]
        finish: [{ set: { limit: "result" } }]
        fail: [{ append: { to: log, value: "error.kind + ':' + error.message" } }]
      later: { payload: number, wait: "payload", operation: office.note, with: "'now ' + (day ?? '-')", finish: [{ append: { to: log, value: "'later'" } }] }
      poll:
        operation: office.count
        with: "limit"
        every: "open ? 1000 : 10"
        requires: [{ that: "day !== 'never'", otherwise: Never. }]
        start: [{ append: { to: log, value: "'round'" } }]
        finish: [{ set: { limit: "result" } }]
      hear:
        payload: string
        operation: office.tides
        timeLimit: 100
        retry: { times: 1 }
        each: [{ set: { limit: "result" } }]
        finish: [{ append: { to: log, value: "'end:' + result" } }]
        fail: [{ append: { to: log, value: "'x:' + error.kind" } }]
        cancel: [{ append: { to: log, value: "'c'" } }]
      keep: { auto: { follows: "day" }, payload: string, operation: office.note }
      watch: { auto: { while: "open" }, operation: office.note, with: "'open'", cancel: [{ append: { to: log, value: "'shut'" } }] }
  yard:
    state: { seen: { list: string } }
    reacts:
      - { to: pier.load.start, steps: [{ append: { to: seen, value: "'start ' + wanted" } }] }
      - { to: pier.load.finish, steps: [{ append: { to: seen, value: "['finish', wanted, String(result.length)].join(' ')" } }] }
      - { to: pier.load.fail, steps: [{ append: { to: seen, value: "'fail ' + error.kind" } }] }
      - { to: pier.load.cancel, steps: [{ append: { to: seen, value: "'cancel ' + payload" } }] }
`;

/** Begins a participant of the schema in a world that a test rules. */
export type Begin = (change?: Partial<Environment>) => Promise<TideWorld>;

/** Something that every participant promises. */
export interface Promised {
  readonly what: string;
  /** The rules of the contract that it is about. */
  readonly rules: string;
  /** Throws if a participant does not keep it. */
  readonly holds: (begin: Begin) => Promise<void>;
}

const all: Promised[] = [];
const promise = (what: string, rules: string, holds: Promised['holds']) =>
  void all.push({ what, rules, holds });

const boat = (id: string, tons = 1) => ({ id, tons });
const log = (world: TideWorld) => world.state('pier').log as readonly string[];
const begun = { status: 'done', ended: expect.any(Promise) as unknown };

/** How the run of a start has ended by now; `undefined` if it goes on. */
async function endOf(outcome: Outcome): Promise<Ended | undefined> {
  const { ended } = outcome as { readonly ended?: Promise<Ended> };
  return Promise.race([ended, Promise.resolve().then(() => Promise.resolve(undefined))]);
}

promise('a start calls at its commit, with what it computes', '29, 30', async (begin) => {
  const world = await begin();
  expect(world.start('pier.load', ' mon ')).toEqual(begun);
  expect(world.of('pier.load')).toEqual({ running: true, runs: [' mon '], waiting: [] });
  await world.rest();
  expect(world.calls).toEqual(['office.boats "mon"']);
  await world.answer(1, [boat('a')]);
  expect(world.state('pier').boats).toEqual([boat('a')]);
  expect(world.state('pier').busy).toBe(false);
});

promise('a refused start calls nothing and disturbs nobody', '29', async (begin) => {
  const world = await begin();
  world.start('pier.load', 'mon');
  expect(world.start('pier.load', '')).toEqual({ status: 'refused', reason: 'Which day?' });
  expect(world.start('pier.load', 7)).toEqual({
    status: 'refused',
    reason: 'does not fit',
    at: '/payload',
  });
  await world.rest();
  expect(world.calls).toHaveLength(1);
  expect(world.aborted).toEqual([]);
  await world.answer(1, [boat('a')]);
  expect(world.state('pier').boats).toHaveLength(1);
});

promise('names that are bound at the start keep their values', '29', async (begin) => {
  const world = await begin();
  world.start('pier.load', ' mon ');
  await world.rest();
  await world.answer(1, []);
  expect(log(world)).toEqual(['s:mon', 'f:mon']);
  expect(world.state('yard').seen).toEqual(['start mon', 'finish mon 0']);
});

promise('a late answer of a displaced run counts for nothing', '33', async (begin) => {
  const world = await begin();
  const first = world.start('pier.load', 'mon');
  world.start('pier.load', 'tue');
  await world.rest();
  expect(world.aborted).toEqual([1]);
  await world.answer(2, [boat('tue')]);
  await world.answer(1, [boat('mon')]);
  expect(world.state('pier').boats).toEqual([boat('tue')]);
  expect(await endOf(first)).toEqual({ status: 'abandoned' });
  expect(log(world)).toEqual(['s:mon', 's:tue', 'f:tue']);
});

promise('under latest the exchange is one commit: running does not change', '32', async (begin) => {
  const world = await begin();
  world.start('pier.load', 'mon');
  const told: unknown[] = [];
  world.running.watch?.('pier.load.running', (now) => told.push(now));
  world.running.watch?.('pier.load.runs', (now) => told.push(now));
  world.start('pier.load', 'tue');
  expect(told).toEqual([['tue']]);
});

promise('what goes on is read as before the transaction, within it', '32', async (begin) => {
  const world = await begin();
  world.send('pier.loadTwice', 'd');
  expect(log(world)[0]).toBe('idle');
  world.send('pier.loadTwice', 'e');
  expect(log(world).at(3)).toBe('running');
});

promise('starts of steps come after the transaction, in order', '22, 29', async (begin) => {
  const world = await begin();
  world.send('pier.loadTwice', 'd');
  expect(log(world)).toEqual(['idle', 's:d1', 's:d2']);
  await world.rest();
  expect(world.calls).toEqual(['office.boats "d1"', 'office.boats "d2"']);
  expect(world.aborted).toEqual([1]);
});

promise('a transaction that is refused starts and cancels nothing', '22', async (begin) => {
  const world = await begin();
  expect(world.send('pier.refuseAfterStart')).toMatchObject({ reason: 'does not fit' });
  await world.rest();
  expect(world.calls).toEqual([]);
  world.start('pier.load', 'mon');
  expect(world.send('pier.cancelAndRefuse')).toMatchObject({ reason: 'does not fit' });
  await world.rest();
  expect(world.aborted).toEqual([]);
  expect(world.of('pier.load')?.running).toBe(true);
  expect(log(world)).toEqual(['s:mon']);
});

promise('a cancel step takes back what earlier steps asked for', '33a', async (begin) => {
  const world = await begin();
  world.send('pier.startAndCancel');
  await world.rest();
  expect(world.calls).toEqual([]);
});

promise('a cancel does its steps and aborts, once for each run', '33a', async (begin) => {
  const world = await begin();
  world.start('pier.beside', 'a');
  world.start('pier.beside', 'b');
  expect(world.cancel('pier.beside')).toEqual({ status: 'done' });
  expect(log(world)).toEqual(['c:a', 'c:b']);
  await world.rest();
  expect(world.aborted).toEqual([1, 2]);
  expect(world.cancel('pier.beside')).toEqual({ status: 'done' });
  expect(log(world)).toHaveLength(2);
});

promise('the oldest run is cancelled first, whichever task it is of', '33a', async (begin) => {
  const world = await begin();
  world.start('pier.beside', 'a');
  world.start('pier.load', 'b');
  world.start('pier.beside', 'c');
  world.send('pier.leave');
  expect(log(world)).toEqual(['s:b', 'c:a', 'c:b', 'c:c']);
  await world.rest();
  expect(world.aborted).toEqual([1, 2, 3]);
});

promise('runs of other values do not meet', '33', async (begin) => {
  const world = await begin();
  world.start('pier.each', 'a');
  expect(world.start('pier.each', 'a')).toEqual({ status: 'refused', reason: 'running' });
  expect(world.start('pier.each', 'b')).toEqual(begun);
  world.send('pier.drop', 'a');
  expect(world.of('pier.each')?.runs).toEqual(['b']);
  expect(log(world)).toEqual(['c:a']);
});

promise('what is set aside is queued, and has the next turn', '33', async (begin) => {
  const world = await begin();
  world.start('pier.queued', 'a');
  const second = world.start('pier.queued', 'b');
  expect(second.status).toBe('queued');
  expect(world.of('pier.queued')).toEqual({ running: true, runs: ['a'], waiting: ['b'] });
  await world.rest();
  expect(world.calls).toEqual(['office.note "a"']);
  await world.answer(1);
  expect(world.calls).toEqual(['office.note "a"', 'office.note "b"']);
  expect(await (second as { outcome: Promise<Outcome> }).outcome).toEqual(begun);
  expect(world.of('pier.queued')?.waiting).toEqual([]);
});

promise('what is set aside is refused when it is cancelled', '33a', async (begin) => {
  const world = await begin();
  world.start('pier.queued', 'a');
  const second = world.start('pier.queued', 'b') as { outcome: Promise<Outcome> };
  world.cancel('pier.queued');
  expect(await second.outcome).toEqual({ status: 'refused', reason: 'cancelled' });
  await world.rest();
  expect(world.calls).toHaveLength(1);
});

promise('a result that does not fit is a failure', '31', async (begin) => {
  const world = await begin();
  world.start('pier.load', 'mon');
  await world.rest();
  await world.answer(1, [{ id: 'a', tons: -1 }]);
  expect(world.state('pier').problem).toBe('bad result bad result 0');
  expect(world.state('pier').busy).toBe(false);
  expect(world.state('yard').seen).toEqual(['start mon', 'fail bad result']);
});

promise('properties that the type does not have are taken off', '31', async (begin) => {
  const world = await begin();
  world.start('pier.load', 'mon');
  await world.rest();
  await world.answer(1, [{ id: 'a', tons: 2, gull: true }]);
  expect(world.state('pier').boats).toEqual([boat('a', 2)]);
});

promise('a rejection carries its data if that fits', '31', async (begin) => {
  const world = await begin();
  world.start('pier.load', 'mon');
  await world.rest();
  await world.fail(1, { status: 404 });
  expect(world.state('pier').problem).toBe('rejected [object Object] 404');
  world.start('pier.load', 'tue');
  await world.rest();
  await world.fail(2, { message: 'fog', status: 404 });
  expect(world.state('pier').problem).toBe('rejected fog 0');
});

promise('a finish that is refused is a failure, in the same turn', '31', async (begin) => {
  const world = await begin();
  const started = world.start('pier.count');
  await world.rest();
  const told: unknown[] = [];
  world.running.watch?.('pier', () => told.push(log(world).at(-1)));
  await world.answer(1, 99);
  expect(log(world)).toEqual(['start', 'refused:does not fit']);
  expect(told).toEqual(['refused:does not fit']);
  expect(world.state('pier').limit).toBe(0);
  expect(await endOf(started)).toEqual({
    status: 'failed',
    error: { kind: 'refused', message: 'does not fit', data: null },
  });
});

promise('a failed call is made again, after a wait that grows', '34', async (begin) => {
  const world = await begin();
  world.start('pier.count', 3);
  await world.rest();
  await world.fail(1);
  await world.pass(49);
  expect(world.calls).toHaveLength(1);
  await world.pass(1);
  expect(world.calls).toHaveLength(2);
  await world.fail(2);
  await world.pass(99);
  expect(world.calls).toHaveLength(2);
  await world.pass(1);
  expect(world.calls).toHaveLength(3);
  await world.fail(3);
  await world.pass(1000);
  expect(world.calls).toHaveLength(3);
  expect(log(world)).toEqual(['start', 'rejected:fog']);
});

promise('a call is not made again where the condition does not hold', '34', async (begin) => {
  const world = await begin();
  world.start('pier.count');
  await world.rest();
  await world.fail(1, { message: 'stop' });
  await world.pass(1000);
  expect(world.calls).toHaveLength(1);
  expect(log(world)).toEqual(['start', 'rejected:stop']);
});

promise('the time limit counts from each call, and aborts it', '34', async (begin) => {
  const world = await begin();
  world.start('pier.count');
  await world.rest();
  await world.pass(99);
  expect(world.aborted).toEqual([]);
  await world.pass(1);
  expect(world.aborted).toEqual([1]);
  await world.pass(50);
  expect(world.calls).toHaveLength(2);
  await world.answer(1, 5);
  expect(world.state('pier').limit).toBe(0);
  await world.pass(99);
  expect(world.aborted).toEqual([1]);
  await world.answer(2, 6);
  expect(world.state('pier').limit).toBe(6);
  await world.pass(1000);
  expect(world.aborted).toEqual([1]);
});

promise('a wait comes before the call, which reads what is there then', '30', async (begin) => {
  const world = await begin();
  world.start('pier.later', 20.5);
  await world.pass(20);
  world.send('pier.setDay', 'sun');
  await world.rest();
  expect(world.calls).toEqual(['office.note "sun"']);
  await world.pass(1);
  expect(world.calls).toEqual(['office.note "sun"', 'office.note "now sun"']);
  expect(world.start('pier.later', -1)).toEqual({ status: 'refused', reason: 'does not fit' });
});

promise('a run that is cancelled in its wait makes no call', '33a', async (begin) => {
  const world = await begin();
  world.start('pier.later', 20);
  world.cancel('pier.later');
  expect(world.outside.due).toEqual([]);
  await world.pass(1000);
  expect(world.calls).toEqual([]);
  expect(world.reports).toEqual([]);
});

promise('a run that repeats goes on after each round', '34a', async (begin) => {
  const world = await begin();
  const started = world.start('pier.poll');
  await world.rest();
  await world.answer(1, 3);
  expect(world.of('pier.poll')?.running).toBe(true);
  await world.pass(9);
  expect(world.calls).toEqual(['office.count 0']);
  await world.pass(1);
  expect(world.calls).toEqual(['office.count 0', 'office.count 3']);
  expect(log(world)).toEqual(['round', 'round']);
  await world.fail(2);
  await world.pass(10);
  expect(world.calls).toHaveLength(3);
  world.send('pier.setDay', 'never');
  await world.answer(3, 4);
  await world.pass(10);
  expect(world.of('pier.poll')?.running).toBe(false);
  expect(await endOf(started)).toEqual({
    status: 'failed',
    error: { kind: 'refused', message: 'Never.', data: null },
  });
});

promise('a stream gives its values one by one, up to its end', '34b', async (begin) => {
  const world = await begin();
  world.start('pier.hear', 'a');
  await world.rest();
  await world.value(1, 2);
  await world.value(1, 3);
  expect(world.state('pier').limit).toBe(3);
  await world.answer(1, 'ebb');
  expect(log(world)).toEqual(['end:ebb']);
  expect(world.of('pier.hear')?.running).toBe(false);
});

promise('the second stream is as good as the first', '34b', async (begin) => {
  const world = await begin();
  world.start('pier.queued', 'a');
  world.start('pier.hear', 'a');
  await world.rest();
  await world.value(2, 2);
  expect(world.state('pier').limit).toBe(2);
  world.cancel('pier.hear');
  await world.rest();
  expect(world.stopped).toEqual([2]);
  expect(log(world)).toEqual(['c']);
});

promise('a stream is given up when its run is cancelled', '34b', async (begin) => {
  const world = await begin();
  world.start('pier.hear', 'a');
  await world.rest();
  world.cancel('pier.hear');
  await world.rest();
  expect(world.aborted).toEqual([1]);
  expect(world.stopped).toEqual([1]);
  await world.value(1, 5);
  expect(world.state('pier').limit).toBe(0);
});

promise('a value that does not fit fails the run', '34b', async (begin) => {
  const world = await begin();
  world.start('pier.hear', 'a');
  await world.rest();
  await world.value(1, -1);
  expect(world.aborted).toEqual([1]);
  expect(world.calls).toHaveLength(2);
  await world.value(2, -1);
  expect(log(world)).toEqual(['x:bad result']);
  expect(world.stopped).toContain(2);
});

promise('the time limit of a stream runs up to its first value', '34b', async (begin) => {
  const world = await begin();
  world.start('pier.hear', 'a');
  await world.rest();
  await world.value(1, 1);
  await world.pass(1000);
  expect(world.of('pier.hear')?.running).toBe(true);
  expect(world.aborted).toEqual([]);
});

promise('a task follows a value: each change starts it, null cancels', '34c', async (begin) => {
  const world = await begin();
  await world.rest();
  expect(world.calls).toEqual([]);
  world.send('pier.setDay', 'mon');
  await world.rest();
  world.send('pier.setDay', 'mon');
  await world.rest();
  expect(world.calls).toEqual(['office.note "mon"']);
  world.send('pier.setDay', 'tue');
  await world.rest();
  expect(world.calls).toEqual(['office.note "mon"', 'office.note "tue"']);
  expect(world.aborted).toEqual([1]);
  world.send('pier.setDay', null);
  await world.rest();
  expect(world.of('pier.keep')?.running).toBe(false);
  expect(world.aborted).toEqual([1, 2]);
});

promise('a task goes on while a condition holds', '34c', async (begin) => {
  const world = await begin();
  world.send('pier.setOpen', true);
  await world.rest();
  expect(world.calls).toEqual(['office.note "open"']);
  world.send('pier.setOpen', false);
  await world.rest();
  expect(world.aborted).toEqual([1]);
  expect(log(world)).toEqual(['shut']);
});

promise('what nobody called and does not fit is told', '29a', async (begin) => {
  const world = await begin();
  world.send('pier.startBad');
  await world.rest();
  expect(world.calls).toEqual([]);
  expect(world.reports).toEqual([{ kind: 'task', at: 'pier.count.start' }]);
});

promise('an operation that throws, or is not given, has failed', '30', async (begin) => {
  const world = await begin({
    services: {
      office: {
        boats: () => {
          throw new Error('no line');
        },
      },
    },
  });
  world.start('pier.load', 'mon');
  await world.rest();
  expect(world.state('pier').problem).toBe('rejected no line 0');
  world.start('pier.count');
  await world.pass(1000);
  expect(log(world).at(-1)).toBe("rejected:'office.count' is not given");
});

promise('an answer that is there at once takes a turn of its own', '22, 30', async (begin) => {
  const world = await begin({ services: { office: { boats: () => [boat('a')] } } });
  const seen: unknown[] = [];
  world.running.watch?.('pier.busy', (now) => seen.push(now));
  world.start('pier.load', 'mon');
  expect(seen).toEqual([true, false]);
  expect(world.state('pier').boats).toEqual([boat('a')]);
});

promise('what is derived follows what goes on', '26, 32', async (begin) => {
  const world = await begin();
  const derived = () => world.running.derive?.().pier ?? {};
  const told: unknown[] = [];
  world.running.watch?.('pier.asked', (now) => told.push(now));
  expect(derived()).toEqual({ waits: false, asked: 0 });
  world.start('pier.queued', 'a');
  world.start('pier.queued', 'b');
  expect(derived()).toEqual({ waits: false, asked: 2 });
  await world.rest();
  await world.answer(1);
  expect(derived().asked).toBe(1);
  expect(told).toEqual([1, 2, 1]);
});

promise('closing abandons all, and refuses what comes', '38', async (begin) => {
  const world = await begin();
  const started = world.start('pier.load', 'mon');
  const aside = world.start('pier.queued', 'a');
  const second = world.start('pier.queued', 'b') as { outcome: Promise<Outcome> };
  world.start('pier.later', 50);
  await world.rest();
  world.running.close?.();
  await world.rest();
  expect(world.aborted.toSorted()).toEqual([1, 2]);
  expect(await endOf(started)).toEqual({ status: 'abandoned' });
  expect(await endOf(aside)).toEqual({ status: 'abandoned' });
  expect(await second.outcome).toEqual({ status: 'refused', reason: 'closed' });
  const closed: Json = { status: 'refused', reason: 'closed' };
  expect(world.send('pier.setDay', 'mon')).toEqual(closed);
  expect(world.start('pier.load', 'mon')).toEqual(closed);
  expect(world.of('pier.load')?.running).toBe(false);
  expect(world.state('pier').busy).toBe(true);
  expect(world.outside.due).toEqual([]);
  world.running.close?.();
});

export const taskPromises: readonly Promised[] = all;
