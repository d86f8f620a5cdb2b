import { symlinkSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { describe, expect, test } from '@jest/globals';
import { root } from '../helpers.js';
import { inFolder, leeshore } from './run.js';

/** What a comparison with an old store says. */
async function compared(schema: string, old: string, steps = 1200) {
  let ran: { code: number | null; out: string; err: string } | undefined;
  await inFolder(async (folder) => {
    writeFileSync(join(folder, 'a.stores.yaml'), schema);
    writeFileSync(join(folder, 'old.js'), old);
    ran = await leeshore(
      folder,
      ...['compare', 'a.stores.yaml', '--with', 'old.js', '--style', 'none'],
      ...['--steps', String(steps)],
    );
  });
  if (ran === undefined) throw new Error('nothing was compared');
  return { ...ran, first: ran.out.split('\n')[0] ?? '' };
}

const same = expect.stringMatching(/^no difference/) as unknown;

describe('an old store that judges nothing is sent only what fits', () => {
  /** A log of a lookout: the last line can be taken back. */
  const lookout = `leeshore: 1
stores:
  log:
    state: { seen: { list: { type: string, maxLength: 6 } }, sure: { type: integer, minimum: 0, maximum: 5, default: 0 } }
    history: { of: [seen, sure] }
    derived:
      on: { given: { day: { type: string, format: date } }, type: boolean, value: "seen.includes(day)" }
    actions:
      note: { payload: { type: string, maxLength: 6 }, steps: [{ append: { to: seen, value: payload } }] }
      judge: { payload: { type: integer, minimum: 0, maximum: 5 }, steps: [{ set: { sure: payload } }] }
`;
  const old = (note: string) => `
export default {
  name: 'old log',
  create() {
    let now = { seen: [], sure: 0 };
    const past = [], future = [];
    const keep = (next) => { past.push(now); future.length = 0; now = next; return true; };
    const move = (from, to) => {
      if (from.length === 0) return false;
      to.push(now); now = from.pop(); return true;
    };
    return {
      actions: { log: {
        note: (text) => ${note},
        judge: (sure) => sure === now.sure ? true : keep({ ...now, sure }),
        undo: () => move(past, future),
        redo: () => move(future, past),
      } },
      state: { log: { seen: () => now.seen, sure: () => now.sure } },
      derived: { log: {
        on(day) {
          if (!/^\\d{4}-\\d{2}-\\d{2}$/.test(day)) throw new RangeError('no day: ' + day);
          return now.seen.includes(day);
        },
      } },
    };
  },
};
`;

  test('where changes can be undone, and where derived values are asked with a day', async () => {
    const { code, first } = await compared(
      lookout,
      old('keep({ ...now, seen: [...now.seen, text] })'),
    );
    expect([code, first]).toEqual([0, same]);
  });

  test('and a mistake is still found', async () => {
    const { code, out } = await compared(lookout, old('(now.seen.push(text), keep({ ...now }))'));
    expect(code).toBe(1);
    expect(out).toMatch(/log\.(undo|note)/);
  });
});

describe('requests of an old store', () => {
  /** A chart room: a chart is looked up by its name; only the newest question counts. */
  const charts = `leeshore: 1
services:
  archive: { operations: { find: { payload: string, result: string } } }
stores:
  charts:
    state: { chart: { type: string, default: '' }, busy: { type: boolean, default: false }, problem: { maybe: string } }
    tasks:
      find:
        payload: string
        operation: archive.find
        overlap: latest
        start: [{ set: { busy: true, problem: null } }]
        finish: [{ set: { busy: false, chart: result } }]
        fail: [{ set: { busy: false, problem: error.message } }]
        cancel: [{ set: { busy: false } }]
`;
  interface Parts {
    readonly ask?: string;
    readonly request?: string;
    readonly more?: string;
    readonly encoded?: string;
  }
  const byUrl = "({ operation: 'archive.find', with: decodeURIComponent(url.split('/').pop()) })";
  const old = ({
    ask = "fetch('https://archive.example/' + encodeURIComponent(name), { signal: stop.signal })",
    request = byUrl,
    more = '',
  }: Parts) => `
export default {
  name: 'old charts',
  ${more}
  globals: {
    request: (url, init) => ${request},
    response(operation, answer) {
      if ('error' in answer) throw new Error(answer.message);
      return Response.json(answer.result);
    },
  },
  create() {
    const room = { chart: '', busy: false, problem: null };
    let stop;
    async function find(name) {
      stop?.abort();
      const own = (stop = new AbortController());
      room.busy = true; room.problem = null;
      try {
        const answer = await ${ask};
        const chart = await answer.json();
        if (own !== stop) return;
        room.chart = chart;
      } catch (error) {
        if (own !== stop) return;
        room.problem = error.message;
      }
      room.busy = false;
    }
    function cancel() { if (room.busy) { stop.abort(); stop = undefined; room.busy = false; } }
    return {
      actions: {},
      tasks: { charts: { find: { start: (name) => void find(name), cancel } } },
      state: { charts: { chart: () => room.chart, busy: () => room.busy, problem: () => room.problem } },
    };
  },
};
`;

  test('with an address and options', async () => {
    const { code, first } = await compared(charts, old({}));
    expect([code, first]).toEqual([0, same]);
  });

  test('as a Request, with its method, its body and its signal', async () => {
    const ask =
      "fetch(new Request('https://archive.example/find', { method: 'POST', body: name, signal: stop.signal }))";
    const request =
      "({ operation: init.method === 'POST' ? 'archive.find' : 'none', with: init.body })";
    const { code, first, out } = await compared(
      charts,
      old({ ask, request, more: 'abortsCalls: false,' }),
    );
    expect([code, first, out.includes('tasks at')]).toEqual([0, same, false]);
  });

  test('beside timers that set each other without end', async () => {
    const text = old({}).replace(
      'room.busy = true;',
      'const again = () => setTimeout(again, 0); again(); room.busy = true;',
    );
    const { code, first } = await compared(charts, text, 300);
    expect([code, first]).toEqual([0, same]);
  });

  test('with a signal that is aborted already: nothing is asked', async () => {
    const ask =
      "fetch('https://archive.example/' + name, { signal: AbortSignal.abort(new Error('gone')) })";
    const { code, out } = await compared(charts, old({ ask }));
    expect(code).toBe(1);
    expect(out).toMatch(/tasks at \/calls|"gone"/);
  });

  test('with text that has half a character, only if the file says so', async () => {
    const { code, out } = await compared(charts, old({ more: 'takesHalfCharacters: true,' }), 6000);
    expect(code).toBe(1);
    expect(out).toContain('URI malformed');
  });

  test('whose answers are forgotten are found', async () => {
    const { code } = await compared(
      charts,
      old({}).replace('if (own !== stop) return;\n        room.problem', 'room.problem'),
    );
    expect(code).toBe(1);
  });
});

describe('calls that are aborted in one step', () => {
  /** A watch: at its end all that is asked is given up. */
  const watch = `leeshore: 1
services:
  mast: { operations: { ask: { payload: string, result: string } } }
stores:
  watch:
    state: { heard: { list: string }, on: { type: boolean, default: false } }
    actions:
      begin: { requires: [{ that: "!on", otherwise: It is on. }], steps: [{ set: { on: true } }, { start: ask, payload: "'near'" }, { start: ask, payload: "'far'" }] }
      end: { requires: [{ that: on, otherwise: It is off. }], steps: [{ set: { on: false } }, { cancel: ask }] }
    tasks:
      ask: { payload: string, operation: mast.ask, overlap: parallel, finish: [{ append: { to: heard, value: result } }] }
`;
  const old = (end: string) => `
export default {
  name: 'old watch',
  create({ services }) {
    let heard = [], on = false;
    let open = [];
    const ask = (what) => {
      const stop = new AbortController();
      open.push(stop);
      services.mast.ask(what, stop.signal).then((text) => {
        if (!stop.signal.aborted) heard = [...heard, text];
        open = open.filter((one) => one !== stop);
      }, () => {});
    };
    return {
      actions: { watch: {
        begin() { if (on) return false; on = true; ask('near'); ask('far'); },
        end() { if (!on) return false; on = false; ${end} },
      } },
      tasks: { watch: { ask: {} } },
      state: { watch: { heard: () => heard, on: () => on } },
    };
  },
};
`;

  test('may be aborted in any order', async () => {
    const end = 'while (open.length > 0) open.pop().abort();';
    const { code, first } = await compared(watch, old(end));
    expect([code, first]).toEqual([0, same]);
  });

  test('have all to be aborted', async () => {
    const { code, out } = await compared(watch, old('open.pop()?.abort(); open = [];'));
    expect(code).toBe(1);
    expect(out).toContain('tasks at /aborted');
  });
});

describe('what an old store keeps', () => {
  /** A bird table: how it is looked at is kept. */
  const table = `leeshore: 1
stores:
  table:
    state: { birds: { list: { type: string, maxLength: 8 } }, sorted: { type: boolean, default: false } }
    saved: { fields: [birds, sorted], key: table, version: 1 }
    actions:
      see: { payload: { type: string, maxLength: 8 }, steps: [{ append: { to: birds, value: payload } }] }
      sort: { payload: boolean, steps: [{ set: { sorted: payload } }] }
`;
  const old = (more: string, form: string, read: string) => `
export default {
  name: 'old table',
  ${more}
  create() {
    let birds = [], sorted = false;
    try { const text = localStorage.getItem('table'); ${read} } catch {}
    const keep = () => { try { localStorage.setItem('table', ${form}); } catch {} };
    keep();
    return {
      actions: { table: { see(bird) { birds = [...birds, bird]; keep(); }, sort(on) { sorted = on; keep(); } } },
      state: { table: { birds: () => birds, sorted: () => sorted } },
    };
  },
};
`;
  const fits = `fields && typeof fields === 'object' && !Array.isArray(fields) &&
    (fields.birds === undefined || (Array.isArray(fields.birds) && fields.birds.every((one) => typeof one === 'string' && [...one].length <= 8))) &&
    (fields.sorted === undefined || typeof fields.sorted === 'boolean')`;
  const form = 'JSON.stringify({ version: 1, fields: { birds, sorted } })';
  const read = `const { version, fields } = JSON.parse(text); if (version === 1 && ${fits}) { birds = fields.birds ?? birds; sorted = fields.sorted ?? sorted; }`;

  test('is compared by what is read of it: it may write more often', async () => {
    const { code, first } = await compared(table, old('saves: true,', form, read));
    expect([code, first]).toEqual([0, same]);
    const lacks = await compared(table, old('saves: true,', form.replace(', sorted', ''), read));
    expect(lacks.code).toBe(1);
  });

  test('may have another form: then each reads its own', async () => {
    const more = "saves: 'in another form',";
    const lines =
      "(sorted ? '+' : '-') + birds.map((bird) => encodeURIComponent(bird) + ';').join('')";
    const own =
      "if (text) { sorted = text[0] === '+'; birds = text.slice(1).split(';').slice(0, -1).map(decodeURIComponent); }";
    const { code, first } = await compared(table, old(more, lines, own));
    expect([code, first]).toEqual([0, same]);
    const forgets = await compared(
      table,
      old(more, lines, own.replace("text[0] === '+'", 'false')),
    );
    expect(forgets.code).toBe(1);
    expect(forgets.out).toContain('reopen');
  });

  describe('in another form, which the schema reads', () => {
    const birds = "(old.birds ?? '').split(';').filter(b => b !== '')";
    const withOld = (fields = `{ birds: "${birds}", sorted: "old.order === 'yes'" }`) =>
      table.replace(
        'version: 1 }',
        `version: 1, from: { 0: { birds: "old.all" } }, old: { texts: { birds: birds-seen, order: order }, fields: ${fields} } }`,
      );
    const texts = `
export default {
  name: 'old table',
  saves: 'in another form',
  create() {
    let birds = [], sorted = false;
    try {
      const seen = (localStorage.getItem('birds-seen') ?? '').split(';').filter((b) => b !== '');
      if (seen.every((b) => [...b].length <= 8)) {
        birds = seen;
        sorted = localStorage.getItem('order') === 'yes';
      }
    } catch {}
    const keep = () => {
      try {
        localStorage.setItem('birds-seen', birds.join(';'));
        localStorage.setItem('order', sorted ? 'yes' : 'no');
      } catch {}
    };
    return {
      actions: { table: {
        see(bird) { if (bird === '' || bird.includes(';')) return false; birds = [...birds, bird]; keep(); },
        sort(on) { sorted = on; keep(); },
      } },
      state: { table: { birds: () => birds, sorted: () => sorted } },
    };
  },
};
`;
    const careful = (schema: string) =>
      schema.replace(
        'maxLength: 8 }, steps: [{ append',
        `maxLength: 8 }, requires: [{ that: "payload !== '' && !payload.includes(';')", otherwise: No such bird. }], steps: [{ append`,
      );

    test('is the same, and what old code has written is read as it was', async () => {
      const { code, first } = await compared(careful(withOld()), texts, 3000);
      expect([code, first]).toEqual([0, same]);
      const wrong = withOld(`{ birds: "${birds.replace("';'", "','")}" }`);
      const { code: found, out } = await compared(careful(wrong), texts, 3000);
      expect([found, out]).toEqual([1, expect.stringMatching(/storage|reopen/)]);
    });

    test('is read in the same way by all styles', () =>
      inFolder(async (folder) => {
        writeFileSync(join(folder, 'a.stores.yaml'), careful(withOld()));
        const { code, out } = await leeshore(folder, 'compare', 'a.stores.yaml', '--steps', '2500');
        expect([code, out.split('\n')[0]]).toEqual([0, same]);
        const steps = [
          { storage: { key: 'birds-seen', text: 'wren;tit' } },
          { storage: { key: 'order', text: 'yes' } },
          { reopen: true },
        ];
        const script = { leeshoreScript: 1, schema: 'a.stores.yaml', seed: 1, steps };
        writeFileSync(join(folder, 'a.json'), JSON.stringify(script));
        const played = await leeshore(
          folder,
          'compare',
          'a.stores.yaml',
          '--script',
          'a.json',
          '--json',
        );
        const { coverage } = JSON.parse(played.out) as { coverage: { missing: { id: string }[] } };
        expect(coverage.missing.map(({ id }) => id)).not.toContain('table.saved from-old');
        expect(coverage.missing.map(({ id }) => id)).toContain('table.saved from-0');
      }));

    test('is the same beside generated stores that make identifiers', () =>
      inFolder(async (folder) => {
        const schema = careful(withOld())
          .replace('state: {', 'state: { rings: { list: string },')
          .replace(
            'actions:',
            'actions:\n      ring: [{ append: { to: rings, value: "newId()" } }]',
          );
        const old = texts
          .replace('let birds = []', 'let rings = [], birds = []')
          .replace('see(bird)', 'ring() { rings = [...rings, crypto.randomUUID()]; }, see(bird)')
          .replace('state: { table: {', 'state: { table: { rings: () => rings,');
        writeFileSync(join(folder, 'a.stores.yaml'), schema);
        writeFileSync(join(folder, 'old.js'), old);
        const args = ['compare', 'a.stores.yaml', '--with', 'old.js', '--style', 'reducer'];
        const { code, out, err } = await leeshore(folder, ...args, '--steps', '2000');
        expect([code, err, out.split('\n')[0]]).toEqual([0, '', same]);
      }));

    test('needs a version, keys, and fields that are saved', () =>
      inFolder(async (folder) => {
        const problems = async (schema: string) => {
          writeFileSync(join(folder, 'a.stores.yaml'), schema);
          const { code, err, out } = await leeshore(folder, 'check', 'a.stores.yaml');
          expect(code).toBe(1);
          return err + out;
        };
        const noVersion = table.replace('version: 1 }', 'old: { texts: { a: a }, fields: {} } }');
        expect(await problems(noVersion)).toContain("'old' needs a 'version'");
        const noKeys = table.replace('version: 1 }', 'version: 1, old: { fields: {} } }');
        expect(await problems(noKeys)).toContain("'old' lacks 'keys' or 'texts'");
        expect(await problems(withOld('{ bird: "old.birds" }'))).toMatch(/unknown-name[^]*'birds'/);
      }));
  });
});

describe('an old store that needs a document', () => {
  const lamp = `leeshore: 1
stores:
  lamp:
    state: { on: { type: boolean, default: false } }
    actions: { turn: { payload: boolean, steps: [{ set: { on: payload } }] } }
`;
  const old = `
const at = document.body;
export default {
  name: 'old lamp',
  document: true,
  create() {
    return {
      actions: { lamp: { turn(on) { at.className = on ? 'on' : ''; document.title = String(on); } } },
      state: { lamp: { on: () => at.classList.contains('on') } },
    };
  },
};
`;

  test('has one when it is loaded, and each run begins with an empty page', () =>
    inFolder(async (folder) => {
      writeFileSync(join(folder, 'a.stores.yaml'), lamp);
      writeFileSync(join(folder, 'old.js'), old);
      const args = ['compare', 'a.stores.yaml', '--with', 'old.js', '--style', 'none'];
      const lacking = await leeshore(folder, ...args);
      expect([lacking.code, lacking.err]).toEqual([
        2,
        expect.stringContaining("the package 'jsdom' is not there: npm install --save-dev jsdom"),
      ]);
      const packages = fileURLToPath(new URL('node_modules', root));
      symlinkSync(packages, join(folder, 'node_modules'));
      const { code, out } = await leeshore(folder, ...args, '--steps', '400');
      expect([code, out.split('\n')[0]]).toEqual([0, same]);
    }));
});
