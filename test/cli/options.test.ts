import { existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { describe, expect, test } from '@jest/globals';
import { ferryText } from '../helpers.js';
import { inFolder, leeshore, leeshoreWith } from './run.js';

const file = 'ferry.stores.yaml';

function inFerryFolder(test: (folder: string) => Promise<void>): Promise<void> {
  return inFolder((folder) => {
    writeFileSync(join(folder, file), ferryText);
    return test(folder);
  });
}

describe('several files', () => {
  test('are one schema; a problem in one of them is shown with its file', () =>
    inFolder(async (folder) => {
      writeFileSync(join(folder, file), ferryText);
      writeFileSync(
        join(folder, 'pier.stores.yaml'),
        'leeshore: 1\nstores: { pier: { state: { n: number } } }',
      );
      const both = await leeshore(folder, 'check', file, 'pier.stores.yaml');
      expect(both.code).toBe(1);
      expect(both.out).toContain('pier.stores.yaml:2:28: error [no-default]');
      expect((await leeshore(folder, 'check', file, file)).code).toBe(0);
    }));

  test('of a folder are all schemas in it; one without any says so', () =>
    inFolder(async (folder) => {
      mkdirSync(join(folder, 'a/b'), { recursive: true });
      const none = await leeshore(folder, 'check', 'a');
      expect([none.code, none.err]).toEqual([
        2,
        expect.stringContaining('There is no schema in a.\n  hint: Schemas end in .stores.yaml'),
      ]);
      writeFileSync(join(folder, 'a/b/ferry.stores.yaml'), ferryText);
      const { code, out } = await leeshore(folder, 'check', 'a');
      expect([code, out]).toEqual([0, expect.stringMatching(/^fine {2}a\/b\/ferry\.stores\.yaml/)]);
    }));

  test('with bytes that are no UTF-8 are refused with the place, and stay as they are', () =>
    inFolder(async (folder) => {
      const bytes = Buffer.concat([Buffer.from('leeshore: 1 # caf'), Buffer.from([0xe9, 10])]);
      writeFileSync(join(folder, file), bytes);
      for (const command of ['check', 'format', 'generate']) {
        const { code, err } = await leeshore(folder, command, file);
        expect([code, err]).toEqual([2, expect.stringContaining('is not UTF-8: byte 17')]);
      }
      expect(readFileSync(join(folder, file))).toEqual(bytes);
    }));

  test('that are large and no schemas are refused at once', () =>
    inFolder(async (folder) => {
      const line = `{"do":"x","at":1,"text":"a: b # c, [d] ${'word: '.repeat(400)}"}`;
      writeFileSync(join(folder, 'some.jsonl'), `${line}\n`.repeat(60));
      const { code, out, err } = await leeshore(folder, 'check', 'some.jsonl');
      expect([code, err]).toEqual([1, '']);
      expect(out.length).toBeLessThan(20_000);
    }));

  test('of other forms are read too: JSON, a byte order mark, line ends of other systems', () =>
    inFolder(async (folder) => {
      const schema = {
        leeshore: 1,
        stores: { pier: { state: { n: { type: 'number', default: 0 } } } },
      };
      writeFileSync(join(folder, 'a.json'), JSON.stringify(schema));
      writeFileSync(join(folder, 'b.yaml'), `\uFEFF${ferryText}`);
      writeFileSync(join(folder, 'c.yaml'), ferryText.replaceAll('\n', '\r\n'));
      for (const name of ['a.json', 'b.yaml', 'c.yaml'])
        expect((await leeshore(folder, 'check', name)).code).toBe(0);
    }));
});

describe('generated folders', () => {
  test('are the same whatever the folder and the path of the schema', () =>
    inFerryFolder(async (folder) => {
      await leeshore(folder, 'generate', file, '--out', 'a', '--style', 'atom');
      await leeshore(folder, 'generate', join(folder, file), '--out', 'b', '--style', 'atom');
      const text = (out: string) => readFileSync(join(folder, out, 'atom/stores/deck.ts'), 'utf8');
      expect(text('a')).toBe(text('b'));
    }));

  test('that were written with other line ends still count as generated', () =>
    inFerryFolder(async (folder) => {
      await leeshore(folder, 'generate', file, '--style', 'atom');
      const path = join(folder, 'stores/atom/stores/deck.ts');
      writeFileSync(path, readFileSync(path, 'utf8').replaceAll('\n', '\r\n'));
      const { code, out } = await leeshore(folder, 'generate', file, '--style', 'atom');
      expect([code, out]).toEqual([0, expect.stringContaining('1 written')]);
    }));

  test('of one style can be compared from their own folder', () =>
    inFerryFolder(async (folder) => {
      await leeshore(folder, 'generate', file, '--style', 'proxy', '--out', 'mine');
      const { code, out } = await leeshore(
        folder,
        'compare',
        file,
        '--generated',
        'mine/proxy',
        '--steps',
        '120',
      );
      expect(code).toBe(0);
      expect(out).toContain('no difference in 120 steps');
      expect(out).toContain('as it stands in mine/proxy');
    }));
});

describe('compare', () => {
  test('stops when its time is used up, and says so', () =>
    inFerryFolder(async (folder) => {
      let now = 0;
      const { code, out } = await leeshoreWith(
        folder,
        { clock: () => (now += 10) },
        'compare',
        file,
        '--seconds',
        '0.5',
        '--steps',
        '1000000',
        '--json',
      );
      expect(code).toBe(0);
      expect(JSON.parse(out)).toMatchObject({
        verdict: 'same',
        end: 'time',
        schema: file,
        difference: null,
      });
    }));

  test('--save names the script, and a script with a renamed action is refused', () =>
    inFerryFolder(async (folder) => {
      await leeshore(folder, 'generate', file, '--style', 'reducer');
      const path = join(folder, 'stores/reducer/stores/deck.ts');
      writeFileSync(
        path,
        readFileSync(path, 'utf8').replace('return { ...deck, hold: payload };', 'return deck;'),
      );
      const found = await leeshore(
        folder,
        'compare',
        file,
        '--generated',
        'stores',
        '--save',
        'kept.json',
      );
      expect(found.code).toBe(1);
      expect(found.out).toContain('--script kept.json');
      expect(existsSync(join(folder, 'ferry.seed-1.script.json'))).toBe(false);
      const kept = JSON.parse(readFileSync(join(folder, 'kept.json'), 'utf8')) as object;
      expect(kept).toMatchObject({
        leeshoreScript: 1,
        schema: file,
        seed: 1,
        steps: [{ send: 'deck.holdFor' }],
      });
      writeFileSync(join(folder, file), ferryText.replace('holdFor:', 'stopFor:'));
      const renamed = await leeshore(folder, 'compare', file, '--script', 'kept.json');
      expect(renamed.code).toBe(2);
      expect(renamed.err).toContain('names deck.holdFor, which the schema does not have');
    }));

  test('a schema with problems is not compared', () =>
    inFolder(async (folder) => {
      writeFileSync(
        join(folder, file),
        ferryText.replace('"capacityM - usedM"', '"capacityM - used"'),
      );
      const { code, out, err } = await leeshore(folder, 'compare', file);
      expect([code, out]).toEqual([1, '']);
      expect(err).toContain("There is nothing named 'used' here.");
      expect(err).toContain('1 error');
    }));
});
