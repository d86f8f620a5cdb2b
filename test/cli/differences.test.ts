import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { describe, expect, test } from '@jest/globals';
import { Ajv2020 } from 'ajv/dist/2020.js';
import type { ComparisonJson } from '../../src/comparing/reports/comparison-json.js';
import { root } from '../helpers.js';
import { inFolder, leeshore } from './run.js';

const schema = `leeshore: 1
stores:
  ramp:
    state:
      angle: { type: number, minimum: 0, maximum: 30, default: 0 }
      marks: { list: string }
      note: { type: string, default: '' }
    derived:
      share: "angle / 30"
    actions:
      raise:
        payload: { type: integer, minimum: 0, maximum: 30 }
        steps: [{ set: { angle: "payload" } }]
      mark: { payload: string, steps: [{ append: { to: marks, value: "payload" } }] }
      write: { payload: string, steps: [{ set: { note: "payload" } }] }
      clear: [{ reset: [angle, marks, note] }]
`;

/** Old stores with three mistakes: marks in the wrong order, notes in capitals, one field that is not cleared. */
const old = (more = '', share = 'ramp.angle / 30') => `export default {
  name: 'old ramp',
  ${more}
  create() {
    let ramp = { angle: 0, marks: [], note: '' };
    return {
      actions: { ramp: {
        raise(angle) { ramp = { ...ramp, angle }; return true; },
        mark(text) { ramp = { ...ramp, marks: [text, ...ramp.marks] }; return true; },
        write(note) { ramp = { ...ramp, note: note.toUpperCase() }; return true; },
        clear() { ramp = { ...ramp, marks: [], note: '' }; return true; },
      } },
      state: { ramp: { angle: () => ramp.angle, marks: () => ramp.marks, note: () => ramp.note } },
      derived: { ramp: { share: () => ${share} } },
    };
  },
};
`;

const known = `known: [
    { what: 'state', at: '/ramp/marks', reason: 'New marks came first' },
    { what: 'state', at: '/ramp/note', action: 'ramp.write', reason: 'Notes were in capitals' },
    { what: 'state', at: '/ramp/angle', action: 'ramp.clear', reason: 'Nobody cleared the angle' },
    { what: 'derived', at: '/ramp/share', reason: 'It follows from the angle' },
  ],`;

const compare = ['compare', 'ramp.stores.yaml', '--with', 'old.mjs', '--style', 'none'];

const withOld = (participant: string, work: (folder: string) => Promise<void>) =>
  inFolder(async (folder) => {
    writeFileSync(join(folder, 'ramp.stores.yaml'), schema);
    writeFileSync(join(folder, 'old.mjs'), participant);
    await work(folder);
  });

const resultOf = (out: string) => JSON.parse(out) as ComparisonJson;

describe('several differences at once', () => {
  test('are told one by one, each of another cause, shrunk, and saved', () =>
    withOld(old(), async (folder) => {
      const { code, out } = await leeshore(
        folder,
        ...compare,
        '--differences',
        '5',
        '--steps',
        '20000',
      );
      expect(code).toBe(1);
      expect(out).toContain('3 differences of different causes');
      expect(out).toMatch(/Difference 1 of 3, shown by \d+ scripts?/);
      for (const after of ['step 2 (ramp.mark)', 'step 1 (ramp.write)', 'step 2 (ramp.clear)'])
        expect(out).toContain(`old ramp differs from the reference after ${after}.`);
      for (const path of ['ramp.seed-1.script.json', 'ramp.seed-1-3.script.json'])
        expect(existsSync(join(folder, path))).toBe(true);
      const replayed = await leeshore(folder, ...compare, '--script', 'ramp.seed-1-3.script.json');
      expect(replayed.code).toBe(1);
    }));

  test('stand in the JSON and in the JUnit report', () =>
    withOld(old(), async (folder) => {
      const more = ['--differences', '3', '--json', '--junit', 'compare.xml'];
      const { code, out } = await leeshore(folder, ...compare, ...more);
      expect(code).toBe(1);
      const result = resultOf(out);
      const all = [result.difference, ...result.alsoFound];
      expect(all.map((one) => one?.action).sort()).toEqual([
        'ramp.clear',
        'ramp.mark',
        'ramp.write',
      ]);
      expect(all.every((one) => (one?.scripts ?? 0) > 0 && one?.savedAs !== null)).toBe(true);
      const format = JSON.parse(
        readFileSync(new URL('schema/comparison-1.schema.json', root), 'utf8'),
      ) as object;
      const validate = new Ajv2020({ strict: false, validateFormats: false }).compile(format);
      expect([validate(result), validate.errors]).toEqual([true, null]);
      const junit = readFileSync(join(folder, 'compare.xml'), 'utf8');
      expect(junit).toContain('tests="3" failures="3"');
      expect(junit).toContain('(difference 3)');
    }));

  test('of one only the first is told, as long as nobody asks for more', () =>
    withOld(old(), async (folder) => {
      const { out } = await leeshore(folder, ...compare, '--json');
      expect(resultOf(out).alsoFound).toEqual([]);
      const { code, err } = await leeshore(folder, ...compare, '--differences', '0');
      expect([code, err]).toEqual([
        2,
        expect.stringContaining('--differences takes a whole number'),
      ]);
    }));
});

