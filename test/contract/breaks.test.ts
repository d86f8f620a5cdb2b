import { beforeAll, describe, expect, test } from '@jest/globals';
import { generatedParticipant } from '../../src/load/generated-participant.js';
import { namesOf } from '../../src/load/names.js';
import type { Application } from '../../src/model/application.js';
import type { GeneratedFolder, Style } from '../../src/core.js';
import { foldersOf, modelOf } from '../helpers.js';
import { startOf } from '../participants.js';
import { promises, quay } from './promises.js';

/** A break in the generated code of a style: in a file, what is written there and what takes its place. */
type Break = readonly [style: Style, file: string, from: string | RegExp, to: string][];

/** For each promise what it takes to break it; a promise without a break is one that no test is known to watch. */
const breaks: Readonly<Record<string, Break>> = {
  'there and back again is no change: nobody is told, everything stays the same object': [
    ['reducer', 'values.ts', /if \(equal\) return before;/g, ''],
  ],
  'all or nothing: a misfit in the second step takes back the first': [
    ['atom', 'runtime.ts', 'transaction.settle(false)', 'transaction.settle(true)'],
  ],
  'ids that were asked for are spent even if the transaction is refused': [
    [
      'observable',
      'transaction.ts',
      'return this.#environment.newId();',
      'return `id-${(this.count = (this.count ?? 0) + 1)}`;',
    ],
  ],
  'the time is asked for once in a transaction': [
    [
      'proxy',
      'transaction.ts',
      '(this.#moment ??= this.#environment.now())',
      'this.#environment.now()',
    ],
  ],
  'an environment that throws breaks the transaction, and is reported': [
    ['reducer', 'transaction.ts', 'refused in error;', 'error instanceof Error;'],
  ],
  'readers outside see the last committed moment, even from within a transaction': [
    ['atom', 'cell.ts', 'return this.#value;', 'return this.#next?.value ?? this.#value;'],
    [
      'atom',
      'runtime.ts',
      'if (!this.#fresh) {\n      if (this.#last === undefined || !this.#isUnchanged()) this.#renew();',
      '{\n      this.#renew();',
    ],
  ],
  'a payload belongs to the store, which never changes it': [
    ['observable', 'values.ts', 'const taken = plain(value, nothing);', 'const taken = value;'],
  ],
  'a Date does not fit': [
    [
      'proxy',
      'values.ts',
      'return misfit;\n  if (Object.getOwn',
      'return {};\n  if (Object.getOwn',
    ],
    ['proxy', 'values.ts', "typeof value === 'string'", 'true'],
  ],
  'a Map does not fit': [
    [
      'atom',
      'values.ts',
      'const taken = plain(value, nothing);',
      "const taken = value instanceof Map ? { id: 'a', weight: 1, tags: [] } : plain(value, nothing);",
    ],
  ],
  'NaN does not fit': [
    ['reducer', 'values.ts', 'Number.isFinite(value)', "typeof value === 'number'"],
    ['reducer', 'checks.ts', 'value.weight >= 0', 'true'],
  ],
  'a function does not fit': [
    [
      'observable',
      'values.ts',
      "typeof value === 'string'",
      "typeof value === 'string' || typeof value === 'function'",
    ],
  ],
  'a hole does not fit': [
    [
      'proxy',
      'values.ts',
      'if (taken === misfit) return misfit;\n      items',
      'if (taken === misfit) continue;\n      items',
    ],
  ],
  'a class instance does not fit': [
    [
      'atom',
      'values.ts',
      /if \(isObject\(prototype\) && Object\.getPrototypeOf\(prototype\) !== null\) return misfit;/,
      '',
    ],
  ],
  'an unknown property does not fit': [
    ['reducer', 'values.ts', 'return Object.keys(value).length === known;', 'return true;'],
  ],
  'nothing at all does not fit': [
    [
      'observable',
      'transaction.ts',
      'return fits(taken) ?',
      'return taken === undefined || fits(taken) ?',
    ],
  ],
  'a sum that leaves what numbers can hold does not fit': [
    [
      'observable',
      'values.ts',
      'value is number => Number.isFinite(value)',
      "value is number => typeof value === 'number'",
    ],
  ],
  'a cycle does not fit': [
    ['proxy', 'values.ts', 'if (around.includes(value)) return misfit;', ''],
  ],
  'a dictionary is read by own keys only, and __proto__ does not fit': [
    ['atom', 'values.ts', "key !== '__proto__'", 'true'],
  ],
  'putting a key that is there leaves it in its place': [
    ['reducer', 'quay.store.ts', '...quay.names, ', ''],
  ],
  'what is not written to stays the same object': [
    ['reducer', 'runtime.ts', 'state = keep(before, reduce', 'state = structuredClone(reduce'],
  ],
  'snapshots are plain, frozen data that can be cloned': [
    ['reducer', 'values.ts', 'return guard ? Object.freeze(kept) : kept;', 'return kept;'],
  ],
  'a derived value is given out as the same object while it is equal': [
    [
      'proxy',
      'tracking.ts',
      'if (!had || !same(this.#result, result)) this.#result =',
      'this.#result =',
    ],
    ['proxy', 'cell.ts', 'if (!same(this.#out, value)) this.#out = value;', 'this.#out = value;'],
  ],
  'derived values may be NaN or infinite, and stay so without notices': [
    ['observable', 'watchers.ts', 'Object.is(now, before)', 'now === before'],
  ],
  'a watcher is told of changes from any store, once, with the values now and before': [
    ['reducer', 'watchers.ts', 'this.#changed(now, before);', 'this.#changed(now, now);'],
  ],
  'no watcher sees a derived value and a field of different moments': [
    ['atom', 'runtime.ts', 'for (const reader of this.readers) reader.invalidate();', ''],
  ],
  'watchers that are stopped or added during a round wait or are passed over': [
    ['proxy', 'watchers.ts', 'if (!watcher.isStopped) watcher.look();', 'watcher.look();'],
  ],
  'an action sent from a watcher is queued, and its turn comes after the round': [
    ['observable', 'transaction.ts', 'if (this.#busy) {', 'if (this.#busy && !action) {'],
  ],
  'a watcher that throws stops nobody, and is reported': [
    [
      'atom',
      'watchers.ts',
      "this.#report({ kind: 'watcher', at: this.#name, error });",
      'throw error;',
    ],
  ],
  'what does not settle is stopped after a thousand turns, and reported once': [
    ['reducer', 'transaction.ts', 'const mostTurns = 1000;', 'const mostTurns = 900;'],
  ],
  'an action without a payload drops what it is given': [
    [
      'proxy',
      'quay.store.ts',
      'shut: () =>',
      "shut: (given) => given !== undefined ? { status: 'refused' } :",
    ],
  ],
  'an action that does not exist is the caller’s mistake': [
    ['reducer', 'runtime.ts', 'if (!types.has(action.type))', 'if (types.size === 0)'],
  ],
};

