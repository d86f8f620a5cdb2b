import { readdirSync, readFileSync } from 'node:fs';
import { describe, expect, test } from '@jest/globals';
import { parse } from 'yaml';
import { formatSource } from '../../../src/language/check/format-schema.js';
import { Source } from '../../../src/base/source.js';
import { explanations } from '../../../src/language/problems/explanations/explanations.js';
import { root } from '../../helpers.js';

const format = async (text: string): Promise<string> => {
  const formatted = await formatSource(new Source('x', text));
  if ('problems' in formatted) throw new Error(formatted.problems[0]?.message);
  return formatted.text;
};

const fixtures = readdirSync(new URL('test/fixtures', root))
  .filter((name) => name.endsWith('.yaml'))
  .map((name) => `test/fixtures/${name}`);
const files = [
  ...fixtures,
  'examples/skerry/ferry.stores.yaml',
  'examples/start/berth.stores.yaml',
];

test.each(files)('%s is tidy', async (path) => {
  const text = readFileSync(new URL(path, root), 'utf8');
  expect(await format(text)).toBe(text);
});

test('every right example of a code stays what it is, and is tidy after once', async () => {
  for (const { right } of Object.values(explanations)) {
    const tidy = await format(right);
    expect(parse(tidy)).toEqual(parse(right));
    expect(await format(tidy)).toBe(tidy);
  }
});

const around = (body: string) =>
  `leeshore: 1\nstores:\n  deck:\n${body.replace(/^(?=.)/gm, '    ')}\n`;

describe('expressions are quoted wherever they stand, and nothing else is', () => {
  test.each([
    ["derived:\n  a: n\n  b: { value: 'n + 1' }", 'derived:\n  a: "n"\n  b: { value: "n + 1" }'],
    [
      'derived:\n  a: { x: n, y: [n, 1] }'.replace('{ x', '{ value: { x').replace('1] }', '1] } }'),
      'derived:\n  a: { value: { x: "n", y: ["n", 1] } }',
    ],
    [
      'actions:\n  go:\n    payload: string\n    requires: [{ that: n > 1, otherwise: No. }]\n    let: { x: n }\n    steps: []',
      'actions:\n  go:\n    payload: string\n    requires: [{ that: "n > 1", otherwise: No. }]\n    let: { x: "n" }\n    steps: []',
    ],
    [
      'actions:\n  go:\n    - update: { in: list, each: v, where: v.on, set: { n: v.n } }\n    - drop: { from: box, key: note }\n    - move: { in: list, at: n, to: n }\n    - append: { to: list, value: n }',
      'actions:\n  go:\n    - update: { in: list, each: v, where: "v.on", set: { n: "v.n" } }\n    - drop: { from: box, key: note }\n    - move: { in: list, at: "n", to: "n" }\n    - append: { to: list, value: "n" }',
    ],
    [
      'actions:\n  go:\n    - when: on\n      then: [{ toggle: on }]\n      else:\n        - run: other\n          payload: n\n    - let: { x: n }\n    - reset: [n]',
      'actions:\n  go:\n    - when: "on"\n      then: [{ toggle: on }]\n      else:\n        - run: other\n          payload: "n"\n    - let: { x: "n" }\n    - reset: [n]',
    ],
    [
      'reacts:\n  - to: wind.stop\n    steps: [{ set: { n: payload } }]',
      'reacts:\n  - to: wind.stop\n    steps: [{ set: { n: "payload" } }]',
    ],
    [
      'tasks:\n  go:\n    payload: string\n    operation: office.book\n    with: payload\n    per: payload\n    timeLimit: 5 * n\n    retry: { times: 2, wait: attempt, when: on }\n    auto: { follows: n, while: on }\n    finish: [{ set: { n: result } }]\n    fail:\n      - cancel: { task: go, per: n }',
      'tasks:\n  go:\n    payload: string\n    operation: office.book\n    with: "payload"\n    per: "payload"\n    timeLimit: "5 * n"\n    retry: { times: 2, wait: "attempt", when: "on" }\n    auto: { follows: "n", while: "on" }\n    finish: [{ set: { n: "result" } }]\n    fail:\n      - cancel: { task: go, per: "n" }',
    ],
    ['tasks:\n  go: { auto: once, wait: 300 }', 'tasks:\n  go: { auto: once, wait: 300 }'],
    [
      'saved:\n  fields: [n]\n  key: deck\n  version: 2\n  from:\n    1: { n: old.m }\n  old:\n    texts: { m: deck-m }\n    fields:\n      n: old.m',
      'saved:\n  fields: [n]\n  key: deck\n  version: 2\n  from:\n    1: { n: "old.m" }\n  old:\n    texts: { m: deck-m }\n    fields:\n      n: "old.m"',
    ],
  ])('%j', async (untidy, tidy) => {
    expect(await format(around(untidy))).toBe(around(tidy));
  });
});

test('comments, blank lines and numbers stay', async () => {
  const text = around(
    '# what it holds\nstate:\n  n: { type: number, default: 1.50 } # metres\n\n  # later\n  m: { maybe: number }',
  );
  expect(await format(text)).toBe(text);
});

test('long expressions are folded outside braces, and stay what they are', async () => {
  const long = Array.from({ length: 12 }, (_, i) => `(n > ${i} ? 'a  b' : 'metres')`).join(' + ');
  const text = around(
    `derived:\n  a: ${JSON.stringify(long)}\n  b: { value: ${JSON.stringify(long)} }`,
  );
  const tidy = await format(text);
  expect(tidy).toContain('a: >-');
  expect(Math.max(...tidy.split('\n').map((line) => line.length))).toBeLessThanOrEqual(120);
  const read = (source: string) => {
    const { derived } = (
      parse(source) as { stores: { deck: { derived: { a: string; b: { value: string } } } } }
    ).stores.deck;
    return [derived.a, derived.b.value];
  };
  expect(read(tidy)).toEqual([long, long]);
  expect(await format(tidy)).toBe(tidy);
});
