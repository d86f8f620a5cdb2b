import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { describe, expect, test } from '@jest/globals';
import { expectValid } from './published.js';
import { inFolder, leeshore } from './run.js';

/** A reading room: books that are asked for, and a bell. */
const schema = `leeshore: 1
types:
  Book: { fields: { id: string, title: string } }
services:
  desk: { operations: { list: { payload: string, result: { list: Book, by: id } } } }
stores:
  room:
    state:
      books: { list: Book, by: id }
      shelf: { type: string, default: '' }
      busy: { type: boolean, default: false }
      problem: { maybe: string }
    actions:
      clear: [{ set: { books: "[]" } }]
      name: { payload: { type: string, maxLength: 20 }, steps: [{ set: { shelf: payload } }] }
    tasks:
      load:
        payload: string
        operation: desk.list
        start: [{ set: { busy: true, problem: null } }]
        finish: [{ set: { busy: false, books: result } }]
        fail: [{ set: { busy: false, problem: error.message } }]
`;

interface Parts {
  /** Properties of the participant. */
  readonly more?: string;
  /** What is done with an answer. */
  readonly taken?: string;
  readonly load?: string;
  readonly name?: string;
  readonly before?: string;
}

const newestOnly = `const own = (asked += 1);
    room.busy = true; room.problem = null;
    stop?.abort(); stop = new AbortController();`;

/** The old store: closures over variables, a promise with two callbacks, only the newest question counts. */
const old = ({
  more = '',
  taken = 'room.books = answer;',
  name = '',
  before = '',
  load,
}: Parts) => `
export default {
  name: 'old room',
  ${more}
  create({ services, timers }) {
    const room = { books: [], shelf: '', busy: false, problem: null };
    let asked = 0;
    let stop;
    ${before}
    const load = (shelf) => {
      ${newestOnly}
      services.desk.list(shelf, stop.signal).then(
        (answer) => {
          if (own !== asked) return;
          room.busy = false;
          ${taken}
        },
        (error) => {
          if (own !== asked) return;
          room.busy = false;
          room.problem = error.message ?? String(error);
        },
      );
    };
    return {
      actions: { room: {
        clear() { room.books = []; return true; },
        name(text) { const was = room.shelf; room.shelf = text; ${name} return true; },
      } },
      tasks: { room: { load: { start: ${load ?? 'load'} } } },
      state: { room: {
        books: () => room.books, shelf: () => room.shelf, busy: () => room.busy, problem: () => room.problem,
      } },
    };
  },
};
`;

const args = ['compare', 'room.stores.yaml', '--with', 'old.js', '--style', 'none'];

async function compared(text: string, ownSchema = schema, ...more: readonly string[]) {
  let ran: { code: number | null; out: string; err: string } | undefined;
  await inFolder(async (folder) => {
    writeFileSync(join(folder, 'room.stores.yaml'), ownSchema);
    writeFileSync(join(folder, 'old.js'), text);
    ran = await leeshore(folder, ...args, '--steps', '1200', ...more);
  });
  if (ran === undefined) throw new Error('nothing was compared');
  return ran;
}

const first = (out: string) => out.split('\n')[0] ?? '';

describe('an old store is really asked', () => {
  test('the right one is the same, and the report says what it was not sent', async () => {
    const { code, out } = await compared(old({}));
    expect([code, first(out)]).toEqual([0, expect.stringMatching(/^no difference/)]);
    expect(out).toMatch(
      /Payloads that do not fit .*: old room does not check them \(refusesMisfits\)/,
    );
    expect(out).toMatch(
      /Answers that do not fit .*: old room does not check them \(judgesAnswers\)/,
    );
  });

  test('it is given lists with several items: one that keeps the first is found', async () => {
    const { code, out } = await compared(old({ taken: 'room.books = answer.slice(0, 1);' }));
    expect([code, first(out)]).toEqual([1, expect.stringMatching(/^different/)]);
    expect(out).toContain('/room/books');
  });

  test('one that judges payloads and not answers is not asked about answers, and the other way round', async () => {
    const lacks = await compared(old({ more: 'judgesAnswers: true,' }));
    expect(lacks.code).toBe(1);
    expect(lacks.out).toContain('bad result');
    const judges = `if (!Array.isArray(answer) || answer.some((one) => typeof one?.id !== 'string' || typeof one.title !== 'string' || Object.keys(one).length !== 2) || new Set(answer.map((one) => one.id)).size < answer.length) { room.problem = 'bad result'; return; } room.books = answer;`;
    const right = await compared(
      old({ more: 'judgesAnswers: true,', taken: judges }),
      schema,
      '--json',
    );
    expect(right.code).toBe(0);
    expectValid('comparison', right.out);
    const { participants } = JSON.parse(right.out) as { participants: readonly object[] };
    expect(participants[1]).toMatchObject({ judgesAnswers: true, refusesMisfits: false });
  });

  test('a script with steps that are passed over says so in its first line', () =>
    inFolder(async (folder) => {
      const steps = [
        { start: 'room.load', payload: 'a' },
        { answer: 1, result: 7 },
      ];
      const script = { leeshoreScript: 1, schema: 'room.stores.yaml', seed: 1, steps };
      writeFileSync(join(folder, 'room.stores.yaml'), schema);
      writeFileSync(join(folder, 'old.js'), old({}));
      writeFileSync(join(folder, 'a.json'), JSON.stringify(script));
      const { code, out } = await leeshore(folder, ...args, '--script', 'a.json');
      expect([code, first(out)]).toEqual([
        0,
        'no difference in 1 steps; 1 of the script passed over, since what they send does not fit (see below).',
      ]);
      expect(out).toContain(
        'Answers that do not fit their type were not sent (1 step passed over)',
      );
    }));
});