/** The folder with the breaks in it, each of which must be possible. */
function broken(folder: GeneratedFolder, changes: Break): GeneratedFolder {
  const texts = new Map(folder.files.map(({ path, text }) => [path, text]));
  for (const [, file, from, to] of changes) {
    const text = texts.get(file) ?? '';
    const next = text.replace(from, to);
    if (next === text) throw new Error(`${folder.style}/${file} has no '${String(from)}'`);
    texts.set(file, next);
  }
  return { ...folder, files: [...texts].map(([path, text]) => ({ path, text })) };
}

describe('each promise of the contract is watched: its test fails when it is broken', () => {
  let application: Application;
  let folders: readonly GeneratedFolder[];
  beforeAll(async () => {
    application = await modelOf(quay);
    folders = await foldersOf(application);
  });

  test.each(promises)('$what', async ({ what, holds }) => {
    const changes = breaks[what] ?? [];
    const style = changes[0]?.[0];
    const folder = folders.find((one) => one.style === style);
    if (folder === undefined) throw new Error('nothing breaks this promise');
    const { files } = broken(folder, changes);
    const participant = generatedParticipant('broken', folder.style, files, namesOf(application));
    await expect(
      holds((change) => Promise.resolve(startOf(participant, change))),
    ).rejects.toThrow();
    expect(Object.keys(breaks)).toContain(what);
  });
});
