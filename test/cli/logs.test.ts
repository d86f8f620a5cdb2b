import { copyFileSync, cpSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { describe, expect, test } from '@jest/globals';
import { root } from '../helpers.js';
import type { ReplayJson } from '../../src/logs/reports/replay-json.js';
import { inFolder, leeshore } from './run.js';
import { expectValid } from './published.js';

const example = (path: string) => fileURLToPath(new URL(`examples/skerry/${path}`, root));

/** A folder with the schemas, the logs and the old terminal. */
const inHarbour = (use: (folder: string) => Promise<void>) =>
  inFolder(async (folder) => {
    for (const name of ['ferry.stores.yaml', 'harbour.stores.yaml'])
      copyFileSync(example(name), join(folder, name));
    for (const name of ['logs', 'old'])
      cpSync(example(name), join(folder, name), { recursive: true });
    await use(folder);
  });

const morning = 'logs/morning.log.jsonl';
const mapped = ['--mapping', 'old/terminal.participant.ts'];

describe('replay', () => {
  test('does a morning again, as text, JSON and JUnit', () =>
    inHarbour(async (folder) => {
      const args = ['replay', morning, 'harbour.stores.yaml', '--style', 'atom'];
      const text = await leeshore(folder, ...args, '--junit', 'replay.xml');
      expect([text.code, text.err]).toEqual([0, '']);
      expect(text.out).toMatch(
        /^no difference {2}305 lines \(1 session, 1 h 17 min\).*reference and atom\.\n$/,
      );
      const xml = readFileSync(join(folder, 'replay.xml'), 'utf8');
      expect(xml).toContain(
        '<testsuites name="leeshore replay" tests="2" failures="0" skipped="0">',
      );
      const json = await leeshore(folder, ...args, '--json');
      expectValid('replay', json.out);
      expect(JSON.parse(json.out)).toMatchObject({
        verdict: 'no difference',
        lines: 305,
        mismatches: [],
      });
    }));

  test("finds the three mistakes of the old terminal in its log, and where they stand in the schema's files", () =>
    inHarbour(async (folder) => {
      const args = [
        'replay',
        'logs/old.log.jsonl',
        'ferry.stores.yaml',
        '--style',
        'none',
        ...mapped,
      ];
      const text = await leeshore(folder, ...args);
      expect([text.code, text.err]).toEqual([1, '']);
      for (const line of [36, 43, 74]) expect(text.out).toContain(`logs/old.log.jsonl:${line}  `);
      expect(text.out).toContain('In the schema: ferry.stores.yaml:160:7  deck.stretch');
      expect(text.out).toContain('The same shows again 2 times: lines 54, 58.');
      const json = await leeshore(folder, ...args, '--json');
      expectValid('replay', json.out);
      const own = await leeshore(folder, ...args, '--with', 'old/terminal.participant.ts');
      expect(own.out).toContain('reference differs from the log (old terminal agrees with it)');
    }));

  test('says first that the log is of another schema, with both titles', () =>
    inHarbour(async (folder) => {
      const args = ['replay', morning, 'ferry.stores.yaml', '--style', 'none'];
      const { out } = await leeshore(folder, ...args);
      expect(out).toMatch(
        /^another schema {2}The log is of 'Skerry Sound harbour', and not of 'Skerry Sound ferry terminal'/,
      );
      const json = await leeshore(folder, ...args, '--json');
      expectValid('replay', json.out);
    }));

  const office = [
    ...['logs/office.log.jsonl', 'harbour.stores.yaml', '--style', 'proxy'],
    ...['--mapping', 'old/office.participant.ts', '--differences', '9'],
  ];

  test('finds the mistakes of the old timetable in what was recorded of it', () =>
    inHarbour(async (folder) => {
      const { out } = await leeshore(folder, 'replay', ...office, '--json');
      expectValid('replay', out);
      const { mismatches } = JSON.parse(out) as ReplayJson;
      // An older answer overwrites a newer one, twice; the busy flag stays after a failure.
      const found = mismatches.map(({ line, kind, at, participants, alsoAt }) => [
        ...[line, kind, at, participants, alsoAt],
      ]);
      const all = ['reference', 'proxy'];
      expect(found).toEqual([
        [10, 'finish', '/timetable/crossings', all, [17]],
        [12, 'timer', '/timetable/busy', all, []],
        [14, 'fail', '/timetable/busy', all, []],
      ]);
      const own = await leeshore(
        folder,
        'replay',
        ...office,
        ...['--with', 'old/office.participant.ts'],
      );
      expect(own.out).not.toContain('old differs');
      expect(own.out).toContain('(old agrees with it) after line 12: timer of timetable.load');
    }));

  test('lines written by hand need no more than names, and say what is missing in them', () =>
    inHarbour(async (folder) => {
      const lines: object[] = [
        { do: 'timetable.load', payload: 'today', outcome: 'done' },
        { do: 'timetable.load', payload: 'tomorrow' },
        { do: 'timetable.load', kind: 'finish', payload: [] },
      ];
      const log = (...more: readonly object[]) => {
        const texts = [...lines, ...more].map((line) => `${JSON.stringify(line)}\n`);
        writeFileSync(join(folder, 'mine.log.jsonl'), texts.join(''));
        return leeshore(folder, 'replay', 'mine.log.jsonl', 'harbour.stores.yaml', '--style=atom');
      };
      expect((await log()).out).toContain('2 calls of office.crossingsOn wait for an');
      const free = [{ id: 'c1', to: 'Vik', leaves: '08:00', free: 4 }];
      lines[2] = { ...lines[2], with: 'tomorrow', payload: free };
      const timetable = { day: 'tomorrow', busy: false, crossings: free };
      const right = await log({ do: 'timetable.leave', kind: 'finish' });
      expect(right.out).toMatch(/^no difference {2}4 lines/);
      expect(right.out).toContain("Line 4: 'operation' is missing");
      lines[2] = { ...lines[2], state: { timetable } };
      expect((await log()).out).toMatch(/^no difference {2}3 lines/);
      lines[2] = { ...lines[2], state: { timetable: { ...timetable, busy: true } } };
      expect((await log()).out).toContain('What differs: state at /timetable/busy');
    }));

  test('passes over a last line that is cut off, and refuses one that is spoilt with its place', () =>
    inHarbour(async (folder) => {
      const text = readFileSync(join(folder, morning), 'utf8');
      writeFileSync(join(folder, 'torn.log.jsonl'), text.slice(0, 30_000));
      const args = ['harbour.stores.yaml', '--style', 'none'];
      const torn = await leeshore(folder, 'replay', 'torn.log.jsonl', ...args);
      expect([torn.code, torn.err]).toEqual([0, '']);
      expect(torn.out).toMatch(/Line \d+ is cut off in the middle; it was not replayed\./);
      const lines = text.split('\n');
      writeFileSync(join(folder, 'bad.log.jsonl'), lines.with(6, '{"turn":6,').join('\n'));
      const bad = await leeshore(folder, 'replay', 'bad.log.jsonl', ...args);
      expect([bad.code, bad.out]).toEqual([2, '']);
      expect(bad.err).toMatch(/^leeshore: bad\.log\.jsonl:7:\d+: it is not valid JSON/);
    }));

  test('refuses what cannot be used, with a way out', () =>
    inHarbour(async (folder) => {
      const refused = async (...args: readonly string[]) => {
        const { code, err, out } = await leeshore(folder, 'replay', ...args);
        expect([code, out]).toEqual([2, '']);
        return err;
      };
      expect(await refused('none.jsonl', 'ferry.stores.yaml')).toContain(
        'There is no file none.jsonl.',
      );
      expect(await refused('logs', 'ferry.stores.yaml')).toContain('logs is not a file.');
      expect(await refused(morning, 'ferry.stores.yaml', '--from', '9', '--to', '3')).toContain(
        '--from is after --to',
      );
      expect(await refused(morning, 'ferry.stores.yaml', '--differences', '0')).toContain(
        '--differences takes',
      );
      writeFileSync(join(folder, 'bare.ts'), 'export default { name: "bare" };\n');
      const noLog = await refused(morning, 'ferry.stores.yaml', '--mapping', 'bare.ts');
      expect(noLog).toContain("has no 'log'");
      writeFileSync(join(folder, 'mine.xml'), '<mine/>');
      expect(await refused(morning, 'harbour.stores.yaml', '--junit', 'mine.xml')).toContain(
        'no report of leeshore',
      );
    }));

  test('says that nothing could be replayed if no name is known', () =>
    inHarbour(async (folder) => {
      const { code, out } = await leeshore(
        folder,
        'replay',
        'logs/old.log.jsonl',
        'ferry.stores.yaml',
        '--style',
        'none',
      );
      expect(code).toBe(1);
      expect(out).toContain('No line of the log could be replayed.');
      expect(out).toContain('Unknown names: takeOver, makeFast,');
      expect(out).toContain('name a file with --mapping');
    }));
});

test('odd keys, times that are none and bytes that are no text are refused with their place', () =>
  inFolder(async (folder) => {
    const refused = async (line: string | Buffer) => {
      writeFileSync(join(folder, 'odd.jsonl'), line);
      const { code, out, err } = await leeshore(folder, 'timeline', 'odd.jsonl');
      expect([code, out.split('\n').length < 3]).toEqual([2, true]);
      return err;
    };
    expect(await refused('{"do":"a","at":-5}')).toContain("'at' is not a number of milliseconds");
    expect(await refused('{"leeshoreLog":1,"began":"+275760-09-13T00:00:00Z"}')).toContain(
      "'began' is not an ISO time",
    );
    const bytes = Buffer.concat([Buffer.from('{"do":"å"}\n{"do":"'), Buffer.from([0xe9, 0x22])]);
    expect(await refused(bytes)).toContain('odd.jsonl is not UTF-8: byte 19 (from 0)');
    writeFileSync(join(folder, 'odd.jsonl'), '{"do":"a","toString":1,"__proto__":{"turn":"x"}}');
    expect((await leeshore(folder, 'timeline', 'odd.jsonl')).code).toBe(0);
    writeFileSync(join(folder, 'torn.jsonl'), Buffer.from('{"do":"a"}\n{"do":"å').subarray(0, -1));
    const torn = await leeshore(folder, 'timeline', 'torn.jsonl');
    expect([torn.code, torn.err]).toEqual([0, expect.stringContaining('Line 2 is cut off')]);
  }));

test('a differing state that is nested deep, and texts of hundreds of kilobytes, are cut in a report', () =>
  inFolder(async (folder) => {
    const nested = (levels: number): unknown => (levels === 0 ? 1 : { a: nested(levels - 1) });
    const great = 'x'.repeat(400_000);
    const lines = [
      { leeshoreLog: 1, state: { note: { text: '' } } },
      { do: 'note.write', payload: great, state: { note: { text: `${great}!` } } },
      { do: 'note.write', payload: nested(60), outcome: 'done', state: { note: nested(25) } },
    ];
    writeFileSync(join(folder, 'a.jsonl'), lines.map((line) => JSON.stringify(line)).join('\n'));
    writeFileSync(
      join(folder, 'a.stores.yaml'),
      "leeshore: 1\nstores:\n  note:\n    state: { text: { type: string, default: '' } }\n    actions: { write: { payload: string, steps: [{ set: { text: payload } }] } }\n",
    );
    const replayed = await leeshore(folder, 'replay', 'a.jsonl', 'a.stores.yaml', '--style=none');
    expect([replayed.code, replayed.err]).toEqual([1, '']);
    expect(replayed.out).toContain('characters');
    expect(replayed.out.length).toBeLessThan(20_000);
    const shown = await leeshore(folder, 'timeline', 'a.jsonl', '--at', '2');
    expect([shown.code, shown.out.length < 20_000]).toEqual([0, true]);
  }));

test('a timeline of a log that has only states shows what changed in them, and finds a field', () =>
  inHarbour(async (folder) => {
    const all = await leeshore(folder, 'timeline', 'logs/old.log.jsonl');
    expect(all.out).toMatch(/ 4 +arrive +done +\+ cars\[1\]/);
    const one = await leeshore(folder, 'timeline', 'logs/old.log.jsonl', '--field', 'capacity');
    expect(one.code).toBe(0);
    const [answer, , , ...rows] = one.out.trimEnd().split('\n');
    expect(answer).toBe('1 of 73 transactions, none refused, broken or failed');
    expect(rows).toEqual([expect.stringMatching(/^ +35 +measureDeck +done +capacity = "260"$/)]);
  }));

describe('replay with external stores', () => {
  const cases = [
    ["throw new Error('the wind is out');", '{ threw: "Error: the wind is out" }'],
    ['for (;;) {}', '{ hung: "no answer within 0.5 s" }'],
    ["void Promise.reject(new Error('nobody listens'));", '{ unhandled: "Error: nobody listens" }'],
    ['process.exit(3);', 'crashed: "the thread was ended with code 3"'],
  ] as const;

  test.each(cases)('tells the line at which they do this: %s', (does, shown) =>
    inHarbour(async (folder) => {
      const path = join(folder, 'old/terminal.ts');
      const text = readFileSync(path, 'utf8');
      const at = text.indexOf('{\n', text.indexOf('  relieve(')) + 1;
      writeFileSync(path, text.slice(0, at) + does + text.slice(at));
      const args = ['logs/old.log.jsonl', 'ferry.stores.yaml', '--style', 'none'];
      const external = ['--with', 'old/terminal.participant.ts', '--differences', '9'];
      const { code, out, err } = await leeshore(
        folder,
        'replay',
        ...args,
        ...external,
        '--call-seconds',
        '0.5',
      );
      expect([code, err]).toEqual([1, '']);
      expect(out).toMatch(/old\.log\.jsonl:51 {2}old terminal differs.*: desk\.relieve\n/);
      expect(out).toContain(shown);
      // What the reference showed is there as well.
      for (const line of [36, 43, 74]) expect(out).toContain(`old.log.jsonl:${line}  reference`);
    }),
  );

  test('a mapping that does not come back is to blame itself', () =>
    inHarbour(async (folder) => {
      const path = join(folder, 'old/terminal.participant.ts');
      const text = readFileSync(path, 'utf8');
      const from = '(old: LoggedTerminal) => old.capacity';
      expect(text).toContain(from);
      const loop = '(old: LoggedTerminal) => { while (old.capacity !== 240) {} return 240; }';
      writeFileSync(path, text.replace(from, loop));
      const args = ['replay', 'logs/old.log.jsonl', 'ferry.stores.yaml', '--style', 'none'];
      for (const option of ['--mapping', '--with']) {
        const external = [option, 'old/terminal.participant.ts', '--call-seconds', '0.1'];
        const { code, err } = await leeshore(folder, ...args, ...external);
        expect([code, err]).toEqual([
          2,
          "leeshore: What maps the log does not come back after line 34.\n  hint: Correct 'log' in the participant file.\n",
        ]);
      }
    }));
});

describe('timeline', () => {
  test('shows a line for each transaction, indented below what set it off, and filters them', () =>
    inHarbour(async (folder) => {
      const all = await leeshore(folder, 'timeline', morning);
      expect([all.code, all.err]).toEqual([0, '']);
      const lines = all.out.split('\n').slice(2);
      expect(lines[4]).toMatch(
        /^ {5}4 {2}00:00:00\.300 {2}timetable\.load start +done +timetable\.day = "today"/,
      );
      expect(lines[5]).toMatch(/^ {5}5 {2}00:00:00\.480 {4}timetable\.load retry/);
      expect(all.out).toMatch(/^305 transactions, 25 refused, broken or failed\n/);
      const count = async (...args: readonly string[]) =>
        /(\d+) of 305 transactions/.exec(
          (await leeshore(folder, 'timeline', morning, ...args)).out,
        )?.[1];
      expect(await count('--failed')).toBe('25');
      expect(await count('--field', 'deck.hold')).toBe('4');
      expect(await count('--action', 'plan.callLane')).toBe('8');
      expect(Number(await count('--store', 'plan'))).toBeGreaterThan(20);
      const unknown = await leeshore(folder, 'timeline', morning, '--store', 'deck,pier');
      expect([unknown.code, unknown.err]).toEqual([2, expect.stringContaining("no store 'pier'")]);
      writeFileSync(join(folder, 'none.jsonl'), '{"leeshoreLog":1}\n');
      const none = await leeshore(folder, 'timeline', 'none.jsonl');
      expect([none.code, none.out]).toEqual([1, expect.stringMatching(/^nothing to show/)]);
    }));

  test('shows one transaction in full, and as JSON', () =>
    inHarbour(async (folder) => {
      const { out } = await leeshore(folder, 'timeline', morning, '--at', '34');
      expect(out).toContain('answers a call, after turn 33 (timetable.book start), run 8, call 14');
      expect(out).toContain('  timetable.crossings[1].free: 14 -> 11\n');
      expect(out).toContain('Set off\n  turn 35  notices.fade start  done');
      const json = await leeshore(
        folder,
        'timeline',
        morning,
        '--at',
        '34',
        '--field',
        'notices',
        '--json',
      );
      expectValid('timeline', json.out);
      const value = JSON.parse(json.out) as {
        moment: { caused: unknown };
        rows: readonly { turn: number }[];
      };
      expect(value.moment.caused).toEqual([35]);
      expect(value.rows[0]?.turn).toBe(34);
    }));

  test('writes a page that loads nothing, and never over another file', () =>
    inHarbour(async (folder) => {
      const args = ['timeline', morning, '--html', 'page.html'];
      const { code, out } = await leeshore(folder, ...args);
      expect([code, out]).toEqual([0, 'page.html\n']);
      const page = readFileSync(join(folder, 'page.html'), 'utf8');
      expect(page).toContain("default-src 'none'");
      expect(page).not.toMatch(/\b(?:src|href)="|@import|url\(/);
      expect((await leeshore(folder, ...args)).code).toBe(0);
      writeFileSync(join(folder, 'own.html'), '<p>mine');
      const refused = await leeshore(folder, 'timeline', morning, '--html', 'own.html');
      expect([refused.code, refused.err]).toEqual([
        2,
        expect.stringContaining('no page of leeshore'),
      ]);
      expect(readFileSync(join(folder, 'own.html'), 'utf8')).toBe('<p>mine');
    }));

  test('refuses what cannot be used, with a way out', () =>
    inHarbour(async (folder) => {
      const refused = async (...args: readonly string[]) => {
        const { code, err } = await leeshore(folder, 'timeline', ...args);
        expect(code).toBe(2);
        return err;
      };
      expect(await refused()).toContain('No log given.');
      expect(await refused('--live')).toContain('--live is for a page.');
      expect(await refused(morning, '--html', 'x.html', '--failed')).toContain('--failed is not');
      expect(await refused(morning, '--with', 'old/terminal.participant.ts')).toContain(
        '--with is',
      );
      expect(await refused(morning, '--at', '999')).toContain('has no turn 999.');
      mkdirSync(join(folder, 'scripts'));
      writeFileSync(join(folder, 'a.script.json'), '{"leeshoreScript":1,"steps":[]}');
      expect(await refused('a.script.json')).toContain('is a script, not a log');
      expect(await refused('a.script.json', '--html', 'x.html')).toContain('--schema');
    }));
});
