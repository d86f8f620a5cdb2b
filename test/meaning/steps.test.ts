import { describe, expect, test } from '@jest/globals';
import type { Json } from '../../src/base/json.js';
import { participantNames, start } from '../participants.js';

const item = (id: string, n = 0): Json => ({ id, n });
const [a, b, c] = [item('a', 1), item('b', 2), item('c', 3)];

interface Case {
  readonly name: string;
  readonly step: string;
  readonly payload?: Json;
  /** The state before, as far as it matters, and what is different after; a text is a refusal. */
  readonly after: Readonly<Record<string, Json>> | string;
}

/** What each step does, by hand. Before it: list [a, b, c], map { x: 1, y: 2 }, tags [p, q], n 5, box { inner: { at: 1 } }. */
const cases: readonly Case[] = [
  { name: 'set a field', step: 'set: { n: "n * 2" }', after: { n: 10 } },
  {
    name: 'set reads everything before it stores',
    step: 'set: { n: "tags.length", tags: "[String(n)]" }',
    after: { n: 2, tags: ['5'] },
  },
  {
    name: 'set a property on a path',
    step: 'set: { box.inner.at: "n" }',
    after: { box: { inner: { at: 5 } } },
  },
  {
    name: 'set an item by its key',
    step: `set: { "list['b'].n": 9 }`,
    after: { list: [a, item('b', 9), c] },
  },
  {
    name: 'set an item that is not there',
    step: `set: { "list['z'].n": 9 }`,
    after: 'not found',
  },
  { name: 'set with a reason', step: `set: { "list['z'].n": 9 }\n    none: No z.`, after: 'No z.' },
  {
    name: 'set a key that another item has',
    step: `set: { "list['b'].id": "'a'" }`,
    after: 'does not fit',
  },
  { name: 'set an entry', step: `set: { "map['x']": 7 }`, after: { map: { x: 7, y: 2 } } },
  {
    name: 'set an entry that is not there',
    step: `set: { "map['z']": 7 }`,
    after: 'not found',
  },
  { name: 'set at a position', step: `set: { "tags[1]": "'r'" }`, after: { tags: ['p', 'r'] } },
  { name: 'set beyond the end', step: `set: { "tags[2]": "'r'" }`, after: 'not found' },
  { name: 'set at a fraction', step: `set: { "tags[0.5]": "'r'" }`, after: 'not found' },
  { name: 'set out of bounds', step: 'set: { n: "n * 100" }', after: 'does not fit' },
  { name: 'set what is not finite', step: 'set: { n: "n / 0" }', after: 'does not fit' },
  {
    name: 'append',
    step: 'append: { to: tags, value: "\'r\'" }',
    after: { tags: ['p', 'q', 'r'] },
  },
  {
    name: 'append several',
    step: 'append: { to: tags, values: "tags" }',
    after: { tags: ['p', 'q', 'p', 'q'] },
  },
  {
    name: 'append a key that is there',
    step: 'append: { to: list, value: { id: "\'a\'", n: 1 } }',
    after: 'does not fit',
  },
  {
    name: 'prepend keeps the order',
    step: 'prepend: { to: tags, values: ["\'x\'", "\'y\'"] }',
    after: { tags: ['x', 'y', 'p', 'q'] },
  },
  {
    name: 'insert at the end',
    step: 'insert: { to: tags, at: 2, value: "\'r\'" }',
    after: { tags: ['p', 'q', 'r'] },
  },
  {
    name: 'insert before the end',
    step: 'insert: { to: tags, at: 1, value: "\'r\'" }',
    after: { tags: ['p', 'r', 'q'] },
  },
  {
    name: 'insert beyond the end',
    step: 'insert: { to: tags, at: 3, value: "\'r\'" }',
    after: 'out of range',
  },
  {
    name: 'insert at a fraction',
    step: 'insert: { to: tags, at: 0.5, value: "\'r\'" }',
    after: 'out of range',
  },
  {
    name: 'put replaces in its place',
    step: 'put: { in: list, value: { id: "\'b\'", n: 9 } }',
    after: { list: [a, item('b', 9), c] },
  },
  {
    name: 'put adds at the end',
    step: 'put: { in: list, value: { id: "\'d\'", n: 9 } }',
    after: { list: [a, b, c, item('d', 9)] },
  },
  {
    name: 'put several, the later over the earlier',
    step: 'put: { in: list, values: [{ id: "\'d\'", n: 1 }, { id: "\'d\'", n: 2 }] }',
    after: { list: [a, b, c, item('d', 2)] },
  },
  {
    name: 'put an entry',
    step: 'put: { in: map, key: "\'z\'", value: "n" }',
    after: { map: { x: 1, y: 2, z: 5 } },
  },
  {
    name: 'update by key',
    step: 'update: { in: list, key: "\'b\'", each: i, set: { n: "i.n + 1" } }',
    after: { list: [a, item('b', 3), c] },
  },
  {
    name: 'update by a key that is not there',
    step: 'update: { in: list, key: "\'z\'", set: { n: 1 } }',
    after: {},
  },
  {
    name: 'update by a key that is not there, with a reason',
    step: 'update: { in: list, key: "\'z\'", set: { n: 1 }, none: No z. }',
    after: 'No z.',
  },
  {
    name: 'update where',
    step: 'update: { in: list, each: i, where: "i.n > 1", set: { n: "i.n * 10" } }',
    after: { list: [a, item('b', 20), item('c', 30)] },
  },
  {
    name: 'update reads all before any changes',
    step: 'update: { in: list, each: i, where: "true", set: { n: "sum(list, o => o.n) + i.n" } }',
    after: { list: [item('a', 7), item('b', 8), item('c', 9)] },
  },
  {
    name: 'update to one key',
    step: 'update: { in: list, each: i, where: "true", set: { id: "\'a\'" } }',
    after: 'does not fit',
  },
  {
    name: 'update with a spread',
    step: 'update: { in: list, key: "\'a\'", set: { ...: { n: 8 } } }',
    after: { list: [item('a', 8), b, c] },
  },
  { name: 'remove by key', step: 'remove: { from: list, key: "\'b\'" }', after: { list: [a, c] } },
  {
    name: 'remove by a key that is not there',
    step: 'remove: { from: list, key: "\'z\'", none: No z. }',
    after: 'No z.',
  },
  {
    name: 'remove where',
    step: 'remove: { from: list, each: i, where: "i.n !== 2" }',
    after: { list: [b] },
  },
  { name: 'drop an entry', step: 'drop: { from: map, key: "\'x\'" }', after: { map: { y: 2 } } },
  { name: 'drop an entry that is not there', step: 'drop: { from: map, key: "\'z\'" }', after: {} },
  {
    name: 'drop an entry that is not there, with a reason',
    step: 'drop: { from: map, key: "\'z\'", none: No z. }',
    after: 'No z.',
  },
  {
    name: 'drop an optional property',
    step: 'drop: { from: box, key: note }',
    after: { box: { inner: { at: 1 } } },
  },
  {
    name: 'toggle a value out',
    step: 'toggle: { in: tags, value: "\'p\'" }',
    after: { tags: ['q'] },
  },
  {
    name: 'toggle a value in',
    step: 'toggle: { in: tags, value: "\'r\'" }',
    after: { tags: ['p', 'q', 'r'] },
  },
  { name: 'toggle true and false', step: 'toggle: on', after: { on: true } },
  {
    name: 'move by key to the front',
    step: 'move: { in: list, key: "\'c\'", to: 0 }',
    after: { list: [c, a, b] },
  },
  {
    name: 'move to the end, counted without the item',
    step: 'move: { in: tags, at: 0, to: 1 }',
    after: { tags: ['q', 'p'] },
  },
  { name: 'move beyond the end', step: 'move: { in: tags, at: 0, to: 2 }', after: 'out of range' },
  {
    name: 'move what is not there',
    step: 'move: { in: list, key: "\'z\'", to: 0 }',
    after: 'not found',
  },
  {
    name: 'when it holds',
    step: 'when: "n > 1"\n    then: [{ set: { n: 1 } }]\n    else: [{ set: { n: 2 } }]',
    after: { n: 1 },
  },
  {
    name: 'when it does not',
    step: 'when: "n > 9"\n    then: [{ set: { n: 1 } }]\n    else: [{ set: { n: 2 } }]',
    after: { n: 2 },
  },
  { name: 'when without else', step: 'when: "n > 9"\n    then: [{ set: { n: 1 } }]', after: {} },
  { name: 'reset some', step: 'reset: [n, tags]', after: { n: 5, tags: ['p', 'q'] } },
  {
    name: 'let names a value for what follows',
    step: 'let: { old: "n" }\n  - set: { n: 1 }\n  - append: { to: tags, value: "String(old)" }',
    after: { n: 1, tags: ['p', 'q', '5'] },
  },
  {
    name: 'let keeps a value while the state goes on',
    step: 'let: { old: "box" }\n  - set: { box.inner.at: 2 }\n  - set: { n: "old.inner.at" }',
    after: { n: 1, box: { inner: { at: 2 } } },
  },
  {
    name: 'a stored value is no live view',
    step: `set: { box: "box", n: 1 }\n  - set: { box.inner.at: 4 }`,
    after: { n: 1, box: { inner: { at: 4 } } },
  },
];

