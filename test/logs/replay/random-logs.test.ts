import { readFileSync } from 'node:fs';
import { expect, test } from '@jest/globals';
import type { GeneratedFolder } from '../../../src/core.js';
import type { Style } from '../../../src/base/styles.js';
import { referenceParticipant } from '../../../src/meaning/reference.js';
import { generatedParticipant } from '../../../src/participants/generated-participant.js';
import { namesOf } from '../../../src/participants/names.js';
import { readLog } from '../../../src/logs/log/read-log.js';
import type { Application } from '../../../src/model/application.js';
import { compareStores } from '../../../src/jobs/compare.js';
import { Replay, type ReplayResult } from '../../../src/logs/replay/replay.js';
import { allStyles, foldersOf, modelOf, root, unlimited } from '../../helpers.js';
import { howMany, someOf } from '../../sweep.js';

type Create = (options: { readonly now: () => number; readonly timers?: unknown }) => unknown;

let logs: object[][] = [];

/** Makes stores whose log is kept. */
function logged(create: Create, options: Parameters<Create>[0]): unknown {
  const entries: object[] = [];
  logs.push(entries);
  const clock = options.timers === undefined ? () => 0 : options.now;
  const log = { write: (entry: object) => void entries.push(entry), clock, every: 50 };
  return create({ ...options, log } as Parameters<Create>[0]);
}

Reflect.set(globalThis, 'loggedByReplay', logged);

/** A folder whose stores are logged like that. */
function loggedFolder(folder: GeneratedFolder): GeneratedFolder {
  const files = folder.files.map((file) => {
    if (file.path !== 'index.ts') return file;
    const text = file.text.replace(
      /export (const createStores = |function createStores)/,
      (_, declared: string) => declared.replace('createStores', 'createOwn'),
    );
    expect(text).not.toBe(file.text);
    return {
      ...file,
      text: `${text}
export const createStores = (options: any) => (globalThis as any).loggedByReplay(createOwn, options);`,
    };
  });
  return { ...folder, files };
}

const text = (entries: readonly object[]) =>
  entries.map((entry) => `${JSON.stringify(entry)}\n`).join('');

async function replayed(
  application: Application,
  styles: readonly Style[],
  entries: readonly object[],
): Promise<ReplayResult> {
  const folders = await foldersOf(application, styles, { begin: 'state' });
  const names = namesOf(application);
  const replay = new Replay(application, [
    referenceParticipant(application),
    ...folders.map(({ name, style, files }) => generatedParticipant(name, style, files, names)),
  ]);
  for await (const some of readLog([text(entries)])) await replay.feed(some);
  return replay.end();
}

const fixture = (name: string) =>
  readFileSync(new URL(`test/fixtures/${name}.stores.yaml`, root), 'utf8');
/** In all 200,000 steps with npm run soak. */
const steps = howMany(300, 7200);

const pairs = ['every-step', 'every-type', 'loading', 'undo', 'later', 'kept', 'across'].flatMap(
  (name) => allStyles.map((style) => [name, style] as const),
);

test.each(someOf(pairs, 7))(
  'the log of a random run (%s, %s) is replayed without a difference',
  async (name, style) => {
    const application = await modelOf(fixture(name));
    const [folder] = await foldersOf(application, [style], { log: true });
    logs = [];
    const folders = [loggedFolder(folder as GeneratedFolder)];
    const options = { ...unlimited, seed: 1, steps, search: 'random' } as const;
    const { difference } = await compareStores(application, folders, options);
    expect(difference).toBeUndefined();
    const own = logs.filter((entries) => entries.length > 1);
    expect(own.length).toBeGreaterThan(0);
    const others = allStyles.filter((other) => other !== style);
    let lines = 0;
    for (const [i, entries] of own.entries()) {
      const other = others[i % others.length] as Style;
      const result = await replayed(application, [other], entries);
      lines += result.lines;
      const found = result.participants.flatMap(({ mismatches }) => mismatches);
      expect([name, style, i, found, result.passedOver]).toEqual([
        name,
        style,
        i,
        [],
        expect.anything(),
      ]);
    }
    expect(lines).toBeGreaterThan(steps / 2);
  },
);