describe('an old store is not accused', () => {
  test('for changing the list that it was given: it differs, and the script keeps what was given', async () => {
    const taken = 'room.books = answer.sort((a, b) => (a.id < b.id ? -1 : 1)).map((one) => one);';
    const { code, out } = await compared(old({ taken }));
    expect([code, first(out)]).toEqual([1, expect.stringMatching(/^different/)]);
    const [, answer = ''] = /answers (\[.*\])/.exec(out) ?? [];
    const ids = [...answer.matchAll(/id: "([^"]*)"/g)].map(([, id]) => id);
    expect(ids.length).toBeGreaterThan(1);
    expect(ids).not.toEqual(ids.toSorted());
  });

  test('for a timer of 0 ms where the schema does it at once', async () => {
    const name = "room.shelf = ''; timers.setTimeout(() => { room.shelf = text; }, 0);";
    expect((await compared(old({ name }))).code).toBe(0);
  });

  test('for calling a service without a signal', async () => {
    const text = old({ more: 'abortsCalls: false,' }).replace('(shelf, stop.signal)', '(shelf)');
    expect((await compared(text)).code).toBe(0);
  });

  test('for its own timers in a second instance, or an interval that goes on', async () => {
    const ticks = `globals: {},`;
    const before = 'setInterval(() => { room.ticks = (room.ticks ?? 0) + 1; }, 1000);';
    const name = 'setTimeout(() => { room.named = text; }, 50);';
    const { code, out, err } = await compared(old({ more: ticks, before, name }));
    expect(err).toBe('');
    expect([code, first(out)]).toEqual([0, expect.stringMatching(/^no difference/)]);
  });

  test('for tasks without actions', async () => {
    const text = old({}).replace(/actions: \{ room: \{[^]*?\n {6}\} \},/, 'actions: {},');
    expect(text).toContain('actions: {},');
    expect((await compared(text)).code).toBe(0);
  });
});

test('a timer of an old store that throws is told as what its code left unhandled, with the script', async () => {
  const name = "timers.setTimeout(() => { throw new Error('no shelf'); }, 10);";
  const { code, out, err } = await compared(old({ name }));
  expect([code, err]).toEqual([1, '']);
  expect(out).toContain('Error: no shelf');
  expect(out).toContain('room.name');
});

test('services reject with errors that have the message that the schema reads', async () => {
  const by = (text: string) => old({}).replace('error.message ?? String(error)', text);
  const right = await compared(by("error instanceof Error ? error.message : 'no error'"));
  expect(right.code).toBe(0);
  const data = await compared(
    by('error.message').replace("name: 'old room',", "name: 'old room', rejectsWithData: true,"),
  );
  expect(data.code).toBe(1);
});

test('a search whose time is up says which share of it was done', () =>
  inFolder(async (folder) => {
    writeFileSync(join(folder, 'room.stores.yaml'), schema);
    const { leeshoreWith } = await import('./run.js');
    let now = 0;
    const { out } = await leeshoreWith(
      folder,
      { clock: () => (now += 5) },
      ...['compare', 'room.stores.yaml', '--style', 'atom', '--steps', '100000', '--seconds', '1'],
    );
    expect(first(out)).toMatch(/^no difference in [\d,]+ steps, \d+ % of 100,000/);
  }));

