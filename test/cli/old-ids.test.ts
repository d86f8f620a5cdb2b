import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { describe, expect, test } from '@jest/globals';
import { someOf } from '../sweep.js';
import { inFolder, leeshore } from './run.js';

/** A rack of seed jars: each gets an identifier when it is put there. */
const schema = `leeshore: 1
types:
  Jar: { fields: { id: string, label: string, near: { maybe: string } } }
stores:
  rack:
    state:
      jars: { list: Jar, by: id }
      notes: { map: string }
      open: { maybe: string }
    derived:
      label: { given: { id: string }, type: { maybe: string }, value: "jars.find(j => j.id === id)?.label ?? null" }
      title: "open === null ? 'none' : \`jar \${open}\`"
    actions:
      put:
        payload: string
        steps:
          - let: { fresh: newId() }
          - append: { to: jars, value: "{ id: fresh, label: payload, near: open }" }
          - put: { in: notes, key: fresh, value: "''" }
      note:
        payload: { fields: { id: string, text: string } }
        requires: [{ that: "jars.some(j => j.id === payload.id)", otherwise: No such jar. }]
        steps: [{ put: { in: notes, key: payload.id, value: payload.text } }]
      look:
        payload: string
        requires: [{ that: "jars.some(j => j.id === payload)", otherwise: No such jar. }]
        steps: [{ set: { open: payload } }]
      drop:
        payload: string
        requires: [{ that: "jars.some(j => j.id === payload)", otherwise: No such jar. }]
        steps:
          - remove: { from: jars, key: payload }
          - when: "open === payload"
            then: [{ set: { open: null } }]
          - drop: { from: notes, key: payload }
`;

interface Parts {
  /** What stands beside the stores, in the module. */
  readonly beside?: string;
  /** Makes an identifier. */
  readonly id: string;
  readonly drop?: string;
  readonly title?: string;
}

/** The old store: an array that is changed in place, and a dictionary beside it. */
const old = ({ beside = '', id, drop = '', title = 'jar ${open}' }: Parts) => `
${beside}
export default {
  name: 'old rack',
  keepsSnapshots: false,
  create({ newId }) {
    const jars = [];
    const notes = {};
    let open = null;
    const at = (id) => jars.findIndex((jar) => jar.id === id);
    return {
      actions: { rack: {
        put(label) { const id = ${id}; jars.push({ id, label, near: open }); notes[id] = ''; },
        note({ id, text }) { if (at(id) < 0) return false; notes[id] = text; },
        look(id) { if (at(id) < 0) return false; open = id; },
        drop(id) {
          if (at(id) < 0) return false;
          jars.splice(at(id), 1);
          delete notes[id];
          if (open === id) open = null;
          ${drop}
        },
      } },
      state: { rack: { jars: () => jars, notes: () => notes, open: () => open } },
      derived: { rack: {
        label: (id) => jars.find((jar) => jar.id === id)?.label ?? null,
        title: () => (open === null ? 'none' : \`${title}\`),
      } },
    };
  },
};
`;

async function compared(parts: Parts) {
  let ran: { code: number | null; out: string; err: string } | undefined;
  await inFolder(async (folder) => {
    writeFileSync(join(folder, 'rack.stores.yaml'), schema);
    writeFileSync(join(folder, 'old.js'), old(parts));
    ran = await leeshore(
      folder,
      ...['compare', 'rack.stores.yaml', '--with', 'old.js'],
      ...['--style', 'none', '--steps', '1500'],
    );
  });
  if (ran === undefined) throw new Error('nothing was compared');
  return { ...ran, first: ran.out.split('\n')[0] ?? '' };
}

const makers: Readonly<Record<string, Parts>> = {
  'a counter of the module': { beside: 'let count = 0;', id: 'String((count += 1))' },
  'a counter with a word before it': { beside: 'let count = 7;', id: '`jar${count++}`' },
  'crypto.randomUUID': { id: 'crypto.randomUUID()' },
  'a part of a UUID': { id: 'crypto.randomUUID().slice(0, 8)' },
  'a UUID of node:crypto': {
    beside: "import { randomUUID } from 'node:crypto';",
    id: 'randomUUID()',
  },
  'random bytes': { id: 'crypto.getRandomValues(new Uint32Array(2)).join("-")' },
  'Math.random': { id: 'Math.random().toString(36).slice(2)' },
  'the time': { id: 'Date.now().toString(36)' },
  'the time of performance': { id: '`t${performance.now()}`' },
  'what create is given': { id: 'newId()' },
};