function schemaFor(step: string): string {
  const indented = step
    .replace(/\n {2}- /g, '\n            - ')
    .replace(/\n {4}(?=\S)/g, '\n              ');
  return `leeshore: 1
types: { Item: { fields: { id: string, n: number } } }
stores:
  it:
    state:
      list: { list: Item, by: id, default: [{ id: a, n: 1 }, { id: b, n: 2 }, { id: c, n: 3 }] }
      map: { map: number, default: { x: 1, y: 2 } }
      tags: { list: string, default: [p, q] }
      n: { type: number, minimum: 0, maximum: 99, default: 5 }
      on: { type: boolean, default: false }
      box: { fields: { inner: { fields: { at: number } }, note: string }, optional: [note], default: { inner: { at: 1 } } }
    actions:
      go:
        steps:
            - ${indented}
`;
}

describe.each(participantNames)('the steps of %s', (name) => {
  test.each(cases.map((one) => [one.name, one] as const))('%s', async (_name, { step, after }) => {
    const { running } = await start(schemaFor(step), name);
    const before = running.read().it as Readonly<Record<string, Json>>;
    const outcome = running.send('it', 'go', undefined);
    if (typeof after === 'string') {
      expect(outcome).toMatchObject({ status: 'refused', reason: after });
      expect(running.read().it).toBe(before);
    } else {
      expect(outcome).toEqual({ status: 'done' });
      expect(running.read().it).toEqual({ ...before, ...after });
    }
  });
});