test('--save that names a file which is no script is refused before anything is compared', () =>
  inFolder(async (folder) => {
    writeFileSync(join(folder, 'room.stores.yaml'), schema);
    const options = ['--style', 'atom', '--save', 'room.stores.yaml'];
    const { code, out, err } = await leeshore(folder, 'compare', 'room.stores.yaml', ...options);
    expect([code, out]).toEqual([2, '']);
    expect(err).toContain('room.stores.yaml is there already, and is no script.');
    expect(readFileSync(join(folder, 'room.stores.yaml'), 'utf8')).toBe(schema);
  }));

describe('tasks of an old store', () => {
  test('that it starts by itself are listed without a start: their answers are given', async () => {
    const auto = schema.replace(
      '      load:\n        payload: string\n',
      '      load:\n        payload: string\n        auto: { follows: shelf }\n',
    );
    const text = old({ name: 'if (was !== text) load(text);' }).replace(
      'start: load',
      'cancel: undefined',
    );
    const right = await compared(text, auto);
    expect([right.code, first(right.out)]).toEqual([0, expect.stringMatching(/^no difference/)]);
    const wrong = await compared(text.replace('room.books = answer;', 'room.books = [];'), auto);
    expect([wrong.code, first(wrong.out)]).toEqual([1, expect.stringMatching(/^different/)]);
  });

  test('that are left out may call what listed ones call, too', async () => {
    const more = schema.replace(
      '    tasks:\n',
      `    tasks:
      peek: { payload: string, operation: desk.list, with: "\`peek \${payload}\`" }
`,
    );
    expect(more).toContain('peek:');
    const right = await compared(old({ name: "services.desk.list('of its own');" }), more);
    expect([right.code, first(right.out)]).toEqual([0, expect.stringMatching(/^no difference/)]);
    expect(right.out).toContain('call these too, so calls are compared where both make them:');
    expect(right.out).toMatch(/^ {2}desk\.list\.$/m);
    const wrong = await compared(old({ taken: 'room.books = answer.slice(1);' }), more);
    expect(wrong.code).toBe(1);
  });

  test('that are left out may call what they like', async () => {
    const text = old({ name: "services.desk.list('beside');" }).replace(
      /tasks: \{ room: [^]*?\} \} \},/,
      'tasks: {},',
    );
    expect(text).toContain('tasks: {},');
    expect((await compared(text)).code).toBe(0);
  });
});

describe('calls of an old store', () => {
  /** A tide table: one action asks two services, and for each harbour once. */
  const tides = `leeshore: 1
services:
  office: { operations: { tide: { payload: { fields: { of: string, note: string }, optional: [note] }, result: string }, wind: { result: string } } }
stores:
  tides:
    state: { known: { map: string }, wind: { type: string, default: '' }, asked: { type: integer, minimum: 0, default: 0 } }
    actions:
      ask:
        - set: { asked: "asked + 1" }
        - start: tide
          payload: "'north'"
        - start: tide
          payload: "'south'"
        - start: blow
    tasks:
      tide:
        payload: string
        operation: office.tide
        overlap: parallel
        with: { of: payload }
        finish: [{ put: { in: known, key: payload, value: result } }]
      blow: { operation: office.wind, overlap: parallel, finish: [{ set: { wind: result } }] }
`;
  const oldTides = (ask: string) => `
export default {
  name: 'old tides',
  abortsCalls: false,
  keepsSnapshots: false,
  create({ services }) {
    const known = {}; let wind = '', asked = 0;
    const tide = (of) => {
      const question = { of, note: undefined };
      services.office.tide(question).then((answer) => { known[of] = answer; }, () => {});
      question.of = 'reused';
    };
    const blow = () => { services.office.wind().then((answer) => { wind = answer; }, () => {}); };
    return {
      actions: { tides: { ask() { asked += 1; ${ask} } } },
      tasks: { tides: { tide: {}, blow: {} } },
      state: { tides: { known: () => known, wind: () => wind, asked: () => asked } },
    };
  },
};
`;

  test('are matched by what they ask, in whichever order they are made', async () => {
    for (const ask of [
      "tide('north'); tide('south'); blow();",
      "blow(); tide('south'); tide('north');",
    ]) {
      const { code, out } = await compared(oldTides(ask), tides);
      expect([code, first(out)]).toEqual([0, expect.stringMatching(/^no difference/)]);
    }
  });

  test('that ask for something else, or are missing, are differences', async () => {
    for (const ask of ["tide('north'); tide('north'); blow();", "blow(); tide('south');"]) {
      const { code, out } = await compared(oldTides(ask), tides);
      expect([code, first(out)]).toEqual([1, expect.stringMatching(/^different/)]);
      expect(out).toContain('tasks at /calls');
    }
  });
});
