import { observedOf } from '../../src/comparing/session/observed.js';
import { Reached } from '../../src/comparing/reached.js';
import { runWorkItem } from '../../src/comparing/work-item.js';
import { Walk, type WalkScope } from '../../src/comparing/search/walk.js';
import type { Searching } from '../../src/comparing/searching.js';
import { referenceParticipant } from '../../src/meaning/reference.js';
import { coverableOf } from '../../src/model/cover-points.js';
import type { Participant } from '../../src/model/participant.js';
import { beforeAll, describe, expect, test } from '@jest/globals';
import { smallPayloads } from '../../src/comparing/inputs/small-values.js';
import { stateKey } from '../../src/comparing/search/state-key.js';
import { startOfTime } from '../../src/comparing/playing/environment.js';
import { Judge } from '../../src/meaning/judge.js';
import type { Application } from '../../src/model/application.js';
import { compareStores } from '../../src/jobs/compare.js';
import { deckSchema, ferryText, foldersOf, modelOf, unlimited } from '../helpers.js';

/** A walk in this thread, up to the first difference. */
async function walkedThrough(searching: Searching, scope: WalkScope) {
  const walk = new Walk(scope);
  for (let items = walk.next(); items.length > 0; items = walk.next()) {
    const results = [];
    for (const item of items) {
      const { probing, found } = await runWorkItem(
        searching,
        item,
        { reached: [], led: [], near: [], gone: [], traits: [] },
        () => Promise.resolve(false),
      );
      if (probing !== undefined) results.push(probing);
      if (found !== undefined) return { found, walked: walk.walked };
    }
    walk.take(results);
  }
  return { found: undefined, walked: walk.walked };
}

describe('states are the same under other generated names', () => {
  const deck = (...ids: readonly string[]) => ({ deck: { vehicles: ids.map((id) => ({ id })) } });

  test('if the names have the same order', () => {
    expect(stateKey(deck('id-3', 'id-12'))).toBe(stateKey(deck('id-1', 'id-2')));
    expect(stateKey(deck('id-12', 'id-3'))).not.toBe(stateKey(deck('id-1', 'id-2')));
    expect(stateKey(deck('id-3', 'id-3'))).not.toBe(stateKey(deck('id-1', 'id-2')));
    expect(stateKey(deck('id-4', 'id-4-2'))).toBe(stateKey(deck('id-1', 'id-2')));
  });

  test('and so with times', () => {
    const desk = (since: number) => ({ desk: { since } });
    expect(stateKey(desk(startOfTime + 1000))).toBe(stateKey(desk(startOfTime + 9000)));
    expect(stateKey(desk(0))).not.toBe(stateKey(desk(1)));
  });

  test('and nothing else', () => {
    expect(stateKey(deck('a'))).not.toBe(stateKey(deck('b')));
    expect(stateKey({ deck: { hold: null } })).not.toBe(stateKey({ deck: { hold: 'null' } }));
  });
});

describe('a few payloads stand for all of a type', () => {
  let ferry: Application;
  beforeAll(async () => {
    ferry = await modelOf(ferryText);
  });
  const pool = {
    keys: [
      { pointer: '/deck/vehicles/0/id', value: 'id-1' },
      { pointer: '/deck/vehicles/1/id', value: 'id-2' },
    ],
    names: ['port'],
    texts: [],
    numbers: [],
    records: [],
  };

  test('and they fit it, whatever the action', () => {
    const judge = new Judge(ferry.types);
    for (const store of ferry.stores)
      for (const { name, payload } of store.actions) {
        if (payload === undefined) continue;
        const payloads = smallPayloads(payload, pool, ferry.types);
        expect([name, payloads.length > 0 && payloads.length <= 6]).toEqual([name, true]);
        for (const one of payloads)
          expect([name, one.payload, judge.fits(one.payload, payload)]).toEqual([
            name,
            one.payload,
            true,
          ]);
      }
  });

  test('with keys that stand in the state, and both ends of a range', () => {
    const board = ferry.stores[0]?.actions.find(({ name }) => name === 'board');
    const drawn = smallPayloads(board?.payload ?? { kind: 'null' }, pool, ferry.types);
    expect(drawn.slice(0, 2).map(({ fill }) => fill[''])).toEqual(
      pool.keys.map(({ pointer }) => pointer),
    );
    const moor = { kind: 'number', integer: true, finite: true } as const;
    const numbers = smallPayloads(
      { ...moor, bounds: { minimum: 1, maximum: 4 } },
      pool,
      ferry.types,
    );
    expect(numbers.map(({ payload }) => payload)).toEqual([1, 4, 2]);
  });
});

