import { existsSync, mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { describe, expect, test } from '@jest/globals';
import { Ajv2020 } from 'ajv/dist/2020.js';
import { root } from '../helpers.js';
import { expectValid } from './published.js';
import { inFolder, interrupted, leeshore } from './run.js';

const schema = `leeshore: 1
stores:
  ramp:
    state:
      angle: { type: integer, minimum: 0, maximum: 30, default: 0 }
      marks: { list: string }
      note: { maybe: string }
    derived:
      steep: "angle > 15"
    actions:
      raise:
        payload: { type: integer, minimum: 1, maximum: 20 }
        requires:
          - { that: "angle + payload <= 30", otherwise: Too steep. }
        steps:
          - set: { angle: "angle + payload" }
      mark:
        payload: string
        steps:
          - append: { to: marks, value: "payload" }
      remark:
        payload: { maybe: string }
        steps:
          - set: { note: "payload" }
      lower:
        - reset: [angle, marks]
`;

/** A participant file around what it does in its actions, and what it shows. */
function participant(change: { setUp?: string; raise?: string; state?: string; more?: string }) {
  return `export default {
  name: 'old ramp',
  ${change.more ?? ''}
  create() {
    let ramp = { angle: 0, marks: [], note: null };
    return {
      actions: { ramp: {
        raise(by) {
          if (ramp.angle + by > 30) return { refused: 'Too steep.' };
          ${change.raise ?? 'ramp = { ...ramp, angle: ramp.angle + by };'}
          return true;
        },
        mark(text) { ramp = { ...ramp, marks: [...ramp.marks, text] }; },
        remark(note) { ramp = { ...ramp, note }; },
        lower() { ramp = { ...ramp, angle: 0, marks: [] }; return true; },
      } },
      state: { ramp: { ${change.state ?? 'angle: () => ramp.angle, marks: () => ramp.marks, note: () => ramp.note'} } },
      derived: { ramp: { steep: () => ramp.angle > 15 } },
    };
  },
};
`;
}

const compare = ['compare', 'ramp.stores.yaml', '--with', 'old.js', '--style', 'reducer'];

/** Code of a participant that tells the test how far the program has come. */
const importing = `import { existsSync, writeFileSync } from 'node:fs';\n`;
const begin = `if (!existsSync('begun')) writeFileSync('begun', '');`;

async function interruptedWhenBegun(folder: string, ...more: readonly string[]) {
  const begun = join(folder, 'begun');
  rmSync(begun, { force: true });
  return interrupted(folder, () => existsSync(begun), ...compare, ...more);
}

async function inRampFolder(old: string, run: (folder: string) => Promise<void>) {
  await inFolder(async (folder) => {
    writeFileSync(join(folder, 'ramp.stores.yaml'), schema);
    writeFileSync(join(folder, 'old.js'), old);
    await run(folder);
  });
}

interface Ran {
  readonly steps: readonly unknown[];
  readonly before?: readonly Ran[];
}

interface Report {
  readonly verdict: string;
  readonly participants: readonly Record<string, unknown>[];
  readonly difference: { readonly script: Ran } & Record<string, unknown>;
}

async function reportOf(old: string, ...more: readonly string[]) {
  let result: { readonly code: number | null; readonly report: Report } | undefined;
  await inRampFolder(old, async (folder) => {
    const args = [...compare, '--steps', '2000', '--json', ...more];
    const { code, out, err } = await leeshore(folder, ...args);
    expect(err).toBe('');
    const report = JSON.parse(out) as Report;
    const published = JSON.parse(
      readFileSync(new URL('schema/comparison-1.schema.json', root), 'utf8'),
    ) as object;
    const ajv = new Ajv2020({ formats: { 'json-pointer': true } });
    expect([ajv.validate(published, report), ajv.errors]).toEqual([true, null]);
    result = { code, report };
  });
  if (result === undefined) throw new Error('nothing was compared');
  return result;
}

describe('external stores', () => {
  test('which do the same are the same, and the report says what they did not say', async () => {
    const { code, report } = await reportOf(participant({}));
    expect([code, report.verdict]).toEqual([0, 'same']);
    const old = report.participants.at(-1);
    expect(old).toMatchObject({ name: 'old ramp', lacks: [] });
    expect(old?.without).toEqual(['notices', 'problems', 'identity']);
    expect(old?.notReported).toBeGreaterThan(100);
  });

  test('which never come back are stopped, with the shortest script that does it', async () => {
    const loops = participant({ raise: 'while (ramp.angle > 5) ; ramp.angle += by;' });
    const { code, report } = await reportOf(loops, '--call-seconds', '0.5');
    expect([code, report.verdict]).toEqual([1, 'different']);
    expect(report.difference).toMatchObject({
      participant: 'old ramp',
      what: 'outcome',
      action: 'ramp.raise',
      actual: { hung: 'no answer within 0.5 s' },
    });
    expect(report.difference.script.steps).toHaveLength(2);
  });

  test('which end their thread are told as that', async () => {
    const ends = participant({ raise: 'if (ramp.angle > 5) process.exit(7); ramp.angle += by;' });
    const { code, report } = await reportOf(ends);
    expect(code).toBe(1);
    expect(report.difference).toMatchObject({
      actual: { crashed: 'the thread was ended with code 7' },
    });
    expect(report.difference.script.steps).toHaveLength(2);
  });

  test('which throw show what they throw in place of an outcome', async () => {
    const { code, report } = await reportOf(
      participant({ raise: "throw new RangeError('no ramp');" }),
    );
    expect(code).toBe(1);
    expect(report.difference).toMatchObject({
      what: 'outcome',
      expected: { status: 'done' },
      actual: { threw: 'RangeError: no ramp' },
    });
    expect(report.difference.script.steps).toHaveLength(1);
  });

  test('which leave a rejection unhandled are told of it', async () => {
    const { code, report } = await reportOf(
      participant({ raise: "ramp.angle += by; void Promise.reject(new Error('lost'));" }),
    );
    expect(code).toBe(1);
    expect(report.difference).toMatchObject({
      what: 'problems',
      at: '/unhandled',
      actual: ['Error: lost'],
    });
    expect(report.difference.script.steps).toHaveLength(1);
  });

  test.each(['process.hrtime()[1] % 2 === 0 ? by : 0', 'process.hrtime()[1] / 1e9'])(
    'which answer at random are told to be not repeatable: %s',
    async (change) => {
      const random = participant({ raise: `ramp = { ...ramp, angle: ramp.angle + (${change}) };` });
      const { code, report } = await reportOf(random);
      expect([code, report.verdict]).toEqual([1, 'not repeatable']);
    },
  );

  describe('which keep something in their module', () => {
    const shared = participant({}).replace(
      'let ramp = { angle: 0, marks: [], note: null };',
      'let ramp = { ...initial };',
    );

    test('are shown in the shortest script, after a fresh load', async () => {
      const pushes = shared.replace(
        'ramp = { ...ramp, marks: [...ramp.marks, text] };',
        'ramp.marks.push(text); ramp = { ...ramp };',
      );
      const old = `const initial = { angle: 0, marks: [], note: null };\n${pushes}`;
      await inRampFolder(old, async (folder) => {
        const args = [...compare, '--ignore', 'snapshots', '--steps', '500', '--save', 'a.json'];
        const found = await leeshore(folder, ...args);
        expect([found.code, found.out.split(' ')[0]]).toEqual([1, 'different']);
        const replayed = await leeshore(folder, ...args, '--script', 'a.json');
        expect([replayed.code, replayed.out.split(' ')[0]]).toEqual([1, 'different']);
      });
    });

    test('are shown with what has to be done before, and the saved script has that', async () => {
      const counts = shared.replace(
        'ramp = { ...ramp, angle: ramp.angle + by };',
        'count += 1; ramp = { ...ramp, angle: ramp.angle + by + (count === 4 ? 1 : 0) };',
      );
      const old = `let count = 0; const initial = { angle: 0, marks: [], note: null };\n${counts}`;
      await inRampFolder(old, async (folder) => {
        const found = await leeshore(folder, ...compare, '--save', 'a.json');
        expect([found.code, found.out]).toEqual([1, expect.stringContaining('old ramp differs')]);
        expect(found.out).toContain('First, on stores of their own:\n   1  ramp.raise');
        const saved = readFileSync(join(folder, 'a.json'), 'utf8');
        expect(saved.match(/"send": "ramp.raise"/g)).toHaveLength(4);
        const replayed = await leeshore(folder, ...compare, '--script', 'a.json');
        expect([replayed.code, replayed.out.split(' ')[0]]).toEqual([1, 'different']);
      });
    });
  });

  test.each([
    ['an exception of a timer', "setTimeout(() => { throw new Error('late'); }, 30)"],
    ['an exception of a microtask', "queueMicrotask(() => { throw new Error('late'); })"],
    [
      'a rejection after a while',
      "void new Promise((go) => setTimeout(go, 120)).then(() => Promise.reject(new Error('late')))",
    ],
  ])('which leave something late behind are told of the action that did: %s', async (_, late) => {
    const old = participant({
      raise: `ramp = { ...ramp, angle: ramp.angle + by }; if (ramp.marks.length > 0) ${late};`,
    });
    const { code, report } = await reportOf(old);
    expect([code, report.verdict]).toEqual([1, 'different']);
    expect(report.difference).toMatchObject({
      what: 'problems',
      at: '/unhandled',
      action: 'ramp.raise',
      actual: ['Error: late'],
    });
    expect(report.difference.script.steps).toMatchObject([
      { send: 'ramp.mark' },
      { send: 'ramp.raise' },
    ]);
  });

  test.each([
    'Object.create(null)',
    '{ toString() { throw 1; } }',
    'new Proxy({}, { get() { throw 1; }, getPrototypeOf() { throw 2; } })',
  ])('which throw what cannot be shown are told all the same: %s', async (thrown) => {
    const { code, report } = await reportOf(participant({ raise: `throw ${thrown};` }));
    expect([code, report.verdict]).toEqual([1, 'different']);
    expect(report.difference.actual).toEqual({ threw: 'object that cannot be shown as text' });
  });

  test('which have derived values with parameters only are compared in these', () =>
    inRampFolder(
      participant({}).replace(
        'steep: () => ramp.angle > 15',
        'above: (limit) => ramp.angle > limit',
      ),
      async (folder) => {
        const text = schema.replace(
          'steep: "angle > 15"',
          'above: { given: { limit: number }, value: "angle > limit" }',
        );
        writeFileSync(join(folder, 'ramp.stores.yaml'), text);
        const { code, out } = await leeshore(folder, ...compare, '--steps', '500');
        expect([code, out.split('\n')[0]]).toEqual([
          0,
          expect.stringMatching(/^no difference between 3 participants in [\d,]+ steps/),
        ]);
      },
    ));

  test('which change what was read before are told of it, unless that is left out', async () => {
    const inPlace = participant({}).replace(
      'ramp = { ...ramp, marks: [...ramp.marks, text] };',
      'ramp.marks.push(text);',
    );
    const { code, report } = await reportOf(inPlace);
    expect(code).toBe(1);
    expect(report.difference).toMatchObject({
      what: 'snapshots',
      at: expect.stringMatching(/^.ramp.marks/),
    });
    expect((await reportOf(inPlace, '--ignore', 'snapshots')).code).toBe(0);
  });

  test('which lack fields are compared in the others, and the report lists them', async () => {
    const less = participant({ state: 'angle: () => ramp.angle' });
    const { code, report } = await reportOf(less);
    expect(code).toBe(0);
    expect(report.participants.at(-1)).toMatchObject({ lacks: ['ramp.marks', 'ramp.note'] });
    const wrong = less.replace('ramp.angle + by };', 'ramp.angle + by + 1 };');
    expect((await reportOf(wrong)).report.difference).toMatchObject({ at: '/ramp/angle' });
  });

  test('which share no action with the schema are not compared, and the report says so', () =>
    inRampFolder(
      "export default { name: 'old', create: () => ({ actions: {}, state: { ramp: { angle: () => 0 } } }) };",
      async (folder) => {
        const { code, out } = await leeshore(folder, ...compare);
        expect([code, out.split('\n')[0]]).toEqual([1, 'nothing compared: no step was done.']);
      },
    ));

  test('which are called like a style are told apart by their file', async () => {
    const { code, report } = await reportOf(participant({}).replace('old ramp', 'reducer'));
    expect([code, report.participants.map(({ name }) => name)]).toEqual([
      0,
      ['reference', 'reducer', 'reducer (old.js)'],
    ]);
  });

  test('which say that they change their data in place are not held against old snapshots', async () => {
    const inPlace = participant({ more: 'keepsSnapshots: false,' }).replace(
      'ramp = { ...ramp, marks: [...ramp.marks, text] };',
      'ramp.marks.push(text);',
    );
    const { code, report } = await reportOf(inPlace);
    expect([code, report.participants.at(-1)?.without]).toEqual([
      0,
      ['notices', 'problems', 'identity', 'snapshots'],
    ]);
  });

  test('which take text only are sent no numbers', () => {
    const form = schema.replace(
      'payload: { type: integer, minimum: 1, maximum: 20 }',
      'payload: { type: integer, minimum: 1, maximum: 20 }\n        accepts: text',
    );
    const strict =
      "if (typeof by !== 'string') throw new TypeError('a field gives text'); if (!/^\\d+$/.test(by)) return false;";
    const old = participant({ more: "textOnly: ['ramp.raise'],\n  refusesMisfits: true," }).replace(
      'if (ramp.angle + by > 30)',
      `${strict} by = Number(by); if (by < 1 || by > 20) return false;\n          if (ramp.angle + by > 30)`,
    );
    return inRampFolder(old, async (folder) => {
      writeFileSync(join(folder, 'ramp.stores.yaml'), form);
      const { out } = await leeshore(folder, ...compare, '--steps', '600');
      expect(out).not.toContain('a field gives text');
      const odd = old.replace('ramp.raise', 'ramp.mark');
      writeFileSync(join(folder, 'old.js'), odd);
      const refused = await leeshore(folder, ...compare);
      expect([refused.code, refused.err]).toEqual([
        2,
        expect.stringContaining("'textOnly' has 'ramp.mark'"),
      ]);
    });
  });

  test('a reason that is told is compared', async () => {
    const { report } = await reportOf(
      participant({}).replace("refused: 'Too steep.'", "refused: 'Too high.'"),
    );
    expect(report.difference).toMatchObject({
      what: 'outcome',
      at: '/reason',
      expected: 'Too steep.',
      actual: 'Too high.',
      patch: [{ op: 'replace', path: '', value: 'Too high.' }],
    });
  });

  test.each([
    ['export const old = 1;', 'it exports no participant by default'],
    ['export default { create() {} };', "what it exports has no 'name'"],
    ["export default { name: 'a' };", "what it exports has no 'create'"],
    ["export default { name: 'a', create() {} };", "has no 'actions', a table by store"],
    [
      "export default { name: 'a', create() { throw new Error('no tide'); } };",
      "'create' throws Error: no tide",
    ],
    [participant({ more: "saves: 'elsewhere'," }), "'saves' is neither true, false nor"],
    [participant({ more: 'settlesLater: 1,' }), "'settlesLater' is neither true nor false"],
    [participant({ state: 'angel: () => 1' }), "did you mean 'ramp.angle'?"],
    [participant({ state: 'angle: 1' }), 'state.ramp.angle is no function'],
    ["throw new Error('not today');", 'Error: not today'],
    ['export default {', 'old.js:1:17: Expected identifier but found end of file'],
    ["import './tide.js';", 'old.js:1:8: Could not resolve "./tide.js"'],
    ['throw { toString() { throw 1; } };', 'object that cannot be shown as text'],
    [
      "JSON.stringify = () => '';",
      'it changes globals that the generated stores use too: JSON.stringify',
    ],
    [participant({ raise: 'Map.prototype.get = () => 1;' }), 'Map.prototype.get'],
    [participant({ more: 'x: (Object.prototype.deck = 1),' }), 'Object.prototype.deck'],
    [participant({ raise: 'Array.prototype.map = () => [];' }), 'Array.prototype.map'],
    [
      participant({ raise: 'Array.prototype[Symbol.iterator] = function* () { yield 1; };' }),
      'Array.prototype[Symbol.iterator]',
    ],
    [
      participant({
        raise: 'Object.getPrototypeOf([].values()).next = () => ({ done: true });',
      }),
      'ArrayIterator.prototype.next',
    ],
    [participant({ raise: 'Object.prototype[Symbol("tide")] = 1;' }), 'Object.prototype[tide]'],
  ])('a file that is none is refused: %s', async (text, message) => {
    await inRampFolder(text, async (folder) => {
      const { code, out, err } = await leeshore(folder, ...compare);
      expect([code, out]).toEqual([2, '']);
      expect(err).toContain(message);
      expect(err).not.toMatch(/\n\s+at /);
    });
  });

  test.each([
    ['while it is loaded', `${begin} while (true);`],
    ['while it waits', `${begin} await new Promise(() => setInterval(() => {}, 1000));`],
    [
      'while it is created',
      participant({ more: 'x: 1,' }).replace('let ramp', `${begin} while (true); let ramp`),
    ],
  ])(
    'a file that never comes back %s is given up, in time and by an interruption',
    async (_, text) => {
      await inRampFolder(importing + text, async (folder) => {
        const limited = await leeshore(folder, ...compare, '--call-seconds', '0.2');
        expect([limited.code, limited.err]).toEqual([
          2,
          expect.stringContaining('old.js cannot be loaded: no answer within 1 s'),
        ]);
        const inTime = await leeshore(folder, ...compare, '--call-seconds', '60', '--seconds', '1');
        expect([inTime.code, inTime.out]).toEqual([1, expect.stringContaining('nothing compared')]);
        const stopped = await interruptedWhenBegun(folder, '--call-seconds', '60');
        expect([stopped.code, stopped.out]).toEqual([130, expect.stringContaining('interrupted')]);
      });
    },
  );

  test.each(['queueMicrotask(go)', 'process.nextTick(go)', 'Promise.resolve().then(go)'])(
    'which leave something to be done without end are told of the action that did: %s',
    async (next) => {
      const raise = `ramp = { ...ramp, angle: ramp.angle + by }; const go = () => ${next}; if (ramp.marks.length > 1) go();`;
      const { code, report } = await reportOf(participant({ raise }), '--call-seconds', '0.5');
      expect([code, report.verdict]).toEqual([1, 'different']);
      expect(report.difference).toMatchObject({
        action: 'ramp.raise',
        actual: { hung: 'no answer within 0.5 s' },
      });
      expect(report.difference.script.steps).toMatchObject([
        { send: 'ramp.mark' },
        { send: 'ramp.mark' },
        { send: 'ramp.raise' },
      ]);
    },
  );

  test('which use the port of their thread do no harm', async () => {
    const raise =
      'parentPort.postMessage(1); parentPort.postMessage = null; ramp = { ...ramp, angle: ramp.angle + by };';
    const old = `import { parentPort } from 'node:worker_threads';\n${participant({ raise }).replace('parentPort.postMessage(1); parentPort.postMessage = null;', 'parentPort.postMessage?.(1); parentPort.postMessage = null;')}`;
    const { code, report } = await reportOf(old);
    expect([code, report.verdict]).toEqual([0, 'same']);
  });

  test('interrupted while it searches, it prints what it has and exits with 130', () =>
    inRampFolder(
      importing + participant({}).replace('raise(by) {', `raise(by) { ${begin}`),
      async (folder) => {
        const { code, out } = await interruptedWhenBegun(folder, '--steps', '100000000');
        expect([code, out]).toEqual([130, expect.stringContaining('(interrupted)')]);
      },
    ));

  test('a file may replace clocks, timers and chance', () =>
    inRampFolder(
      `Math.random = () => 0.5; globalThis.setImmediate = () => {}; Date.now = () => 0;\n${participant({})}`,
      async (folder) => {
        const { code, out } = await leeshore(folder, ...compare, '--steps', '500');
        expect([code, out.split('\n')[0]]).toEqual([
          0,
          expect.stringMatching(/^no difference between 3 participants in [\d,]+ steps/),
        ]);
      },
    ));

  test('TypeScript, and what it imports, is taken as it is', () =>
    inRampFolder('', async (folder) => {
      const files = {
        'old.ts': `import { Ramp } from './src/ramp';\nimport './ramp.css';\nconst name: string = 'old';\nexport default { name, create: () => { const ramp = new Ramp(); return { actions: { ramp: { raise: (by: number) => ramp.raise(by) } }, state: { ramp: { angle: () => ramp.angle } } }; } };`,
        'src/ramp.ts': `export class Ramp { angle = 0; raise(by: number): boolean { if (this.angle + by > 30) return false; this.angle += by; return true; } }`,
        'ramp.css': 'body { color: red }',
      };
      for (const [path, text] of Object.entries(files)) {
        mkdirSync(dirname(join(folder, path)), { recursive: true });
        writeFileSync(join(folder, path), text);
      }
      const args = ['compare', 'ramp.stores.yaml', '--with', 'old.ts', '--style', 'reducer'];
      const { code, out } = await leeshore(folder, ...args, '--steps', '500');
      expect([code, out.split('\n')[0]]).toEqual([
        0,
        expect.stringMatching(/^no difference between 3 participants in [\d,]+ steps/),
      ]);
    }));

  test('a skeleton is written from a schema, compare takes it, and it is brought up to date', () =>
    inRampFolder('', async (folder) => {
      const make = ['new', 'ramp.stores.yaml', '--participant', 'ramp.ts'];
      const made = await leeshore(folder, ...make);
      // The schema has no types with names: there is nothing to import.
      expect([made.code, made.out.split('\n').slice(1, 3)]).toEqual([0, ['  ramp.ts', '']]);
      const again = await leeshore(folder, ...make);
      expect([again.code, again.out]).toEqual([0, 'ramp.ts has every name of the schema.\n']);
      writeFileSync(
        join(folder, 'ramp.stores.yaml'),
        schema
          .replace('      lower:', '      drop:')
          .replace(
            'note: { maybe: string }',
            'note: { maybe: string }\n      wet: { type: boolean, default: false }',
          ),
      );
      const updated = await leeshore(folder, ...make);
      expect(updated.out.split('\n').sort()).toEqual([
        '',
        'added    actions.ramp.drop',
        'added    state.ramp.wet',
        'not in the schema  actions.ramp.lower',
      ]);
      const { code, out } = await leeshore(folder, ...compare.slice(0, 2), '--with', 'ramp.ts');
      expect([code, out]).toEqual([2, '']);
      const text = readFileSync(join(folder, 'ramp.ts'), 'utf8');
      writeFileSync(join(folder, 'ramp.ts'), text.replace(/ +lower: .*\n/, ''));
      const compared = await leeshore(folder, ...compare.slice(0, 2), '--with', 'ramp.ts');
      expect([compared.code, compared.err]).toEqual([
        2,
        expect.stringContaining("no line of 'state' is filled in yet"),
      ]);
      // What is filled in is compared; the rest is listed.
      const filled = readFileSync(join(folder, 'ramp.ts'), 'utf8')
        .replace(/create\(environment\) \{/, '$&\n    let angle = 0;')
        .replace(
          /raise: \(payload[^]*?\),\n/,
          'raise: (by: number) => { if (angle + by > 30) return false; angle += by; },\n',
        )
        .replace(/angle: \(\)[^]*?\),\n/, 'angle: () => angle,\n');
      writeFileSync(join(folder, 'ramp.ts'), filled);
      const partly = await leeshore(
        folder,
        ...compare.slice(0, 2),
        '--style',
        'none',
        '--with',
        'ramp.ts',
        '--steps',
        '400',
      );
      expect([partly.code, partly.out.split('\n')[0]]).toEqual([
        0,
        expect.stringMatching(/^no difference in \d+ steps; \d+ lines are not filled in yet/),
      ]);
      expect(partly.out).toMatch(/Not filled in yet in the file of old:\n {2}ramp\.mark, /);
      expect(partly.out).not.toContain('does not have it');
    }));

  test('a module that lacks the types of a skeleton is refused', () =>
    inRampFolder('', async (folder) => {
      const typed = schema
        .replace('stores:', 'types: { Mark: string }\nstores:')
        .replace('payload: string', 'payload: Mark');
      writeFileSync(join(folder, 'ramp.stores.yaml'), typed);
      writeFileSync(join(folder, 'own.ts'), 'export interface Tide { high: number }\n');
      const make = ['new', 'ramp.stores.yaml', '--participant', 'typed.ts', '--types'];
      const lacking = await leeshore(folder, ...make, './own.js');
      expect([lacking.code, lacking.err]).toEqual([
        2,
        expect.stringContaining('own.ts has no type Mark'),
      ]);
      expect(existsSync(join(folder, 'typed.ts'))).toBe(false);
      const nowhere = await leeshore(folder, ...make, './none.js');
      expect([nowhere.code, nowhere.err]).toEqual([
        2,
        expect.stringContaining('There is no module none.js'),
      ]);
      writeFileSync(join(folder, 'own.ts'), 'export type Mark = string;\n');
      expect((await leeshore(folder, ...make, './own.js')).code).toBe(0);
    }));
});

describe('branches of external stores', () => {
  const old = `export class Ramp {
  angle = 0;

  raise(by: number): boolean {
    if (by > 90) {
      if (by > 180) return false;
      return true;
    }
    if (this.angle + by > 30) return false;
    this.angle += by;
    return true;
  }

  /** Nobody calls it. */
  fold(): number {
    return this.angle > 0 ? 1 : 2;
  }
}
`;
  const ramp = `import { Ramp } from './ramp.js';
export default {
  name: 'old ramp',
  create() {
    const ramp = new Ramp();
    return {
      actions: { ramp: { raise: (by: number) => ramp.raise(by) || { refused: 'Too steep.' } } },
      state: { ramp: { angle: () => ramp.angle } },
    };
  },
};
`;
  const inRamp = (use: (folder: string) => Promise<void>) =>
    inFolder(async (folder) => {
      writeFileSync(join(folder, 'ramp.stores.yaml'), schema);
      writeFileSync(join(folder, 'ramp.ts'), old);
      writeFileSync(join(folder, 'ramp.participant.ts'), ramp);
      await use(folder);
    });
  const args = ['compare', 'ramp.stores.yaml', '--with', 'ramp.participant.ts', '--style', 'none'];

  test('that never ran are listed, and the first line says so', () =>
    inRamp(async (folder) => {
      const { code, out } = await leeshore(folder, ...args, '--steps', '600');
      expect(code).toBe(0);
      expect(out).toMatch(
        /^no difference in \d+ steps; .*2 of 10 branches of old ramp never reached\./,
      );
      expect(out).toContain('Of 10 branches of old ramp, 2 never ran');
      expect(out).toMatch(/\n {2}ramp\.ts:5:18 +the condition is never true\n/);
      expect(out).toMatch(/\n {2}ramp\.ts:15:3 +never called/);
    }));

  test('are part of the JSON', () =>
    inRamp(async (folder) => {
      const { out } = await leeshore(folder, ...args, '--steps', '600', '--json');
      expectValid('comparison', out);
      const { code } = JSON.parse(out) as { code: { never: { line: number }[] }[] };
      expect(code.map(({ never }) => never.map(({ line }) => line))).toEqual([[5, 15]]);
    }));

  test('a number that they compare with is tried soon', () =>
    inRamp(async (folder) => {
      writeFileSync(
        join(folder, 'ramp.ts'),
        old.replace('this.angle += by;', 'this.angle += by === 17 && this.angle < 12 ? 18 : by;'),
      );
      const { code, out } = await leeshore(folder, ...args, '--steps', '6000');
      expect([code, out]).toEqual([1, expect.stringContaining('ramp.raise')]);
    }));
});
