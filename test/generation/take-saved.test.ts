import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { nextTurn } from '../../src/base/turn.js';
import type { GeneratedFolder } from '../../src/core.js';
import { loadModules } from '../../src/participants/load-modules.js';
import { leeshore } from '../cli/run.js';
import { cabin } from '../contract/kept-promises.js';
import { allStyles, foldersOf, modelOf } from '../helpers.js';

type Any = never;
interface Outcome {
  readonly status: string;
  readonly outcome?: Promise<Outcome>;
}
interface Watched {
  get?(): unknown;
  readonly latest?: unknown;
  watch(call: () => void): void;
}
interface Storage {
  getItem(key: string): unknown;
  setItem(key: string, text: string): unknown;
}

/** A storage in memory that answers at once, or when it is told to. */
class Texts {
  readonly written: string[] = [];
  readonly asked: (() => void)[] = [];
  constructor(
    readonly texts: Record<string, string>,
    readonly isLate = false,
  ) {}
  #answer<T>(make: () => T): T | Promise<T> {
    if (!this.isLate) return make();
    return new Promise((resolve) =>
      this.asked.push(() => {
        resolve(make());
      }),
    );
  }
  getItem(key: string) {
    return this.#answer(() => this.texts[key] ?? null);
  }
  setItem(key: string, text: string) {
    return this.#answer(() => {
      this.written.push(text);
      this.texts[key] = text;
    });
  }
  async answerAll() {
    for (const answer of this.asked.splice(0)) answer();
    await nextTurn();
  }
  fields(key: string): unknown {
    const data = JSON.parse(this.texts[key] ?? 'null') as { fields?: unknown } | null;
    return data?.fields ?? data;
  }
}

let folders: readonly GeneratedFolder[];
let folder: string;
beforeAll(async () => {
  folders = await foldersOf(await modelOf(cabin), allStyles, { log: true });
  folder = mkdtempSync(join(tmpdir(), 'leeshore-saved-'));
  writeFileSync(join(folder, 'cabin.stores.yaml'), cabin.replace(/^\n/, ''));
});
afterAll(() => {
  rmSync(folder, { recursive: true });
});

const berth = { id: 'a', depthM: 2 };
const kept = (limit: number, berths: readonly object[] = []) =>
  JSON.stringify({ version: 2, fields: { limit, berths } });

