import { beforeAll, describe, expect, test } from '@jest/globals';
import { generatedParticipant } from '../../src/participants/generated-participant.js';
import { namesOf } from '../../src/participants/names.js';
import type { Application } from '../../src/model/application.js';
import type { GeneratedFolder } from '../../src/core.js';
import { foldersOf, modelOf } from '../helpers.js';
import { startOf } from '../participants.js';
import { broken, type Break } from './broken.js';
import { promises, quay } from './promises.js';

/** For each promise what it takes to break it; a promise without a break is one that no test is known to watch. */
const breaks: Readonly<Record<string, Break>> = {
  'there and back again is no change: nobody is told, everything stays the same object': [
    ['reducer', 'runtime/settling.ts', 'if (own !== old) isChanged', 'isChanged'],
  ],
  'all or nothing: a misfit in the second step takes back the first': [
    ['atom', 'runtime/atoms.ts', 'atom.drop();', 'atom.commit();'],
  ],
  'ids that were asked for are spent even if the transaction is refused': [
    ['observable', 'runtime/transaction.ts', 'this.#now = undefined;', 'this.ids = 0;'],
    [
      'observable',
      'runtime/transaction.ts',
      "newId: () => this.#outside('newId', this.#newId as () => string)",
      'newId: () => `id-${(this.ids += 1)}`',
    ],
  ],
  'the time is asked for once in a transaction': [
    [
      'proxy',
      'runtime/transaction.ts',
      "(this.#now ??= this.#outside('now', now))",
      "this.#outside('now', now)",
    ],
  ],
  'an environment that throws breaks the transaction, and is reported': [
    ['reducer', 'runtime/transaction.ts', 'error instanceof Refusal', 'error instanceof Object'],
  ],
  'readers outside see the last committed moment, even from within a transaction': [
    [
      'atom',
      'runtime/transaction.ts',
      'const wasActing = this.isActing;\n    this.isActing = false;',
      'const wasActing = this.isActing;',
    ],
  ],
  'a payload belongs to the store, which never changes it': [
    [
      'observable',
      'runtime/judging-parts.ts',
      'const record = isGiven ? shallow(value) : value;',
      'const record = value;',
    ],
  ],
  'a Date does not fit': [
    [
      'proxy',
      'runtime/judging.ts',
      "(typeof value === 'string' ?",
      "(typeof value === 'string' || value instanceof Date ?",
    ],
  ],
  'a Map does not fit': [
    [
      'atom',
      'runtime/taking-in.ts',
      'if (!isPlain(value)',
      "if (!isPlain(value)) return { id: 'a', weight: 1, tags: [] };\n  if (!isPlain(value)",
    ],
  ],
  'NaN does not fit': [
    ['reducer', 'runtime/judging.ts', 'Number.isFinite(value)', "typeof value === 'number'"],
  ],
  'a function does not fit': [
    [
      'observable',
      'runtime/judging-parts.ts',
      "part === undefined || typeof part === 'function'",
      'part === undefined',
    ],
    [
      'observable',
      'runtime/judging.ts',
      "(typeof value === 'string' ?",
      "(typeof value === 'string' || typeof value === 'function' ?",
    ],
  ],
  'a hole does not fit': [
    [
      'proxy',
      'runtime/judging-parts.ts',
      'const judged = item.judge(value[i], isGiven);',
      'if (!(i in value)) continue;\n        const judged = item.judge(value[i], isGiven);',
    ],
  ],
  'a class instance does not fit': [['atom', 'runtime/taking-in.ts', '!isPlain(value) || ', '']],
  'an unknown property does not fit': [
    [
      'reducer',
      'runtime/judging-parts.ts',
      'if (names.length === known) return record;',
      'return record;',
    ],
  ],
  'nothing at all does not fit': [
    [
      'observable',
      'runtime/transaction.ts',
      'if (given === undefined && otherwise !== undefined) return otherwise;',
      "if (given === undefined) return { id: 'a', weight: 1, tags: [] };",
    ],
  ],
  'a sum that leaves what numbers can hold does not fit': [
    ['observable', 'runtime/judging.ts', 'Number.isFinite(value)', "typeof value === 'number'"],
  ],
  'a cycle does not fit': [
    [
      'proxy',
      'runtime/judging.ts',
      "if (around.includes(value) && typeof value === 'object') return here;",
      '',
    ],
  ],
  'a dictionary is read by own keys only, and __proto__ does not fit': [
    ['atom', 'runtime/lists.ts', "if (key === '__proto__')", 'if (key.length > 99)'],
    ['atom', 'runtime/judging-parts.ts', "key === '__proto__' ? here : ", ''],
  ],
  'putting a key that is there leaves it in its place': [
    ['reducer', 'stores/quay.ts', '...quay.names, ', ''],
  ],
  'what is not written to stays the same object': [
    [
      'reducer',
      'runtime/reducer.ts',
      'settledStates(before, this.next,',
      'settledStates(before, structuredClone(this.next),',
    ],
  ],
  'snapshots are plain, frozen data that can be cloned': [
    [
      'reducer',
      'runtime/settling.ts',
      'return guard ? Object.freeze(kept) : kept;',
      'return kept;',
    ],
  ],
  'a derived value is given out as the same object while it is equal': [
    ['proxy', 'runtime/derived.ts', 'same(given.value, memory.value)', 'false'],
  ],
  'derived values may be NaN or infinite, and stay so without notices': [
    ['observable', 'runtime/watchers.ts', 'Object.is(last, before)', 'last === before'],
  ],
  'a watcher is told of changes from any store, once, with the values now and before': [
    ['reducer', 'runtime/watchers.ts', 'changed(last, before);', 'changed(last, last);'],
  ],
  'no watcher sees a derived value and a field of different moments': [
    ['atom', 'runtime/atoms.ts', 'for (const reader of this.readers) reader.invalidate();', ''],
  ],
  'watchers that are stopped or added during a round wait or are passed over': [
    ['proxy', 'runtime/watchers.ts', '!watcher.isStopped && ', ''],
  ],
  'an action sent from a watcher is queued, and its turn comes after the round': [
    [
      'observable',
      'runtime/transaction.ts',
      'if (this.#isBusy) {',
      'if (this.#isBusy && !action) {',
    ],
  ],
  'a watcher that throws stops nobody, and is reported': [
    ['atom', 'runtime/watchers.ts', "report('watcher', error);", 'throw error;'],
  ],
  'what does not settle is stopped after a thousand turns, and reported once': [
    ['reducer', 'runtime/transaction.ts', 'const mostTurns = 1000;', 'const mostTurns = 900;'],
  ],
  'an action without a payload drops what it is given': [
    [
      'proxy',
      'stores/quay.ts',
      'shut({ quay }: Editable) {',
      "shut({ quay }: Editable, { payload }: any) {\nif (payload !== undefined) throw new Error('shut');",
    ],
  ],
  'an action that does not exist is the caller’s mistake': [
    [
      'reducer',
      'runtime/reducer.ts',
      'throw new TypeError(`There is no action',
      "return { status: 'done' };\n    if (type === '') throw new TypeError(`There is no action",
    ],
  ],
};

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
