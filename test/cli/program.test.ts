import { existsSync, mkdirSync, readdirSync, readFileSync, statSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { describe, expect, test } from '@jest/globals';
import { Ajv2020 } from 'ajv/dist/2020.js';
import { parse } from 'yaml';
import { untimed } from '../../scripts/shots.mjs';
import { ferryText, root } from '../helpers.js';
import { inFolder, interrupted, leeshore, leeshoreWith } from './run.js';

const file = 'ferry.stores.yaml';

/** A temporary folder with the ferry schema in it. */
function inFerryFolder(test: (folder: string) => Promise<void>): Promise<void> {
  return inFolder((folder) => {
    writeFileSync(join(folder, file), ferryText);
    return test(folder);
  });
}

describe('the program', () => {
  test('says its version, and explains itself and each command with an example', () =>
    inFolder(async (folder) => {
      expect(await leeshore(folder, '--version')).toMatchObject({
        code: 0,
        out: expect.stringMatching(/^\d+\.\d+\.\d+\n$/),
        err: '',
      });
      for (const args of [
        ['--help'],
        ['check', '--help'],
        ['generate', '--help'],
        ['compare', '--help'],
        ['demo', '--help'],
        ['schema', '--help'],
      ]) {
        const { code, out } = await leeshore(folder, ...args);
        expect(code).toBe(0);
        expect(out).toContain('Examples:');
      }
    }));

  test.each([
    [['chek', file], "Did you mean 'check'?"],
    [['check', 'nowhere.yaml'], 'There is no file nowhere.yaml.'],
    [['check', file, '--loud'], "Unknown option '--loud'."],
    [['generate', file, '--style', 'bloc'], "There is no style 'bloc'."],
    [['generate', file, '--out'], '--out needs a value.'],
    [['compare', file, '--junit', '.'], '. is a folder.'],
    [['compare', file, '--steps', 'many'], '--steps takes a whole number'],
    [['compare', file, '--generated', 'nowhere'], 'There are no generated stores'],
    [['compare', file, '--script', file], 'is not a script'],
  ])('refuses %j in two lines, without a stack trace', (args, message) =>
    inFerryFolder(async (folder) => {
      const { code, out, err } = await leeshore(folder, ...args);
      expect(code).toBe(2);
      expect(out).toBe('');
      expect(err).toContain(message);
      expect(err.trim().split('\n').length).toBeLessThanOrEqual(2);
    }),
  );
});

describe('check', () => {
  test('says what is in a schema', () =>
    inFerryFolder(async (folder) => {
      const { code, out, err } = await leeshore(folder, 'check', file);
      expect([code, err]).toEqual([0, '']);
      expect(out).toContain('Skerry Sound ferry terminal');
      expect(out).toContain('derived  onBoard, waiting, usedM');
      expect(out).not.toContain('\u001b[');
    }));

  test('shows problems with their place, line and hint, and exits 1', () =>
    inFolder(async (folder) => {
      writeFileSync(join(folder, file), ferryText.replace('v => v.boarded)', 'v => v.borded)'));
      const { code, out } = await leeshore(folder, 'check', file);
      expect(code).toBe(1);
      expect(out).toContain(`${file}:53:40: error [no-such-property]`);
      expect(out).toContain('53 |       onBoard: "vehicles.filter(v => v.borded)"');
      expect(out).toContain("hint: Did you mean 'boarded'?");
      expect(out).toContain(`1 error in ${file}`);
    }));

  test('--json is one value with lines and columns', () =>
    inFolder(async (folder) => {
      writeFileSync(join(folder, file), ferryText.replace('full && !wind', 'ful && !wind'));
      const { code, out } = await leeshore(folder, 'check', file, '--json');
      expect(code).toBe(1);
      expect(JSON.parse(out)).toMatchObject({
        fine: false,
        files: [file],
        problems: [
          {
            code: 'unknown-name',
            line: 64,
            column: 36,
            endColumn: 39,
            hint: "Did you mean 'full'?",
          },
        ],
      });
    }));
});

describe('schema', () => {
  test('prints the JSON Schema of the format, which is valid and accepts the example', () =>
    inFerryFolder(async (folder) => {
      const { code, out } = await leeshore(folder, 'schema');
      expect(code).toBe(0);
      const ajv = new Ajv2020({ strictTypes: false });
      expect(ajv.validateSchema(JSON.parse(out) as object)).toBe(true);
      expect(ajv.compile(JSON.parse(out) as object)(parse(ferryText))).toBe(true);
    }));

  test('--types prints the types with the short forms written out', () =>
    inFerryFolder(async (folder) => {
      const { code, out } = await leeshore(folder, 'schema', '--types', file);
      expect(code).toBe(0);
      const document = JSON.parse(out) as object;
      expect(document).toMatchObject({
        $schema: 'https://json-schema.org/draft/2020-12/schema',
        types: {
          Lane: { enum: ['port', 'centre', 'starboard'] },
          Vehicle: {
            properties: { lane: { $ref: '#/types/Lane' } },
            required: ['id', 'plate', 'lengthM', 'lane', 'boarded'],
          },
        },
      });
      const fits = new Ajv2020({ strict: false }).compile({ ...document, $ref: '#/types/Vehicle' });
      const vehicle = { id: 'a', plate: 'SK 4', lengthM: 4, lane: 'port', boarded: false };
      expect([
        fits(vehicle),
        fits({ ...vehicle, lane: 'bow' }),
        fits({ ...vehicle, wheels: 4 }),
      ]).toEqual([true, false, false]);
    }));
});

describe('generate', () => {
  test('writes a folder for each style, and leaves unchanged files alone the second time', () =>
    inFerryFolder(async (folder) => {
      expect((await leeshore(folder, 'generate', file, '--out', 'src/stores')).code).toBe(0);
      expect(readdirSync(join(folder, 'src/stores')).toSorted()).toEqual([
        'atom',
        'observable',
        'proxy',
        'reducer',
      ]);
      const path = join(folder, 'src/stores/atom/stores/deck.ts');
      const { mtimeMs } = statSync(path);
      const { out } = await leeshore(folder, 'generate', file, '--out', 'src/stores');
      expect(out).toMatch(/^src\/stores\/reducer +\d+ unchanged$/m);
      expect(statSync(path).mtimeMs).toBe(mtimeMs);
    }));

  test('takes away the files of a store that is gone, and no others', () =>
    inFerryFolder(async (folder) => {
      await leeshore(folder, 'generate', file, '--style', 'atom');
      writeFileSync(join(folder, 'stores/atom/mine.ts'), 'export const mine = 1;\n');
      writeFileSync(join(folder, file), ferryText.slice(0, ferryText.indexOf('  berth:')));
      const { out } = await leeshore(folder, 'generate', file, '--style', 'atom');
      expect(out).toMatch(/\d removed/);
      expect(existsSync(join(folder, 'stores/atom/stores/berth.ts'))).toBe(false);
      expect(existsSync(join(folder, 'stores/atom/mine.ts'))).toBe(true);
    }));

  test.each([
    ['changed by hand', (text: string) => text.replace('export function', 'export  function')],
    ['not ours', () => 'export const index = 1;\n'],
  ])('never overwrites a file that is %s, and then writes nothing at all', (why, change) =>
    inFerryFolder(async (folder) => {
      await leeshore(folder, 'generate', file, '--style', 'atom');
      const path = join(folder, 'stores/atom/index.ts');
      const changed = change(readFileSync(path, 'utf8'));
      writeFileSync(path, changed);
      writeFileSync(
        join(folder, file),
        ferryText
          .replace('default: 240', 'default: 100')
          .replace('title: Skerry', 'title: The Skerry'),
      );
      const { code, err } = await leeshore(folder, 'generate', file);
      expect(code).toBe(2);
      expect(err).toContain(`stores/atom/index.ts (${why})`);
      expect(readFileSync(path, 'utf8')).toBe(changed);
      expect(readFileSync(join(folder, 'stores/atom/stores/deck.ts'), 'utf8')).toContain(
        '"deck.capacityM", 240',
      );
      expect(existsSync(join(folder, 'stores/reducer'))).toBe(false);
    }),
  );

  test('writes nothing for a schema with problems', () =>
    inFolder(async (folder) => {
      writeFileSync(join(folder, file), ferryText.replace('v.boarded)', 'v.borded)'));
      const { code, out, err } = await leeshore(folder, 'generate', file);
      expect([code, out]).toEqual([1, '']);
      expect(err).toContain('[no-such-property]');
      expect(existsSync(join(folder, 'stores'))).toBe(false);
    }));

  test('says so where it cannot write', () =>
    inFerryFolder(async (folder) => {
      writeFileSync(join(folder, 'stores'), 'a file in the way');
      const { code, err } = await leeshore(folder, 'generate', file);
      expect(code).toBe(2);
      expect(err).toContain('hint: Choose another');
    }));
});

describe('compare', () => {
  test('finds no difference, and says how far it looked', () =>
    inFerryFolder(async (folder) => {
      const { code, out } = await leeshore(folder, 'compare', file, '--steps', '300');
      expect(code).toBe(0);
      expect(out).toMatch(/^no difference in 300 steps; \d+ of 204 outcomes never reached\.\n/);
      expect(out).toMatch(/\d{3} steps(, \d+ of them)? in \d+ scripts?, .* steps\/s, seed 1/);
      expect(out).toContain(
        'Compared in random scripts after every step: outcome, state, derived, notices, problems; identity, snapshots after every 6th.',
      );
      expect(out).toContain('never reached:');
      const more = await leeshore(folder, 'compare', file, '--steps', '3000');
      expect(more.out).toMatch(/^no difference (between 5 participants )?in [\d,]+ steps/);
      expect(more.out).toMatch(/berth +\d+ inputs in 4 states: nothing left to try/);
      expect(more.out).toMatch(
        /berth +\d+ inputs after \d+ sequences: every sequence of \d inputs/,
      );
    }));

  test('what is ignored is not compared, and the report says so', () =>
    inFerryFolder(async (folder) => {
      await leeshore(folder, 'generate', file, '--style', 'atom');
      const path = join(folder, 'stores/atom/runtime/watchers.ts');
      writeFileSync(path, readFileSync(path, 'utf8').replace('changed(last, before);', ''));
      const args = ['compare', file, '--generated', 'stores', '--steps', '300'];
      expect((await leeshore(folder, ...args, '--save', 'found.json')).code).toBe(1);
      const { code, out } = await leeshore(folder, ...args, '--ignore', 'notices');
      expect(code).toBe(0);
      expect(out).toContain('Not compared, as asked: notices.');
      const odd = await leeshore(folder, ...args, '--ignore', 'colours');
      expect([odd.code, odd.err.split('\n')[0]]).toEqual([
        2,
        "leeshore: Nothing called 'colours' is compared.",
      ]);
    }));

  test('where something else stands nothing is saved, and nothing is written over', () =>
    inFerryFolder(async (folder) => {
      await leeshore(folder, 'generate', file, '--style', 'atom');
      const path = join(folder, 'stores/atom/stores/deck.ts');
      writeFileSync(path, readFileSync(path, 'utf8').replace('hold.set(payload);\n', '\n'));
      const args = ['compare', file, '--generated', 'stores'];
      const { code, out, err } = await leeshore(folder, ...args, '--save', file);
      expect([code, out]).toEqual([2, '']);
      expect(err).toContain(`${file} is there already, and is no script.`);
      // Another script stays as well: the new one gets a number.
      writeFileSync(join(folder, 'a.json'), '{ "leeshoreScript": 1, "steps": [] }');
      const saved = await leeshore(folder, ...args, '--save', 'a.json');
      expect(saved.code).toBe(1);
      expect(saved.out).toContain('Saved as:      a-2.json');
      const report = await leeshore(folder, ...args, '--junit', file);
      expect([report.code, report.out]).toEqual([2, '']);
      expect(report.err).toContain(`${file} is there already, and no report of leeshore.`);
      expect(readFileSync(join(folder, file), 'utf8')).toBe(ferryText);
    }));

  test('for a CI server: what has to be reached, and JUnit XML', () =>
    inFerryFolder(async (folder) => {
      const args = ['compare', file, '--style', 'atom', '--steps', '200', '--junit', 'out.xml'];
      const { code, out } = await leeshore(folder, ...args, '--require-coverage', '100');
      expect(code).toBe(1);
      expect(out).toMatch(/Reached \d\d\.\d % of what can happen; 100 % are required\./);
      const xml = readFileSync(join(folder, 'out.xml'), 'utf8');
      expect(xml).toContain('name="atom behaves as the reference" />');
      expect(xml).toContain('name="at least 100 % of what can happen is reached"');
      expect((await leeshore(folder, ...args, '--require-coverage', '10')).code).toBe(0);
    }));

  test('finds a line that is gone from a generated store, saves the script, and replays it', () =>
    inFerryFolder(async (folder) => {
      await leeshore(folder, 'generate', file, '--style', 'atom');
      const path = join(folder, 'stores/atom/stores/deck.ts');
      writeFileSync(path, readFileSync(path, 'utf8').replace('hold.set(payload);\n', '\n'));
      const found = await leeshore(folder, 'compare', file, '--generated', 'stores');
      expect(found.code).toBe(1);
      expect(found.out).toContain('atom differs from the reference after step 1 (deck.holdFor).');
      expect(found.out).toContain('Saved as:      ferry.seed-1.script.json');
      const replayed = await leeshore(
        folder,
        'compare',
        file,
        '--generated',
        'stores',
        '--script',
        'ferry.seed-1.script.json',
        '--json',
      );
      expect(replayed.code).toBe(1);
      expect(JSON.parse(replayed.out)).toMatchObject({
        verdict: 'different',
        end: 'script',
        difference: {
          participant: 'atom',
          action: 'deck.holdFor',
          what: 'state',
          at: '/deck/hold',
          expected: '',
          actual: null,
        },
      });
    }));

  test('the same seed gives the same JSON, times aside', () =>
    inFerryFolder(async (folder) => {
      const json = async () =>
        (
          await leeshore(folder, 'compare', file, '--steps', '300', '--seed', '9', '--json')
        ).out.replace(/"tookMs": \d+/, '');
      expect(await json()).toBe(await json());
    }));

  test('says which generated file cannot be loaded', () =>
    inFerryFolder(async (folder) => {
      await leeshore(folder, 'generate', file, '--style', 'proxy');
      writeFileSync(join(folder, 'stores/proxy/stores/wind.ts'), 'export const {');
      const { code, err } = await leeshore(folder, 'compare', file, '--generated', 'stores/proxy');
      expect(code).toBe(2);
      expect(err).toContain('stores/wind.ts cannot be loaded');
    }));
});

test('demo walks through the whole job, as its picture shows it, and leaves nothing behind', () =>
  inFolder(async (folder) => {
    const { code, out, err } = await leeshoreWith(folder, { env: { TMPDIR: folder } }, 'demo');
    expect([code, err]).toEqual([0, '']);
    const picture = readFileSync(new URL('docs/screenshots/demo.txt', root), 'utf8');
    // The picture ends where the terminal does.
    const [, ...lines] = picture.trimEnd().split('\n');
    expect(lines.length).toBeGreaterThan(30);
    expect(untimed(out).split('\n').slice(0, lines.length)).toEqual(lines);
    expect(out).toContain('5. And work that takes its time?');
    expect(readdirSync(folder)).toEqual([]);
  }));

test('demo --port moves a page to the new stores until nothing is left, and leaves nothing behind', () =>
  inFolder(async (folder) => {
    const given = { env: { TMPDIR: folder } };
    const { code, out, err } = await leeshoreWith(folder, given, 'demo', '--port');
    expect([code, err]).toEqual([0, '']);
    const verdicts = out
      .split('\n')
      .filter((line) => /^(different|no diff|left|nothing)/.test(line));
    expect(verdicts).toEqual([
      'different  old terminal differs from the reference after step 1 (deck.stretch).',
      expect.stringMatching(
        /^no difference (between 3 participants )?in [\d,]+ steps; .* branches of old terminal never reached\.$/,
      ),
      'left  0 of 13 places moved; 13 left in 4 modules of 4.',
      'left  5 of 12 places moved; 7 left in 3 modules of 4.',
      'left  12 of 13 places moved; 1 left in 1 module of 4.',
      'nothing left  No place of 4 modules uses the old store.',
    ]);
    expect(readdirSync(folder)).toEqual([]);
  }));

test('demo that is interrupted leaves nothing behind', () =>
  inFolder(async (folder) => {
    const { code } = await interrupted(folder, () => readdirSync(folder).length > 0, 'demo');
    expect([code, readdirSync(folder)]).toEqual([130, []]);
  }));

test('a folder in place of a schema, or a path below a file, is refused', () =>
  inFerryFolder(async (folder) => {
    mkdirSync(join(folder, 'empty'));
    expect((await leeshore(folder, 'compare', 'empty')).code).toBe(2);
    expect((await leeshore(folder, 'check', `${file}/x`)).code).toBe(2);
  }));
