import {
  chmodSync,
  cpSync,
  mkdirSync,
  mkdtempSync,
  rmSync,
  symlinkSync,
  writeFileSync,
} from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { root } from '../helpers.js';
import type { Survey } from '../../src/survey/survey-result.js';
import { expectValid } from './published.js';
import { contentOf, inFolder, leeshore } from './run.js';

const old = ['--old', 'old/terminal.ts'];
const all = [...old, '--new', 'old-app/stores', '--with', 'old/terminal.participant.ts'];

/** The old application with the new stores beside it, made once. */
let made: string;
beforeAll(async () => {
  made = mkdtempSync(join(tmpdir(), 'leeshore-old-app-'));
  for (const name of ['ferry.stores.yaml', 'old', 'old-app'])
    cpSync(fileURLToPath(new URL(`examples/skerry/${name}`, root)), join(made, name), {
      recursive: true,
      filter: (path) => !/old-app[\\/]stores$/.test(path),
    });
  const args = ['--style', 'proxy', '--readers', 'react', '--out', 'old-app/stores'];
  expect((await leeshore(made, 'generate', 'ferry.stores.yaml', ...args)).code).toBe(0);
});
afterAll(() => {
  rmSync(made, { recursive: true, force: true });
});

/** A copy of it; with packages, the compilers of frameworks are found there. */
async function inOldApp(
  run: (folder: string) => Promise<void>,
  hasPackages = false,
): Promise<void> {
  await inFolder(async (folder) => {
    cpSync(made, folder, { recursive: true });
    if (hasPackages)
      symlinkSync(
        fileURLToPath(new URL('node_modules', root)),
        join(folder, 'old-app/node_modules'),
      );
    await run(folder);
  });
}

/** The places of the example, as they were found by reading it. */
const places = `
board/Board.vue 7:39 read Terminal.lastGusts
board/Board.vue 8:38 read Terminal.capacity
board/Board.vue 8:58 call Terminal.metresAboard
board/Board.vue 13:21 read Terminal.onHold
board/Board.vue 13:50 read Terminal.onHold
board/Board.vue 16:32 read Terminal.cars
board/Board.vue 16:48 read Car.number
board/Board.vue 16:68 read Car.plate
board/Board.vue 17:14 read Car.plate
board/Board.vue 17:30 read Car.metres
board/Board.vue 18:32 call Terminal.sendAway
board/Board.vue 18:45 read Car.number
board/Board.vue 21:28 write Terminal.windLimit
boarding.ts 5:9 read Terminal.driveOnAll
boarding.ts 9:32 call Terminal.setPlate
boarding.ts 10:14 call Terminal.driveOn
boarding.ts 13:85 whole Terminal
boarding.ts 16:11 read Terminal.onHold
boarding.ts 17:33 call Terminal.hold
boarding.ts 21:14 call Terminal.canBoard
boarding.ts 21:61 read Terminal.onHold
boarding.ts 26:12 write Terminal.capacity
boarding.ts 27:12 write Terminal.cars
boarding.ts 28:18 write Terminal.lanes.metres
deck-plan.tsx 7:39 type Car
deck-plan.tsx 9:18 read Car.number
deck-plan.tsx 9:37 read Car.remark
deck-plan.tsx 10:12 read Car.plate
deck-plan.tsx 10:25 read Car.metres
deck-plan.tsx 15:37 type Terminal
deck-plan.tsx 15:47 type Terminal.capacity
deck-plan.tsx 15:60 type Terminal.onHold
deck-plan.tsx 18:14 read Terminal.capacity
deck-plan.tsx 18:33 read Terminal.onHold
deck-plan.tsx 27:20 whole Terminal
deck-plan.tsx 30:19 read Terminal.cars
deck-plan.tsx 31:32 read Car.state
deck-plan.tsx 33:27 read Car.number
deck-plan.tsx 36:39 call Terminal.sail
describe.js 4:21 read Terminal.windSpeed
describe.js 4:48 read Terminal.windLimit
describe.js 8:17 read Car.plate
describe.js 8:38 read Car.lane
mast.cjs 6:12 call Terminal.gust
officers.ts 7:16 read Terminal.officer
officers.ts 7:34 call Terminal.relieve
officers.ts 8:17 call Terminal.takeOver
officers.ts 18:22 read Terminal.changesOfWatch
officers.ts 18:63 read Terminal.officerSince
queue.ts 5:32 type Car
queue.ts 6:16 read Terminal.cars
queue.ts 6:41 read Car.state
queue.ts 9:25 read Car.plate
queue.ts 9:32 read Car.metres
queue.ts 9:40 read Car.lane
queue.ts 9:48 type Car
queue.ts 13:28 type Car
queue.ts 14:20 read Terminal.cars
queue.ts 14:43 read Car.metres
queue.ts 14:54 read Car.metres
queue.ts 18:14 call Terminal.sendAway
report.ts 5:20 type Car
report.ts 5:24 type Car.lane
report.ts 8:32 type Car
report.ts 8:37 type Car.plate
report.ts 8:47 type Car.metres
report.ts 9:18 type Terminal
report.ts 9:27 type Terminal.onHold
report.ts 14:27 read Terminal.cars
report.ts 14:48 read Terminal.onHold
report.ts 17:70 read Car.metres
screen.ts 10:27 call Terminal.on
screen.ts 10:54 call Terminal.on
screen.ts 23:37 read Terminal.cars
session.ts 7:29 call Terminal
test/queue.test.ts 7:24 call Terminal
test/queue.test.ts 11:12 call Terminal.arrive
test/queue.test.ts 12:18 read Terminal.cars
test/queue.test.ts 13:18 read Terminal.cars
wind-watch.js 9:20 call Terminal.gust
wind-watch.js 10:16 call Terminal.tooWindy
wind-watch.js 10:58 whole Terminal
wind-watch.js 14:28 read Terminal.windSpeed
wind-watch.js 14:55 read Terminal.windLimit
`.trim();

