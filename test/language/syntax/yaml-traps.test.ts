import { describe, expect, test } from '@jest/globals';
import { checkSchemas } from '../../../src/jobs/check.js';

/** A slip, the code, the text that the problem points at, and what it says to write. */
const traps: readonly (readonly [slip: string, code: string, at: string, instead: string])[] = [
  ['full: !open && empty', 'unquoted', '!open && empty', '"!open && empty"'],
  ['full: { about: x, value: !open }', 'unquoted', '!open', '"!open"'],
  ['full: *open', 'unquoted', '*open', '"*open"'],
  ['full: &open', 'unquoted', '&open', '"&open"'],
  ['full: && open', 'unquoted', '&& open', '"&& open"'],
  ["label: 'deck ' + lane", 'unquoted', "'deck ' + lane", `"'deck ' + lane"`],
  ["label: 'Deck #' + lane", 'unquoted', "'Deck #' + lane", `"'Deck #' + lane"`],
  ['label: "deck " + lane', 'unquoted', '"deck " + lane', `"'deck ' + lane"`],
  ['label: `deck ${lane}`', 'unquoted', '`deck ${lane}`', '"`deck ${lane}`"'],
  [
    'last: [...nums, 1].at(-1) ?? 0',
    'unquoted',
    '[...nums, 1].at(-1) ?? 0',
    '"[...nums, 1].at(-1) ?? 0"',
  ],
  ['all: [...nums, 1]', 'unquoted', '[...nums, 1]', '"[...nums, 1]"'],
  ['box: { ...inner, n: 1 }', 'unquoted', '...inner', '...: "inner"'],
  ['box: { ...inner, n: 1 }.n', 'unquoted', '{ ...inner, n: 1 }.n', '"{ ...inner, n: 1 }.n"'],
  [
    'most: { value: Math.max(open, empty) }',
    'unquoted',
    'Math.max(open, empty)',
    '"Math.max(open, empty)"',
  ],
  [
    'most: { value: Math.max(a, b, c), about: x }',
    'unquoted',
    'Math.max(a, b, c)',
    '"Math.max(a, b, c)"',
  ],
  ['first: { about: x, value: nums[0] }', 'unquoted', 'nums[0]', '"nums[0]"'],
  ['first: { value: nums[at].b, about: x }', 'unquoted', 'nums[at].b', '"nums[at].b"'],
  ['size: empty ? 0 : 1', 'unquoted', 'empty ? 0 : 1', '"empty ? 0 : 1"'],
  ['size: { value: empty ? 0 : 1 }', 'unquoted', 'empty ? 0 : 1', '"empty ? 0 : 1"'],
  ["label: lane + ' #1'", 'unquoted', "lane + ' #1'", `"lane + ' #1'"`],
  ['size: { value:empty }', 'no-space', 'value:empty', 'value: empty'],
  [`label: "it\\'s full"`, 'bad-escape', "\\'", 'stands as it is'],
];

/** The same slips where types and texts stand. */
const others: typeof traps = [
  ['lane: { $ref: #/types/Lane }', 'unquoted', '#/types/Lane', '"#/types/Lane"'],
  ['lane:\n  $ref: #/types/Lane', 'unquoted', '#/types/Lane', '"#/types/Lane"'],
  ['lane: { list:Lane }', 'no-space', 'list:Lane', 'list: Lane'],
];

const reasons: typeof traps = [
  [
    '- { that: "empty", otherwise: no room, sorry }',
    'unquoted',
    'no room, sorry',
    '"no room, sorry"',
  ],
  ['- { that: !empty, otherwise: no room }', 'unquoted', '!empty', '"!empty"'],
];

function indented(text: string, by: number): string {
  return text.replace(/^/gm, ' '.repeat(by));
}

/** A schema around a slip, with so many fine lines before and after it. */
function schemaWith(parts: { state?: string; derived?: string; requires?: string }, lines: number) {
  const filler = (from: number) =>
    Array.from({ length: lines }, (_, i) => `      f${from + i}: { maybe: string }\n`).join('');
  return `leeshore: 1
types:
  Lane: { enum: [port, centre] }
stores:
  before:
    state:
${filler(0)}      x: { maybe: string }
  deck:
    state:
      nums: { list: number }
      open: { type: boolean, default: true }
      empty: { type: boolean, default: true }
${parts.state === undefined ? '' : `${indented(parts.state, 6)}\n`}    derived:
      first: "1"
${parts.derived === undefined ? '' : `${indented(parts.derived, 6)}\n`}    actions:
      go:
        requires:
${parts.requires === undefined ? `          - { that: "empty", otherwise: No. }` : indented(parts.requires, 10)}
        steps: []
  after:
    state:
${filler(1000)}      y: { maybe: string }
`;
}

async function only(schema: string) {
  const { problems } = await checkSchemas([{ path: 'test.stores.yaml', text: schema }]);
  const errors = problems.filter(({ severity }) => severity === 'error');
  return errors.map(({ code, span, hint }) => ({
    code,
    at: schema.slice(span.start, span.end),
    line: span.source.placeOf(span.start).line,
    hint,
  }));
}

describe.each([
  ['alone', 0],
  ['in 200 lines', 100],
])('a slip in YAML is one problem that says what to write: %s', (_name, lines) => {
  const all = [
    ...traps.map((trap) => ['derived', ...trap] as const),
    ...others.map((trap) => ['state', ...trap] as const),
    ...reasons.map((trap) => ['requires', ...trap] as const),
  ];
  test.each(all)('%s %s', async (place, slip, code, at, instead) => {
    const schema = schemaWith({ [place]: slip }, lines);
    const found = await only(schema);
    expect(found).toEqual([
      {
        code,
        at,
        line: schema
          .slice(0, schema.indexOf(at, schema.indexOf(slip.split('\n')[0] ?? '')))
          .split('\n').length,
        hint: expect.stringContaining(instead) as unknown,
      },
    ]);
  });
});

test('two slips on two lines are two problems', async () => {
  const found = await only(schemaWith({ derived: 'a: empty ? 0 : 1\nb: `deck`' }, 3));
  expect(found.map(({ at }) => at)).toEqual(['empty ? 0 : 1', '`deck`']);
});

test('what looks alike and is fine gives no problem', async () => {
  const fine = [
    'size: 5 # a comment',
    'flag: open # not: "a trap"',
    `label: "open ? 'a, b' : 'c: d'"`,
    'box: { value: { a: "open", b: [1, "nums.length"] } }',
    'long: >-\n  open\n    ? 1 : 0',
  ].join('\n');
  expect(await only(schemaWith({ derived: fine }, 0))).toEqual([]);
});
