import { copyFileSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { describe, expect, test } from '@jest/globals';
import { Ajv2020 } from 'ajv/dist/2020.js';
import { ferryPath, root } from '../helpers.js';
import { inFolder, leeshore } from './run.js';

const file = 'ferry.stores.yaml';

async function inFerryFolder(run: (folder: string) => Promise<void>) {
  await inFolder(async (folder) => {
    copyFileSync(fileURLToPath(new URL(ferryPath, root)), join(folder, file));
    await run(folder);
  });
}

interface Report {
  readonly verdict: string;
  readonly shard?: string;
  readonly steps: number;
  readonly coverage: { readonly reached: number; readonly total: number };
  readonly walks: readonly { readonly store: string | null }[];
}

const parse = (text: string): Report => JSON.parse(text) as Report;

/** A report without the time that it took. */
const timeless = (text: string): object => ({ ...parse(text), tookMs: 0 });

const less = ['compare', file, '--style', 'reducer,atom', '--json'];

describe('the same search', () => {
  test('gives the same with one worker and with two', () =>
    inFerryFolder(async (folder) => {
      const args = [...less, '--steps', '1200', '--seed', '3'];
      const [one, two] = await Promise.all(
        ['1', '2'].map((jobs) => leeshore(folder, ...args, '--jobs', jobs)),
      );
      expect([one?.code, one?.err]).toEqual([0, '']);
      expect(timeless(two?.out ?? '')).toEqual(timeless(one?.out ?? ''));
    }));

  test('finds the same difference with one worker and with two', () =>
    inFerryFolder(async (folder) => {
      await leeshore(folder, 'generate', file, '--style', 'atom');
      const path = join(folder, 'stores/atom/stores/desk.ts');
      const text = readFileSync(path, 'utf8');
      const wrong = text.replace('relieved.get() + 1', 'relieved.get() + 2');
      expect(wrong).not.toBe(text);
      writeFileSync(path, wrong);
      const args = ['compare', file, '--generated', 'stores', '--json', '--save'];
      const one = await leeshore(folder, ...args, 'a.json');
      const two = await leeshore(folder, ...args, 'b.json', '--jobs', '2');
      expect([one.code, two.code]).toEqual([1, 1]);
      const plain = (out: string) => JSON.stringify(timeless(out)).replace('b.json', 'a.json');
      expect(plain(two.out)).toBe(plain(one.out));
    }));

  test('in shares, merged, reaches at least what one share does', () =>
    inFerryFolder(async (folder) => {
      const shares = await Promise.all(
        ['1/2', '2/2'].map(async (shard) => {
          const { code, out } = await leeshore(
            folder,
            ...less,
            '--steps',
            '1600',
            '--shard',
            shard,
          );
          expect(code).toBe(0);
          const name = `share-${shard.charAt(0)}.json`;
          writeFileSync(join(folder, name), out);
          return { name, report: parse(out) };
        }),
      );
      const names = shares.map(({ name }) => name);
      const merged = await leeshore(folder, 'merge', ...names, '--json');
      expect([merged.code, merged.err]).toEqual([0, '']);
      const whole = parse(merged.out);
      expect(whole.shard).toBeUndefined();
      expect(whole.steps).toBe(shares.reduce((sum, { report }) => sum + report.steps, 0));
      for (const { report } of shares)
        expect(whole.coverage.reached).toBeGreaterThanOrEqual(report.coverage.reached);
      expect(whole.walks.map(({ store }) => store).sort()).toEqual(
        [
          ...['berth', 'deck', 'desk', 'log', 'wind'].flatMap((store) => [store, store]),
          null,
        ].sort(),
      );
      const text = await leeshore(folder, 'merge', ...names.toReversed());
      expect(text.out).toMatch(/^no difference (between 3 participants )?in /);
      const twice = await leeshore(folder, 'merge', 'share-1.json', 'share-1.json');
      expect([twice.code, twice.err]).toEqual([2, expect.stringContaining('given twice')]);
      const odd = await leeshore(folder, 'merge', file);
      expect([odd.code, odd.err]).toEqual([2, expect.stringContaining('is not valid JSON')]);
      writeFileSync(join(folder, 'odd.json'), '{"leeshoreComparison":1}');
      const none = await leeshore(folder, 'merge', 'odd.json');
      expect([none.code, none.err]).toEqual([
        2,
        expect.stringContaining('is not a result of compare'),
      ]);
    }));
});

test('a corpus grows, is done first, and loses what the schema has outgrown', () =>
  inFerryFolder(async (folder) => {
    const args = [...less, '--search', 'random', '--corpus', 'kept'];
    const first = await leeshore(folder, ...args, '--steps', '600');
    expect([first.code, first.err]).toEqual([0, '']);
    const names = readdirSync(join(folder, 'kept'));
    expect(names.length).toBeGreaterThan(5);
    for (const name of names) expect(name).toMatch(/^reach-[0-9a-f]{12}\.script\.json$/);
    const again = await leeshore(folder, ...args, '--steps', '1');
    expect(parse(again.out).coverage.reached).toBeGreaterThanOrEqual(
      parse(first.out).coverage.reached,
    );
    const [name = ''] = names;
    const path = join(folder, 'kept', name);
    writeFileSync(
      path,
      readFileSync(path, 'utf8').replace(/"send": "[^"]+"/, '"send": "deck.sink"'),
    );
    const outgrown = await leeshore(folder, ...args, '--steps', '1');
    expect(outgrown.code).toBe(0);
    expect(outgrown.err).toContain(join('kept', name));
    writeFileSync(path, '{}');
    const odd = await leeshore(folder, ...args, '--steps', '1');
    expect([odd.code, odd.err]).toEqual([2, expect.stringContaining('is not a script')]);
  }));

test('a small scope can be all that is searched, up to a depth', () =>
  inFerryFolder(async (folder) => {
    const args = ['compare', file, '--style', 'reducer', '--search', 'small', '--depth', '1'];
    const { code, out } = await leeshore(folder, ...args);
    expect(code).toBe(0);
    expect(out).toMatch(/desk +\d+ inputs in \d+ states: every single input/);
    expect(out).toMatch(/all stores +\d+ inputs in \d+ states: every single input/);
  }));

test('faults are planted, and the report says how many were found', () =>
  inFolder(async (folder) => {
    // A small schema has few places for faults: planting takes as long as looking for them.
    const small = 'berth.stores.yaml';
    copyFileSync(new URL(`examples/start/${small}`, root), join(folder, small));
    const args = ['compare', small, '--style', 'atom', '--faults', '8', '--steps', '300'];
    const text = await leeshore(folder, ...args);
    expect([text.code, text.err]).toEqual([0, '']);
    expect(text.out).toMatch(/Found \d of [5-8] planted faults; median \d+ steps/);
    const json = await leeshore(folder, ...args, '--json');
    const published = JSON.parse(
      readFileSync(new URL('schema/faults-1.schema.json', root), 'utf8'),
    ) as object;
    const ajv = new Ajv2020();
    const result = JSON.parse(json.out) as object;
    expect([ajv.validate(published, result), ajv.errors]).toEqual([true, null]);
    const shared = await leeshore(folder, ...args, '--json', '--jobs', '2');
    expect({ ...(JSON.parse(shared.out) as object), tookMs: 0 }).toEqual({ ...result, tookMs: 0 });
  }));

test.each([
  [['--shard', '3/2'], '--shard takes a share'],
  [['--jobs', '0'], '--jobs takes a whole number'],
  [['--depth', '0'], '--depth takes a whole number'],
  [['--call-seconds', '0'], '--call-seconds takes a number of seconds'],
  [['--depth', '2', '--search', 'random'], '--depth is for a small scope'],
  [['--faults', 'few'], '--faults takes a whole number'],
  [['--faults', '3', '--require-coverage', '9'], 'do not go together'],
  [['--faults', '3', '--with', 'old.ts'], '--faults and --with do not go together'],
  [['--with', 'old.ts'], 'There is no file old.ts'],
  [['--with', file], 'it is not a JavaScript or TypeScript file'],
  [['--script', 'a.json', '--corpus', 'kept'], '--script and --corpus do not go together'],
])('%j is refused', (options, message) =>
  inFerryFolder(async (folder) => {
    const { code, out, err } = await leeshore(folder, 'compare', file, ...options);
    expect([code, out]).toEqual([2, '']);
    expect(err).toContain(message);
  }),
);