describe('survey', () => {
  test('finds every place of the old application, and no other', () =>
    inOldApp(async (folder) => {
      const before = contentOf(folder);
      const { code, out } = await leeshore(folder, 'survey', 'old-app', ...all, '--json');
      expect(code).toBe(0);
      const survey = JSON.parse(out) as Survey;
      expectValid('survey', out);
      const found = survey.left.map(
        ({ module, line, column, kind, member }) =>
          `${module.replace('old-app/', '')} ${line}:${column} ${kind} ${member}`,
      );
      expect(found.join('\n')).toBe(places);
      expect(survey.unclear.map(({ module, line }) => `${module}:${line}`)).toEqual([
        'old-app/console.ts:11',
        'old-app/console.ts:13',
        'old-app/screen.ts:20',
      ]);
      expect(survey.leftBehind.map(({ module, name }) => `${module} ${name}`)).toEqual([
        'old-app/admit-form.ts terminal',
        'old-app/berth.ts terminal',
        'old-app/berth.ts lastBerth',
      ]);
      expect([survey.slips, survey.notRead, survey.unknownNames]).toEqual([[], [], []]);
      expect(contentOf(folder)).toEqual(before);
    }, true));

  test('tells how far the port is, in text', () =>
    inOldApp(async (folder) => {
      const { code, out } = await leeshore(folder, 'survey', 'old-app', ...all);
      expect(code).toBe(0);
      expect(out).toContain('old-app/admit-form.ts  moved\n');
      expect(out).toContain(
        "  11:12  calls     Terminal.arrive  stores.deck.admit({ plate: 'SK 104', lengthM: 4.5, lane: 'port' })",
      );
      expect(out).toContain('Could not be resolved: look there yourself');
      expect(out).toContain('old-app/board/Board.vue  Vue is not installed here');
      expect(out).toMatch(
        /^left {2}9 of \d+ places moved; \d+ left in 11 modules of 16\.\n3 places could not be resolved\.\n1 file could not be read\.\n\n/,
      );
      const brief = await leeshore(folder, 'survey', 'old-app', ...all, '--brief');
      expect(brief.out).not.toContain('By member');
      expect(brief.out).toContain('Can be deleted');
    }));

  test('--left counts what is left and what nobody can tell', () =>
    inOldApp(async (folder) => {
      const codeOf = async (...args: readonly string[]) =>
        (await leeshore(folder, 'survey', ...args)).code;
      expect(await codeOf('old-app', ...old, '--left', '0')).toBe(1);
      expect(await codeOf('old-app', ...old, '--left', '500')).toBe(0);
      expect(
        await codeOf('old-app/admit-form.ts', 'old-app/session.ts', ...old, '--left', '1'),
      ).toBe(0);
      const { out, code } = await leeshore(
        folder,
        'survey',
        'old-app/berth.ts',
        ...old,
        '--left',
        '0',
      );
      expect([code, out]).toEqual([
        0,
        expect.stringContaining('nothing left  No place of 1 module uses'),
      ]);
    }));

  test('slips at the new stores are findings, and SARIF tells them', () =>
    inOldApp(async (folder) => {
      writeFileSync(
        join(folder, 'old-app/slip.js'),
        "import { stores } from './stores.ts';\nexport const go = () => stores.deck.bord('v1');\n",
      );
      const text = await leeshore(folder, 'survey', 'old-app', ...all, '--brief');
      expect(text.code).toBe(1);
      expect(text.out).toContain(
        "old-app/slip.js:2:37  unknown-name  There is no 'bord' in 'deck'. Did you mean 'board'?",
      );
      const { code, out } = await leeshore(folder, 'survey', 'old-app', ...all, '--sarif');
      const { runs } = JSON.parse(out) as {
        runs: { results: { ruleId: string; level: string; locations: object[] }[] }[];
      };
      const errors = runs[0]?.results.filter(({ level }) => level === 'error') ?? [];
      expect([code, errors.length, errors[0]?.ruleId]).toEqual([1, 1, 'unknown-name']);
      expect(errors[0]?.locations[0]).toEqual({
        physicalLocation: {
          artifactLocation: { uri: 'old-app/slip.js' },
          region: { startLine: 2, startColumn: 37 },
        },
      });
    }));

  test('what cannot be used is told in a line, with a way out', () =>
    inOldApp(async (folder) => {
      mkdirSync(join(folder, 'empty'));
      writeFileSync(
        join(folder, 'odd.participant.ts'),
        'const names = {};\nexport default { name: "odd", names };\n',
      );
      const cases: readonly (readonly [readonly string[], string])[] = [
        [['nowhere', ...old], 'There is no file or folder nowhere.'],
        [['empty', ...old], 'There is no module in empty.'],
        [['old-app/*.zig', ...old], 'No module matches old-app/*.zig.'],
        [['old-app', '--old', 'old/terminl.ts'], 'There is no file old/terminl.ts.'],
        [['old-app', '--old', 'old'], 'old is a folder.'],
        [['old-app', ...old, '--new', 'old'], 'old has no generated stores.'],
        [['old-app', ...old, '--left', '-1'], '--left takes a whole number from 0.'],
        [['old-app', ...old, '--sarif', '--brief'], '--sarif and --brief do not go together.'],
        [
          ['old-app', ...old, '--with', 'odd.participant.ts'],
          "odd.participant.ts:2:31: 'names' is not written out as an object.",
        ],
        [['old-app'], '--old is missing: leeshore survey <sources..>.'],
      ];
      for (const [args, message] of cases) {
        const { code, out, err } = await leeshore(folder, 'survey', ...args);
        expect([code, out, err]).toEqual([2, '', expect.stringContaining(message)]);
        expect(err).not.toContain('    at ');
      }
    }));

  test('what cannot be read as a whole is told by name and is a finding; the rest is surveyed, linked folders once', () =>
    inFolder(async (folder) => {
      const write = (name: string, text: string) => {
        writeFileSync(join(folder, name), text);
      };
      mkdirSync(join(folder, 'app/more'), { recursive: true });
      write('rink.ts', 'export const rink = { ice: 1, skate(by: number) { this.ice -= by; } };');
      const use = "import { rink } from '../rink.js'; ";
      write('app/a.ts', `${use}rink.skate(1);`);
      write('app/broken.ts', `${use}export const b = ( => rink.skate(1;`);
      write('app/texts.ts', `${use}export const t = ${Array(5000).fill('"x"').join(' + ')};`);
      write('app/members.ts', `${use}export const m = (rink as any)${'.a'.repeat(2000)};`);
      write('app/arrays.ts', `export const n = ${'['.repeat(1500)}${']'.repeat(1500)};`);
      write(
        'app/long.ts',
        `${use}export const t = ${Array(800).fill('"x"').join(' + ')}; rink.skate(2);`,
      );
      symlinkSync('../../app', join(folder, 'app/more/again'));
      symlinkSync('../a.ts', join(folder, 'app/more/a.ts'));
      const found = await leeshore(folder, 'survey', 'app', '--old', 'rink.ts', '--json');
      const survey = JSON.parse(found.out) as Survey;
      expectValid('survey', found.out);
      expect(found.code).toBe(1);
      expect(survey.left.map(({ module }) => module)).toEqual(['app/a.ts', 'app/long.ts']);
      expect(survey.notRead.map(({ path, reason }) => `${path} ${reason.slice(0, 14)}`)).toEqual([
        'app/arrays.ts is nested too ',
        'app/broken.ts does not parse',
        'app/members.ts is nested too ',
        'app/texts.ts is nested too ',
      ]);
    }));

  // Nothing is closed to the administrator of a machine.
  (process.getuid?.() === 0 ? test.skip : test)('a folder that cannot be read is told', () =>
    inFolder(async (folder) => {
      mkdirSync(join(folder, 'app/closed'), { recursive: true });
      writeFileSync(join(folder, 'rink.ts'), 'export const rink = { ice: 1 };');
      writeFileSync(join(folder, 'app/a.ts'), 'export {};');
      chmodSync(join(folder, 'app/closed'), 0);
      const { code, out } = await leeshore(folder, 'survey', 'app', '--old', 'rink.ts');
      chmodSync(join(folder, 'app/closed'), 0o755);
      expect([code, out]).toEqual([
        1,
        expect.stringContaining('app/closed  a folder that cannot be read'),
      ]);
    }),
  );
});
