import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { expect, test } from '@jest/globals';
import type { Weighing } from '../../src/weigh/weigh-result.js';
import { expectValid } from './published.js';
import { inFolder, leeshore } from './run.js';

const file = 'pier.stores.yaml';
const pier = `leeshore: 1
stores:
  wind:
    state: { speed: { type: number, default: 0 } }
    actions: { measure: { payload: number, steps: [{ set: { speed: payload } }] } }
  berth:
    value: { type: integer, default: 0 }
    actions: { moor: { payload: integer, steps: [{ set: { value: payload } }] } }
`;

const inPier = (run: (folder: string) => Promise<void>) =>
  inFolder(async (folder) => {
    writeFileSync(join(folder, file), pier);
    await run(folder);
  });

test('weigh tells the size of each style, of its parts, and with other options', () =>
  inPier(async (folder) => {
    const args = ['--readers', 'vue,react', '--against', 'old.js', '--json'];
    writeFileSync(
      join(folder, 'old.js'),
      "import { speed } from './part.js';\nexport const wind = { speed };\n",
    );
    writeFileSync(join(folder, 'part.js'), 'export const speed = 0;\nexport const unused = 1;\n');
    const { code, out } = await leeshore(folder, 'weigh', file, ...args);
    expect(code).toBe(0);
    const weighing = JSON.parse(out) as Weighing;
    expectValid('weight', out);
    expect(weighing.styles.map(({ style }) => style)).toEqual([
      'reducer',
      'atom',
      'proxy',
      'observable',
    ]);
    for (const {
      minified,
      gzipped,
      runtime,
      stores,
      variants,
      readers,
      lines,
    } of weighing.styles) {
      const parts = runtime + Object.values(stores).reduce((sum, bytes) => sum + bytes, 0);
      expect(parts).toBeLessThanOrEqual(minified);
      expect(parts).toBeGreaterThan(minified * 0.85);
      expect(gzipped).toBeLessThan(minified * 0.6);
      expect(Object.keys(stores)).toEqual(['wind', 'berth']);
      expect(variants['--checks never'].gzipped).toBeLessThan(gzipped);
      expect(Object.keys(readers)).toEqual(['react', 'vue']);
      expect(readers['vue']?.gzipped).toBeLessThanOrEqual(600);
      expect(lines).toBeGreaterThan(500);
    }
    // What the old store imports counts, and what nobody uses of that does not.
    expect(weighing.against).toMatchObject({ path: 'old.js', minified: expect.any(Number) });
    expect(weighing.against?.minified).toBeLessThan(60);
  }));

test('weigh --max-size is for CI, and weigh says in text what is too heavy', () =>
  inPier(async (folder) => {
    const weigh = (...args: readonly string[]) =>
      leeshore(folder, 'weigh', file, '--style', 'atom', ...args);
    const fine = await weigh('--max-size', '20kB');
    expect([fine.code, fine.out]).toEqual([
      0,
      expect.stringContaining('within the limit  atom 5.7 kB gzipped, at most 20.0 kB.'),
    ]);
    const heavy = await weigh('--max-size', '1000');
    expect([heavy.code, heavy.out]).toEqual([
      1,
      expect.stringContaining('too heavy  atom: more than 1.0 kB (atom 5.7 kB gzipped).'),
    ]);
    for (const [limit, message] of [
      ['much', "--max-size takes a size, and 'much' is none."],
      ['9 stone', '--max-size takes a size'],
    ] as const)
      expect(await weigh('--max-size', limit)).toMatchObject({
        code: 2,
        err: expect.stringContaining(message),
      });
    expect(await weigh('--against', 'none.ts')).toMatchObject({
      code: 2,
      err: expect.stringContaining('There is no file none.ts.'),
    });
    writeFileSync(join(folder, 'old.ts'), "import './nowhere';\n");
    expect(await weigh('--against', 'old.ts')).toMatchObject({
      code: 2,
      err: expect.stringContaining(
        'old.ts cannot be bundled: old.ts:1: Could not resolve "./nowhere".',
      ),
    });
  }));

test('weigh tells the shares of stores in one file as in many', () =>
  inPier(async (folder) => {
    const sharesOf = async (layout: string) => {
      const args = ['--style', 'proxy', '--layout', layout, '--json'];
      const { out } = await leeshore(folder, 'weigh', file, ...args);
      const { styles } = JSON.parse(out) as Weighing;
      return styles.map(({ runtime, stores }) => ({ runtime, stores }));
    };
    const [many] = await sharesOf('files');
    expect(many?.stores['wind']).toBeGreaterThan(100);
    expect(await sharesOf('one-file')).toEqual([many]);
  }));