describe('a small scope', () => {
  const lamps = deckSchema({
    state: 'red: { type: boolean, default: false }\ngreen: { type: boolean, default: false }',
    actions:
      'switchRed:\n  - toggle: red\nswitchGreen:\n  requires:\n    - { that: "red", otherwise: Red first. }\n  steps:\n    - toggle: green',
  });

  test('is closed when every input was tried in every state', async () => {
    const application = await modelOf(lamps);
    const { walks, verdict } = await compareStores(application, await foldersOf(application), {
      ...unlimited,
      seed: 1,
      steps: 200,
      search: 'small',
    });
    expect(verdict).toBe('same');
    expect(walks).toMatchObject([
      { store: 'deck', by: 'state', states: 4, transitions: 8, isClosed: true, isBounded: false },
      { store: 'deck', by: 'sequence', isClosed: false, isBounded: false },
    ]);
  });

  test('by sequence, tries what leads back as well: what hides in the past is found in the shortest way', async () => {
    const application = await modelOf(lamps);
    const reference = referenceParticipant(application);
    /** Goes wrong when the red lamp has been switched three times, whatever else has been done. */
    const odd: Participant = {
      name: 'odd',
      create(environment) {
        const running = reference.create(environment);
        let times = 0;
        return {
          ...running,
          send: (store, action, payload) =>
            action === 'switchRed' && ++times === 3
              ? { status: 'broken', action: 'deck.switchRed' }
              : running.send(store, action, payload),
          read: () => running.read(),
        };
      },
    };
    const searching = {
      application,
      participants: [reference, odd],
      observed: observedOf(application, ['outcome', 'state']),
      reached: new Reached(coverableOf(application)),
    };
    const scope = { store: 'deck', by: 'sequence', steps: 200 } as const;
    const { found } = await walkedThrough(searching, { ...scope, depth: 3 });
    const red = { send: 'deck.switchRed' };
    expect(found?.script.steps).toEqual([red, red, red]);
    expect(found?.difference).toMatchObject({ step: 2, what: 'outcome' });
    // Two levels are gone through without it: from the start, after one switch, after each of two.
    const less = await walkedThrough(searching, { ...scope, depth: 2 });
    expect(less.walked).toMatchObject({ by: 'sequence', depth: 2, states: 4, transitions: 4 });
    expect(less.found).toBeUndefined();
  });

  test('says how far it came if the steps do not suffice', async () => {
    const application = await modelOf(ferryText);
    const { walks, end } = await compareStores(
      application,
      await foldersOf(application, ['atom']),
      {
        ...unlimited,
        seed: 1,
        steps: 900,
        search: 'small',
      },
    );
    expect(end).toBe('steps');
    expect(walks.map(({ store }) => store)).toEqual([
      'deck',
      'wind',
      'desk',
      'berth',
      'log',
      undefined,
      ...['deck', 'wind', 'desk', 'berth', 'log'],
    ]);
    const berth = walks.find(({ store }) => store === 'berth');
    expect(berth).toMatchObject({ isClosed: true, states: 4 });
    const deck = walks.find(({ store }) => store === 'deck');
    expect(deck).toMatchObject({ isClosed: false, depth: 1 });
  });
});

test('the runs of a task that cannot be started at first are tried where a script has led', async () => {
  const pier = await modelOf(`
leeshore: 1
services:
  office: { operations: { confirm: { payload: string } } }
stores:
  pier:
    state: { lines: { list: string } }
    actions:
      cast: [{ append: { to: lines, value: "'bow'" } }]
    tasks:
      haul:
        requires: [{ that: "lines.length > 1", otherwise: Too few lines. }]
        operation: office.confirm
        with: "'bow'"
        finish: [{ reset: all }]
`);
  const { walks, verdict } = await compareStores(pier, await foldersOf(pier, ['atom']), {
    ...unlimited,
    seed: 1,
    steps: 4000,
  });
  expect(verdict).toBe('same');
  const haul = walks.find(({ task }) => task === 'haul');
  expect(haul).toMatchObject({ isEntered: true, begunAfter: 2, isClosed: true });
  expect(haul?.transitions).toBeGreaterThan(8);
});
