import { beforeAll, expect, test } from '@jest/globals';
import * as terminal from '../bench/by-hand/ferry/terminal.js';
import { actions, type Draw } from '../bench/by-hand/ferry/actions.js';
import { createStores as createAtoms } from '../bench/by-hand/ferry/atom.js';
import { createStreams } from '../bench/by-hand/ferry/observable.js';
import { createStores as createLive } from '../bench/by-hand/ferry/proxy.js';
import { createStore } from '../bench/by-hand/ferry/reducer.js';
import { localExecutor } from '../src/comparing/executor.js';
import { compareBySearch } from '../src/comparing/compare.js';
import { observedOf } from '../src/comparing/session/observed.js';
import { Reached } from '../src/comparing/reached.js';
import { referenceParticipant } from '../src/meaning/reference.js';
import { externalParticipant } from '../src/participants/external-participant.js';
import { unwatched } from '../src/participants/watchdog.js';
import type { Application } from '../src/model/application.js';
import { coverableOf } from '../src/model/cover-points.js';
import { scriptRun } from './cli/run.js';
import { ferryText, modelOf, unlimited } from './helpers.js';
import { someOf } from './sweep.js';

/** What a store written by hand shows: its state, what is derived by name, and what became of an action. */
interface Shown {
  readonly state: () => terminal.Terminal;
  readonly derived: (name: string) => unknown;
  /** The reason if it was refused. */
  readonly act: (action: string, payload: unknown) => string | undefined;
}

const derived = {
  deck: ['onBoard', 'waiting', 'usedM', 'freeM', 'full', 'nextPlate', 'busiestLane', 'boarding'],
  wind: ['strongestGust', 'tooStrong', 'mood'],
  desk: ['title'],
  log: ['sailings', 'carried', 'lastIncident'],
};

const byHand: Readonly<Record<string, (draw: Draw) => Shown>> = {
  reducer(draw) {
    const store = createStore(draw);
    const select = store.select as unknown as Record<string, (app: terminal.Terminal) => unknown>;
    return {
      state: store.snapshot,
      derived: (name) => select[name.split('.')[1] ?? '']?.(store.snapshot()),
      act: (type, payload) => store.dispatch({ type, payload } as never),
    };
  },
  atom(draw) {
    const stores = createAtoms(draw);
    const units = stores as unknown as Record<string, Record<string, { get(): unknown }>>;
    return {
      state: () => stores.state.get(),
      derived(name) {
        const [store = '', own = ''] = name.split('.');
        return units[store]?.[own]?.get();
      },
      act: (action, payload) => stores.act(action as never, payload as never),
    };
  },
  proxy(draw) {
    const live = createLive(draw);
    const stores = live.stores as unknown as Record<string, Record<string, unknown>>;
    return {
      state: live.snapshot,
      derived(name) {
        const [store = '', own = ''] = name.split('.');
        return stores[store]?.[own];
      },
      act: (action, payload) => live.act(action as never, payload as never),
    };
  },
  observable(draw) {
    const { streams, act } = createStreams(draw);
    const all = streams as unknown as Record<string, { readonly value: unknown }>;
    return {
      state: () => streams['*'].value,
      derived: (name) => all[name]?.value,
      act: (action, payload) => act(action as never, payload as never),
    };
  },
};

/** As a participant file would give it. */
function tablesOf({ state, derived: derive, act }: Shown) {
  const ofActions: Record<string, Record<string, (payload: unknown) => unknown>> = {};
  for (const name of Object.keys(actions)) {
    const [store = '', own = ''] = name.split('.');
    (ofActions[store] ??= {})[own] = (payload) => {
      const refused = act(name, payload);
      return refused === undefined ? true : { refused };
    };
  }
  const fields = (store: 'deck' | 'wind' | 'desk' | 'log') => {
    const names = Object.keys(terminal.start[store]);
    const read = (name: string) => () => (state()[store] as Record<string, unknown>)[name];
    return Object.fromEntries(names.map((name) => [name, read(name)]));
  };
  return {
    actions: ofActions,
    state: {
      deck: fields('deck'),
      wind: fields('wind'),
      desk: fields('desk'),
      berth: () => state().berth,
      log: fields('log'),
    },
    derived: Object.fromEntries(
      Object.entries(derived).map(([store, names]) => [
        store,
        Object.fromEntries(names.map((name) => [name, () => derive(`${store}.${name}`)])),
      ]),
    ),
  };
}

let ferry: Application;
beforeAll(async () => {
  ferry = await modelOf(ferryText);
});

test.each(Object.entries(byHand))(
  'the %s store by hand, which sizes are held against, does what the schema says',
  async (name, create) => {
    const exported = { name, create: (draw: Draw) => tablesOf(create(draw)) };
    const reached = new Reached(coverableOf(ferry));
    const searching = {
      application: ferry,
      participants: [
        referenceParticipant(ferry, { reach: reached }),
        externalParticipant('by-hand.ts', exported, ferry, unwatched),
      ],
      observed: observedOf(ferry),
      reached,
    };
    const executor = localExecutor(searching, () => Promise.resolve(false));
    const compared = { ...searching, points: reached.points };
    const options = { ...unlimited, seed: 5, steps: 3000 };
    const { verdict, difference, coverage } = await compareBySearch(compared, executor, options);
    expect([verdict, difference]).toEqual(['same', undefined]);
    expect(coverage.reached / coverage.total).toBeGreaterThan(0.85);
  },
);

/** The parts of the benchmark, and what each says. */
const parts = [
  ['stores', 'Actions per second'],
  ['size', 'Bytes as a server'],
  ['compare', 'Steps per second of compare'],
  ['ways', 'The same check'],
  ['scale', 'CPU time of check'],
  ['survey', 'A survey of 9 modules'],
  ['logs', 'with a log in memory'],
] as const;

test('the parts of the benchmark run', async () => {
  const some = someOf(parts, 2);
  const names = some.map(([name]) => name);
  const { code, out, err } = await scriptRun('scripts/bench.mjs', '--small', ...names);
  expect([code, err]).toEqual([0, '']);
  for (const [, text] of some) expect(out).toContain(text);
  const odd = await scriptRun('scripts/bench.mjs', 'lighthouse');
  expect([odd.code, odd.err]).toEqual([
    2,
    expect.stringContaining(`The parts are: ${parts.map(([name]) => name).join(', ')}.`),
  ]);
});