describe('an old store that makes identifiers itself is the same', () => {
  for (const [name, parts] of someOf(Object.entries(makers), 4))
    test(`by ${name}`, async () => {
      const { code, first, err } = await compared(parts);
      expect([code, first, err]).toEqual([0, expect.stringMatching(/^no difference/), '']);
    });
});

describe('a mistake with identifiers is found', () => {
  test('one that is never new', async () => {
    const { code, out } = await compared({ id: "'fresh'" });
    expect(code).toBe(1);
    expect(out).toContain('rack.put');
  });

  test('one that is what was given', async () => {
    const { code } = await compared({ id: 'label' });
    expect(code).toBe(1);
  });

  test('a wrong one of those that were asked for', async () => {
    const { code } = await compared({ id: '(newId(), newId())' });
    expect(code).toBe(1);
  });

  test('a list that loses another item than the one that was named', async () => {
    const drop = 'if (jars.length > 1) jars.pop();';
    const { code, out } = await compared({ id: 'crypto.randomUUID()', drop });
    expect(code).toBe(1);
    expect(out).toContain('rack.drop');
    // Identifiers are told as the script has them.
    expect(out).not.toMatch(/0000-4000/);
  });

  test('a text that has another identifier in it', async () => {
    const title = 'jar ${jars[0]?.id}';
    const { code, out } = await compared({ id: 'crypto.randomUUID()', title });
    expect(code).toBe(1);
    expect(out).toContain('title');
  });
});

test.each([
  ['each log line', { draws: true }],
  ['states only', { draws: false }],
])('replay knows identifiers of its own by those of the log: %s', (_says, { draws }) =>
  inFolder(async (folder) => {
    const jar = (id: string, near: string | null = null) => ({ id, label: id, near });
    const rack = (jars: readonly object[], notes: object, open: string | null) => ({
      rack: { jars, notes, open },
    });
    const put = (payload: string, id: string) => ({
      ...{ do: 'rack.put', payload },
      ...(draws && { draws: { ids: [id] } }),
    });
    const a = { ...jar('z7'), label: 'beet' };
    const b = { ...jar('z9', 'z7'), label: 'kale' };
    const lines = [
      { leeshoreLog: 1, state: rack([], {}, null) },
      { ...put('beet', 'z7'), state: rack([a], { z7: '' }, null) },
      { do: 'rack.look', payload: 'z7', outcome: 'done', state: rack([a], { z7: '' }, 'z7') },
      { ...put('kale', 'z9'), state: rack([a, b], { z7: '', z9: '' }, 'z7') },
      {
        do: 'rack.note',
        payload: { id: 'z9', text: 'z7' },
        state: rack([a, b], { z7: '', z9: 'z7' }, 'z7'),
      },
      { do: 'rack.drop', payload: 'z7', outcome: 'done', state: rack([b], { z9: 'z7' }, null) },
    ];
    writeFileSync(join(folder, 'rack.stores.yaml'), schema);
    writeFileSync(
      join(folder, 'rack.log.jsonl'),
      lines.map((line) => JSON.stringify(line)).join('\n'),
    );
    const replayed = async (parts: Parts) => {
      writeFileSync(join(folder, 'old.mjs'), old(parts));
      const args = ['rack.log.jsonl', 'rack.stores.yaml', '--style', 'none', '--with', 'old.mjs'];
      return (await leeshore(folder, 'replay', ...args)).out;
    };
    const beside = 'let made = 40;';
    expect(await replayed({ beside, id: '`j${(made += 1)}`' })).toMatch(/^no difference/);
    const wrong = await replayed({ beside, id: '`j${(made += 1)}`', drop: 'jars.length = 0;' });
    expect(wrong).toContain(
      'old rack differs from the log (reference agrees with it) after line 6',
    );
  }),
);
