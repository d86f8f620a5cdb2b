import { cpSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { describe, expect, test } from '@jest/globals';
import { root } from '../helpers.js';
import { inFolder, leeshore, leeshoreProcess, type Ran } from './run.js';

/** A folder with the demo data: most of it is quick to compare. */
const inSkerry = (use: (folder: string) => Promise<void>) =>
  inFolder(async (folder) => {
    for (const name of ['skerry/ferry.stores.yaml', 'skerry/old', 'skerry/logs', 'start'])
      cpSync(
        fileURLToPath(new URL(`examples/${name}`, root)),
        join(folder, name.replace(/^skerry./, '')),
        { recursive: true },
      );
    await use(folder);
  });

const berth = 'start/berth.stores.yaml';
const survey = ['survey', 'old', '--old', 'old/terminal.ts'];

/** One call of each command, and the exit code that it ends with. */
const calls: readonly (readonly [code: number, ...args: readonly string[]])[] = [
  [0, 'check', 'ferry.stores.yaml', '--advice'],
  [0, 'check', berth, '--json'],
  [0, 'generate', berth, '--out', 'stores'],
  [0, 'compare', berth, '--steps', '60', '--json'],
  [1, 'compare', 'ferry.stores.yaml', '--with', 'old/terminal.participant.ts', '--style', 'none'],
  [2, 'merge', berth],
  [0, 'replay', 'logs/old.log.jsonl', berth, '--style', 'none', '--to', '3'],
  [0, 'timeline', 'logs/morning.log.jsonl', '--store', 'plan'],
  [0, ...survey],
  [0, 'weigh', berth],
  [0, 'show', 'ferry.stores.yaml', '--store', 'deck'],
  [0, 'explain', 'unknown-name'],
  [0, 'format', berth, '--check'],
  [0, 'new', berth, '--participant', 'berth.ts'],
  [0, 'schema'],
  [0, 'completion'],
  [0, '--help'],
];

/** What a call printed, without how long it took. */
const timeless = ({ code, out, err }: Ran) => ({
  code,
  err,
  out: out.replace(/"tookMs": \d+|\d+\.\d s|[\d,]+ steps\/s/g, '...'),
});

describe('each command', () => {
  test.each(calls)(
    'ends with %i and prints the same as a process and as a call: %s %s',
    (...call) =>
      inSkerry(async (folder) => {
        const [, ...args] = call;
        const called = timeless(await leeshore(folder, ...args));
        // What it has written is there already the second time.
        if (args[0] === 'generate' || args[0] === 'new') expect(called.code).toBe(0);
        else expect(called).toEqual(timeless(await leeshoreProcess(folder, {}, ...args)));
      }),
  );
});

test('a process generates, and writes a participant', () =>
  inSkerry(async (folder) => {
    const made = await leeshoreProcess(folder, {}, 'generate', berth, '--style', 'atom');
    expect([made.code, made.err]).toEqual([0, '']);
    const participant = await leeshoreProcess(folder, {}, 'new', berth, '--participant', 'b.ts');
    expect([participant.code, participant.err]).toEqual([0, '']);
    expect(readFileSync(join(folder, 'b.ts'), 'utf8')).toContain('export default');
  }));

test('runs in one process leave nothing behind for each other', () =>
  inSkerry(async (folder) => {
    writeFileSync(join(folder, 'odd.stores.yaml'), 'leeshore: 1\nstores: { a: { state: { b: } } }');
    const listeners = () => process.eventNames().map((name) => process.listenerCount(name));
    const all = async () => {
      const shown: unknown[] = [];
      for (const args of [
        ['check', 'odd.stores.yaml'],
        ['check', 'ferry.stores.yaml', '--color'],
        ['compare', berth, '--steps', '60', '--json'],
        ['compare', berth, '--steps', 'many'],
        ['compare', 'ferry.stores.yaml', '--with', 'old/terminal.participant.ts', '--json'],
        ['show', 'ferry.stores.yaml'],
      ])
        shown.push(timeless(await leeshore(folder, ...args, '--no-color')));
      return shown;
    };
    const first = await all();
    const before = listeners();
    expect(await all()).toEqual(first);
    expect(listeners()).toEqual(before);
  }));
