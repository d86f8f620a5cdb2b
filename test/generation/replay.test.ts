import { readFileSync } from 'node:fs';
import { expect, test } from '@jest/globals';
import { same } from '../../src/base/same.js';
import type { GeneratedFolder } from '../../src/core.js';
import { loadModules } from '../../src/participants/load-modules.js';
import { compareStores } from '../../src/jobs/compare.js';
import { foldersOf, modelOf, root, unlimited } from '../helpers.js';
import { howMany } from '../sweep.js';

interface Store {
  snapshot(): unknown;
  tasks(): Readonly<Record<string, Readonly<Record<string, unknown>>>>;
}

interface Value {
  readonly app: unknown;
  readonly tasks: Readonly<Record<string, { readonly readings: unknown }>>;
}

type Create = (options: object) => Store;
type Replay = (value: Value | undefined, action: unknown) => Value;

const differing: unknown[] = [];
const kinds = new Set<string>();
let replayed = 0;

/** Makes stores of which everything that is recorded is done again at once, from plain data and without services. */
function watched(create: Create, createReplay: () => Replay, options: object): Store {
  const replay = createReplay();
  let value: Value | undefined;
  const made: { store?: Store } = {};
  const record = (action: { readonly type: string }) => {
    replayed++;
    kinds.add(action.type.split('.')[2] ?? 'action or start');
    try {
      const before = value;
      const plain: unknown = JSON.parse(JSON.stringify(action));
      value = replay(before, plain);
      // It is a function: the same value and action give the same again.
      if (!same(replay(before, plain).app, value.app)) differing.push(['again', action]);
      const { store } = made;
      if (store === undefined) return;
      const readings = Object.entries(value.tasks).map(([name, task]) => [name, task.readings]);
      const [state, of] = [store.snapshot(), store.tasks()];
      const own = readings.map(([name]) => {
        const [holder = '', task = ''] = String(name).split('.');
        return [name, of[holder]?.[task]];
      });
      if (!same(state, value.app)) differing.push([action, state, value.app]);
      if (!same(readings, own)) differing.push([action, readings, own]);
    } catch (error) {
      differing.push([action, String(error)]);
    }
  };
  return (made.store = create({ ...options, record }));
}

/** The folder of a reducer whose stores are watched like that. */
function watchedFolder(folder: GeneratedFolder): GeneratedFolder {
  const from = 'export function createStores(';
  const files = folder.files.map((file) => {
    if (file.path !== 'index.ts') return file;
    expect(file.text).toContain(from);
    const text = `${file.text.replace(from, 'function createOwn(')}
export const createStores = (options: any) => (globalThis as any).watchedByReplay(createOwn, createReplay, options);`;
    return { ...file, text };
  });
  return { ...folder, files };
}

Reflect.set(globalThis, 'watchedByReplay', watched);

/** What draws, what is set aside and then refused, and what fails so that only the run ends. */
const drawing = `
leeshore: 1
services:
  office: { operations: { name: { payload: string, result: string } } }
stores:
  quay:
    state:
      log: { list: string }
      open: { type: boolean, default: true, setter: setOpen }
      at: { type: number, default: 0 }
      luck: { type: number, minimum: 0, default: 0 }
    actions:
      note: { payload: string, steps: [{ append: { to: log, value: "newId() + payload" } }, { set: { at: "now()", luck: "random()" } }] }
      clear: [{ set: { log: "[]" } }]
    tasks:
      load:
        payload: string
        requires: [{ that: "open", otherwise: Shut. }]
        overlap: queue
        operation: office.name
        start: [{ append: { to: log, value: "newId()" } }]
        finish: [{ append: { to: log, value: "result + newId() + newId()" } }, { set: { luck: "random()" } }]
        fail: [{ set: { luck: "open ? 1 : -1" } }]
`;

test.each([
  ['loading', readFileSync(new URL('test/fixtures/loading.stores.yaml', root), 'utf8')],
  ['drawing', drawing],
])('what was recorded (%s) gives the same states again, without any service', async (_, text) => {
  const application = await modelOf(text);
  const folders = (await foldersOf(application, ['reducer'])).map(watchedFolder);
  const options = { ...unlimited, seed: 1, steps: howMany(1200, 4000) };
  const { difference } = await compareStores(application, folders, options);
  expect(difference).toBeUndefined();
  expect(differing).toEqual([]);
  expect(replayed).toBeGreaterThan(300);
});

test('what throws while it is told is reported, and the action is kept', async () => {
  const [folder] = await foldersOf(await modelOf(drawing), ['reducer']);
  const { createStores } = loadModules(folder?.files ?? [], 'index.ts') as {
    createStores: (options: object) => Store & { dispatch: (action: object) => unknown };
  };
  const problems: unknown[] = [];
  const record = () => {
    throw new Error('the disk is full');
  };
  const onProblem = ({ kind, at }: { kind: string; at: string }) => problems.push([kind, at]);
  const store = createStores({ record, onProblem, newId: () => 'n', now: () => 7 });
  expect(store.dispatch({ type: 'quay.note', payload: '1' })).toEqual({ status: 'done' });
  expect(store.snapshot()).toMatchObject({ quay: { log: ['n1'], at: 7 } });
  expect(problems).toEqual([['watcher', 'record']]);
});

test('all that can be recorded was', () => {
  expect([...kinds].sort()).toEqual([
    'action or start',
    'cancel',
    'drop',
    'each',
    'end',
    'fail',
    'finish',
    'start',
  ]);
});