describe.each(allStyles)('%s: saved state that is taken in later', (style) => {
  function open(options: object = {}) {
    const files = folders.find((one) => one.style === style)?.files ?? [];
    const module = loadModules(files, 'index.ts') as unknown as {
      createStores(options: object): Any;
      memoryLog(): { text(): string };
    };
    const problems: unknown[] = [];
    const log = module.memoryLog();
    const app = module.createStores({
      storage: undefined,
      log,
      services: { office: { note: () => undefined } },
      onProblem: ({ kind, at }: Record<string, unknown>) => problems.push({ kind, at }),
      ...options,
    }) as {
      dispatch(action: object): Outcome;
      stores: Record<string, Record<string, (payload?: unknown) => Outcome>>;
      snapshot(): unknown;
      state: Watched | (() => unknown);
      whenChanged(read: () => unknown, call: () => void): void;
      subscribe(call: () => void): void;
      takeSaved(storage: Storage): Promise<Outcome>;
    };
    const { snapshot, state } = app;
    const read = () =>
      (snapshot?.() ??
        (typeof state === 'function' ? state() : (state.get?.() ?? state.latest))) as {
        cabin: object;
        tone: string;
      };
    const send = (store: string, action: string, payload?: unknown) =>
      app.dispatch === undefined
        ? app.stores[store]?.[action]?.(payload)
        : app.dispatch({ type: `${store}.${action}`, payload });
    const watch = (call: () => void) => {
      if (app.subscribe !== undefined) app.subscribe(call);
      else if (app.whenChanged === undefined) (state as Watched).watch(call);
      else app.whenChanged(read, call);
    };
    return { app, read, send, watch, problems, log };
  }

  test('the stores begin with their defaults, and one transaction takes it in, at once', async () => {
    const { app, read, send, watch, problems } = open();
    const storage = new Texts({ 'cabin-settings': kept(9, [berth]), tone: '{"value":"night"}' });
    let rounds = 0;
    watch(() => (rounds += 1));
    expect(read()).toEqual({ cabin: { limit: 18, berths: [], officer: null }, tone: 'day' });
    const taken = app.takeSaved(storage);
    expect(read()).toEqual({ cabin: { limit: 9, berths: [berth], officer: null }, tone: 'night' });
    expect(rounds).toBe(1);
    expect(await taken).toEqual({ status: 'done' });
    expect(storage.written).toEqual([]);
    expect(send('cabin', 'undo')).toMatchObject({ status: 'refused', reason: 'nothing to undo' });
    send('cabin', 'setLimit', 10);
    expect(storage.fields('cabin-settings')).toEqual({ limit: 10, berths: [berth] });
    expect(problems).toEqual([]);
  });

  test('fields that have changed meanwhile keep their values, which are written', async () => {
    const { app, read, send } = open();
    const storage = new Texts(
      { 'cabin-settings': kept(9, [berth]), tone: '{"value":"night"}' },
      true,
    );
    send('cabin', 'setLimit', 12);
    const taken = app.takeSaved(storage);
    send('tone', 'turn', 'night');
    send('tone', 'turn', 'day');
    expect(read().cabin).toMatchObject({ limit: 12, berths: [] });
    await storage.answerAll();
    expect(await taken).toEqual({ status: 'done' });
    // Back at what it was, a field has not changed.
    expect(read()).toEqual({ cabin: { limit: 12, berths: [berth], officer: null }, tone: 'night' });
    await storage.answerAll();
    expect(storage.fields('cabin-settings')).toEqual({ limit: 12, berths: [berth] });
    expect(storage.written).toHaveLength(1);
    expect(send('cabin', 'undo')).toEqual({ status: 'done' });
    expect(read().cabin).toMatchObject({ limit: 18, berths: [berth] });
  });

  test('a storage that is slow to write gets no older text last', async () => {
    const { app, send } = open();
    const storage = new Texts({}, true);
    const taken = app.takeSaved(storage);
    await storage.answerAll();
    await taken;
    for (const limit of [1, 2, 3]) send('cabin', 'setLimit', limit);
    expect(storage.asked).toHaveLength(1);
    await storage.answerAll();
    await storage.answerAll();
    expect(
      storage.written.map(
        (text) => (JSON.parse(text) as { fields: { limit: number } }).fields.limit,
      ),
    ).toEqual([1, 3]);
  });

  test('what cannot be read, or is of a later version, is told, and the latter is left alone', async () => {
    const { app, read, send, problems } = open();
    const text = JSON.stringify({ version: 3, fields: { limit: 5 } });
    const storage = new Texts({ 'cabin-settings': text });
    const outcome = await app.takeSaved({
      getItem: (key) =>
        key === 'tone' ? Promise.reject(new Error('locked')) : storage.getItem(key),
      setItem: (key, own) => storage.setItem(key, own),
    });
    expect(outcome).toEqual({ status: 'done' });
    expect(read()).toEqual({ cabin: { limit: 18, berths: [], officer: null }, tone: 'day' });
    expect(problems).toEqual([
      { kind: 'storage', at: 'cabin.saved' },
      { kind: 'storage', at: 'tone.saved' },
    ]);
    send('cabin', 'setLimit', 7);
    send('tone', 'turn', 'night');
    expect(storage.texts).toEqual({ 'cabin-settings': text, tone: '{"value":"night"}' });
  });

  test('a storage that answers later, given when the stores are made, loses nothing', async () => {
    const storage = new Texts({ 'cabin-settings': kept(9) }, true);
    const { app, read, send, problems } = open({ storage });
    expect(problems).toHaveLength(2);
    send('cabin', 'add', berth);
    await storage.answerAll();
    expect(storage.written).toEqual([]);
    const taken = app.takeSaved(storage);
    await storage.answerAll();
    await taken;
    await storage.answerAll();
    expect(read().cabin).toMatchObject({ limit: 9, berths: [berth] });
    expect(storage.fields('cabin-settings')).toEqual({ limit: 9, berths: [berth] });
  });

  test('a log says so, and is replayed without a difference', async () => {
    const { app, send, log } = open();
    send('cabin', 'sign', 'Ebb');
    await app.takeSaved(new Texts({ 'cabin-settings': kept(9, [berth]) }));
    send('cabin', 'setLimit', 10);
    const lines = log.text();
    expect(lines).toContain('"kind":"saved"');
    writeFileSync(join(folder, `${style}.log.jsonl`), lines);
    const { code, out, err } = await leeshore(
      folder,
      ...['replay', `${style}.log.jsonl`, 'cabin.stores.yaml', '--no-color'],
    );
    expect([code, err, out]).toEqual([0, '', expect.stringContaining('no difference')]);
  });
});

test('a store that is attached while a storage is asked is no problem, and is taken in by another call', async () => {
  const schema = `
leeshore: 1
stores:
  desk: { value: { type: string, default: day }, saved: {} }
  tariff: { lazy: true, state: { perM: { type: number, default: 2 } }, saved: {} }
`;
  const [own] = await foldersOf(await modelOf(schema), ['proxy']);
  const load = (entry: string) => loadModules(own?.files ?? [], entry) as Record<string, Any>;
  const problems: unknown[] = [];
  const app = (load('index.ts')['createStores'] as unknown as (options: object) => unknown)({
    storage: undefined,
    onProblem: (problem: unknown) => problems.push(problem),
  }) as {
    attach(store: object): void;
    state(): unknown;
    takeSaved(storage: Storage): Promise<unknown>;
  };
  const storage = new Texts({ desk: '{"value":"night"}', tariff: '{"perM":7}' }, true);
  const taken = app.takeSaved(storage);
  app.attach(load('stores/tariff.ts')['tariffStore'] as unknown as object);
  await storage.answerAll();
  await taken;
  expect([app.state(), problems]).toEqual([{ desk: 'night', tariff: { perM: 2 } }, []]);
  const again = app.takeSaved(storage);
  await storage.answerAll();
  await again;
  expect([app.state(), problems]).toEqual([{ desk: 'night', tariff: { perM: 7 } }, []]);
});
