import { describe, expect, test } from '@jest/globals';
import { checkSchemas } from '../../../src/jobs/check.js';
import { deckSchema } from '../../helpers.js';

const derived = (expression: string) => deckSchema({ derived: `x: "${expression}"` });
const many = (count: number, line: (i: number) => string) =>
  Array.from({ length: count }, (_, i) => line(i)).join('\n');

const anchors = [...'bcdefghijklmnopqrst'];
const bomb = [
  'leeshore: 1\na: &a [x, x, x, x, x, x, x, x, x]',
  ...anchors.map((name, i) => {
    const before = `*${i === 0 ? 'a' : (anchors[i - 1] ?? '')}`;
    return `${name}: &${name} [${Array.from({ length: 9 }, () => before).join(', ')}]`;
  }),
].join('\n');

/** Files that are made to make a checker fall over: each is fine, or has a problem of that code. */
const extremes: readonly (readonly [name: string, text: string, code: string | undefined])[] = [
  ['aliases that grow', bomb, 'unquoted'],
  [
    '10,000 lists in each other',
    `leeshore: 1\nstores: ${'['.repeat(10_000)}${']'.repeat(10_000)}`,
    'not-yaml',
  ],
  [
    '10,000 mappings in each other',
    `leeshore: 1\nstores: ${'{a: '.repeat(10_000)}1${'}'.repeat(10_000)}`,
    'not-yaml',
  ],
  [
    '3,000 levels of indentation',
    `leeshore: 1\nstores:\n${many(3000, (i) => `${' '.repeat(i + 1)}a:`)}`,
    'not-yaml',
  ],
  [
    '3,000 lists of lists',
    deckSchema({ state: `n: ${'{ list: '.repeat(3000)}string${' }'.repeat(3000)}` }),
    'not-yaml',
  ],
  [
    '10,000 parentheses',
    derived(`${'('.repeat(10_000)}1${')'.repeat(10_000)}`),
    'not-an-expression',
  ],
  ['100,000 operators', derived(`${'!'.repeat(100_000)}true`), 'not-an-expression'],
  ['a sum of 250,000', derived(Array(250_000).fill('capacityM').join(' + ')), 'not-an-expression'],
  [
    '20,000 calls in a row',
    derived(`capacityM${'.toFixed(1).length'.repeat(20_000)}`),
    'not-an-expression',
  ],
  ['a text of 1 MB', derived(`'${'a'.repeat(1_000_000)}'`), undefined],
  ['1 MB of nonsense', derived('((%$ '.repeat(200_000)), 'not-an-expression'],
  ['a list of 1 MB', derived(`[${Array(200_000).fill('1').join(',')}]`), undefined],
  [
    'numbers beyond all bounds',
    deckSchema({ state: `n: { type: number, minimum: 1e999, default: ${'9'.repeat(500)} }` }),
    'bad-type',
  ],
  [
    '10,000 derived values in a row',
    deckSchema({ derived: many(10_000, (i) => `d${i}: "d${i + 1} + 1"`) + '\nd10000: "1"' }),
    'wrong-structure',
  ],
  [
    '10,000 actions in a row',
    deckSchema({
      actions: many(10_000, (i) => `a${i}: [{ run: a${i + 1} }]`) + '\na10000: [{ reset: all }]',
    }),
    'wrong-structure',
  ],
  [
    '10,000 types in a row',
    deckSchema({
      types: many(10_000, (i) => `T${i}: T${i + 1}`) + '\nT10000: string',
      state: 'a: { maybe: T0 }',
    }),
    'wrong-structure',
  ],
];

describe('a file that is made to be too much', () => {
  test.each(extremes)('%s', async (_name, text, code) => {
    const { application, problems } = await checkSchemas([{ path: 'x', text }]);
    const errors = problems.filter(({ severity }) => severity === 'error');
    expect(new Set(errors.map((problem) => problem.code))).toEqual(
      new Set(code === undefined ? [] : [code]),
    );
    expect(application === undefined).toBe(code !== undefined);
  });
});

describe('names', () => {
  test.each([
    ['__proto__', 'bad-name'],
    ['toString', 'bad-name'],
    ['constructor', 'bad-name'],
    ['hasOwnProperty', 'bad-name'],
    ['class', 'bad-name'],
    ['await', 'bad-name'],
    ['payload', 'name-taken'],
    ['undefined', 'name-taken'],
    ['Math', 'name-taken'],
    ['a-b', 'bad-name'],
    ['ｎａｍｅ', 'bad-name'],
    ['c\u0430r', 'bad-name'],
    ['', 'bad-name'],
    ['then', undefined],
    ['toJSON', undefined],
    ['größe', undefined],
    ['длина', undefined],
  ])('%s', async (name, code) => {
    const state = `${JSON.stringify(name)}: { maybe: number }`;
    const { problems } = await checkSchemas([{ path: 'x', text: deckSchema({ state }) }]);
    const errors = problems.filter(({ severity }) => severity === 'error');
    expect(errors.map((problem) => problem.code)).toEqual(code === undefined ? [] : [code]);
  });
});

test('nothing in a schema is run when it is checked', async () => {
  const run = 'globalThis.ran = true';
  const text = deckSchema({
    types: `"Ran${'${'}${run}}": string`,
    derived: [
      `a: "(() => { ${run} })()"`,
      `b: "\`\${${run}}\`"`,
      `c: "[].constructor.constructor('${run}')()"`,
      `d: "import('data:text/javascript,${run}')"`,
      `e: "this.${run}"`,
      `f: "new Function('${run}')()"`,
    ].join('\n'),
    state: `n: { type: string, default: "\${${run}}" }`,
  });
  await checkSchemas([{ path: 'x', text }]);
  expect('ran' in globalThis).toBe(false);
});
