import { expect, test } from '@jest/globals';
import { problemsOf } from '../../helpers.js';

/** The lines of the problems, with their codes. */
async function placesOf(schema: string): Promise<string[]> {
  return (await problemsOf(schema)).map((problem) => problem.split(' ').slice(0, 2).join(' '));
}

test('what is wrong in the structure hides nothing that is wrong elsewhere', async () => {
  const schema = `leeshore: 1
titel: Terminal
stores:
  deck:
    state:
      a: { type: number, default: 0 }
      b: { type: number }
    derived:
      d: "a + nope"
      e: { vlue: "a" }
    actions:
      go:
        paylod: number
        steps:
          - set: { a: "payload" }
      other:
        - set: { a: "'text'" }
        - sett: { a: 1 }
        - set: { a: "'more'" }
`;
  expect(await placesOf(schema)).toEqual([
    '2:1 wrong-structure',
    '7:7 no-default',
    '9:15 unknown-name',
    '10:12 wrong-structure',
    '13:9 wrong-structure',
    '17:22 type-mismatch',
    '18:11 wrong-structure',
    '19:22 type-mismatch',
  ]);
});

test('what follows from what is wrong in the structure is not told as well', async () => {
  const schema = `leeshore: 1
stores:
  deck:
    state:
      a: { type: number, default: 0 }
    derived:
      e: { vlue: "a" }
      f: "e + 1"
    actions:
      bad: 5
      other:
        - run: bad
        - lett: { x: "a" }
        - set: { a: "x + 1" }
    reacts:
      - to: wind.gone
        step: []
  wind:
    value: { type: number, default: 0 }
    actions:
      gone: true
`;
  expect(await placesOf(schema)).toEqual([
    '7:12 wrong-structure',
    '10:12 wrong-structure',
    '13:11 wrong-structure',
    '17:9 wrong-structure',
    '21:13 wrong-structure',
  ]);
});

test.each(['stores: 5', 'stores: { deck: 5 }', 'leeshore: 2\nstores: {}', 'use: 5'])(
  'a file of which nothing is left is one problem: %s',
  async (text) => {
    const schema = text.startsWith('leeshore') ? text : `leeshore: 1\n${text}`;
    expect(await placesOf(schema)).toHaveLength(1);
  },
);