describe('known differences', () => {
  test('are counted and passed over, each with its reason', () =>
    withOld(old(known), async (folder) => {
      const { code, out } = await leeshore(folder, ...compare, '--steps', '3000');
      expect([code, out.split('\n')[0]]).toEqual([
        0,
        expect.stringMatching(/^no difference between 2 participants in [\d,]+ steps/),
      ]);
      expect(out).toMatch(/state at \/ramp\/marks: New marks came first \(seen [\d,]+ times\)/);
    }));

  test('that are gone are told', () => {
    const gone = "known: [{ what: 'notices', reason: 'Long ago' }],";
    const right = old(gone)
      .replace('[text, ...ramp.marks]', '[...ramp.marks, text]')
      .replace('note.toUpperCase()', 'note')
      .replace("{ ...ramp, marks: [], note: '' }", "{ angle: 0, marks: [], note: '' }");
    return withOld(right, async (folder) => {
      const { code, out } = await leeshore(folder, ...compare, '--steps', '500');
      expect([code, out]).toEqual([
        0,
        expect.stringContaining('notices: Long ago (never seen: it may be gone)'),
      ]);
    });
  });

  test('hide nothing else', () =>
    withOld(old(known.replace(/.*capitals.*\n/, '')), async (folder) => {
      const { code, out } = await leeshore(folder, ...compare, '--json');
      const { difference, participants } = resultOf(out);
      expect([code, difference?.at]).toEqual([1, '/ramp/note']);
      expect(participants[1]?.known[0]).toMatchObject({ what: 'state', at: '/ramp/marks' });
    }));

  test.each([
    ['without a reason', "known: [{ what: 'state' }],", "difference 1 of 'known' has no 'reason'"],
    [
      'of no class',
      "known: [{ what: 'colour', reason: 'x' }],",
      "'what' of difference 1 of 'known' is none of outcome",
    ],
    ['that are no objects', 'known: [null],', "difference 1 of 'known' is no object"],
    ['at no place', "known: [{ what: 'state', at: 'ramp', reason: 'x' }],", 'is no JSON Pointer'],
    [
      'at a place that is no text',
      "known: [{ what: 'state', at: 7, reason: 'x' }],",
      'is no JSON Pointer',
    ],
    [
      'of no action',
      "known: [{ what: 'state', action: 'ramp.rais', reason: 'x' }],",
      "did you mean 'ramp.raise'?",
    ],
    ['a tolerance of no field', "tolerance: { 'ramp.shar': 1 },", "did you mean 'ramp.share'?"],
    ['a tolerance that is no number', "tolerance: 'little',", "'tolerance' is no number from 0"],
  ])('%s are refused', (_, more, message) =>
    withOld(old(more), async (folder) => {
      const { code, err } = await leeshore(folder, ...compare);
      expect([code, err]).toEqual([2, expect.stringContaining(message)]);
      expect(err).not.toContain('    at ');
    }),
  );
});

test('numbers may be off by a tolerance', () => {
  const rounding = old(
    `${known}\n  tolerance: { 'ramp.share': 0.005 },`,
    'Math.round(ramp.angle / 30 * 100) / 100',
  );
  return withOld(rounding.replace(/.*follows.*\n/, ''), async (folder) => {
    const raising = join(folder, 'raise.script.json');
    const steps = [{ send: 'ramp.raise', payload: 10 }];
    writeFileSync(raising, JSON.stringify({ leeshoreScript: 1, schema: '', seed: 1, steps }));
    const { code, out } = await leeshore(folder, ...compare, '--script', 'raise.script.json');
    expect([code, out]).toEqual([0, expect.stringContaining('ramp.share by 0.005 or less')]);
  });
});

test("--style none needs stores of one's own", () =>
  withOld(old(), async (folder) => {
    const { code, err } = await leeshore(folder, 'compare', 'ramp.stores.yaml', '--style', 'none');
    expect([code, err]).toEqual([
      2,
      expect.stringContaining('--style none leaves nothing to compare'),
    ]);
  }));
