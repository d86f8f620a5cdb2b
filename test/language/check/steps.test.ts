import { describe, expect, test } from '@jest/globals';
import { deckSchema, problemsOf } from '../../helpers.js';

const types = 'Car: { fields: { id: string, len: number, note: string }, optional: [note] }';
const state = `
cars: { list: Car, by: id }
loose: { list: Car }
nums: { list: number }
map: { map: number }
crews: { map: Car }
car: { maybe: Car }
open: { type: boolean, default: true }
n: { type: number, default: 0 }
`;

/** A step that is wrong, with the one problem that is found in it. */
const wrong: readonly (readonly [step: string, problem: string])[] = [
  ['set: { m: 1 }', "unknown-name There is nothing named 'm' here."],
  ['set: { n: "\'a\'" }', "type-mismatch 'n' takes a number, but this is text 'a'."],
  ['set: { n: null }', "type-mismatch 'n' takes a number, but this is null."],
  ['set: { car.len: 1 }', 'maybe-missing This may be null, and a path does not take that.'],
  ['set: { "cars[0].len": 1 }', "type-mismatch The key 'id' takes text, but this is 0."],
  [
    'set: { "loose[\'a\'].len": 1 }',
    "type-mismatch A position takes a number, but this is text 'a'.",
  ],
  ['set: { "map[1]": 1 }', 'type-mismatch A key of a dictionary takes text, but this is 1.'],
  ['set: { n.len: 1 }', "no-such-property a number has no property 'len'."],
  ['set: { "cars[\'a\'].lenn": 1 }', "no-such-property Car has no property 'lenn'."],
  [
    'set: { "cars[\'a\'].note.x": 1 }',
    "maybe-missing 'note' may be absent, and a path does not take that.",
  ],
  ['set: { "open ? n : n": 1 }', 'not-a-path This is no place in the state: it is an expression.'],
  [
    'set: { other.n: 1 }',
    "not-a-path This is no place in the state: 'other' is another store; an action stores to its own.",
  ],
  ['append: { to: n, value: 1 }', "wrong-structure 'n' is no list but a number."],
  ['append: { to: nums }', "wrong-structure 'append' takes either 'value' or 'values'."],
  [
    'append: { to: nums, value: 1, values: [] }',
    "wrong-structure 'append' takes either 'value' or 'values'.",
  ],
  [
    'append: { to: nums, value: "[1]" }',
    "type-mismatch 'append' takes a number, but this is a list of 1.",
  ],
  [
    'append: { to: cars, value: { id: "\'a\'" } }',
    "type-mismatch 'append' takes Car, but this is an object { id }.",
  ],
  [
    'append: { to: cars, value: { id: "\'a\'", len: 1, boat: 2 } }',
    "type-mismatch 'append' takes Car, but this is an object { id, len, boat }.",
  ],
  [
    'append: { to: "cars[\'a\'].note", value: 1 }',
    "maybe-missing 'cars['a'].note' may be absent, and 'to' does not take that.",
  ],
  [
    'remove: { from: crews, each: c, where: "true" }',
    "wrong-structure A dictionary takes 'each' with two names, [key, value], and 'where'.",
  ],
  [
    'remove: { from: crews, each: [a, b, c], where: "true" }',
    "wrong-structure A dictionary takes 'each' with two names, [key, value], and 'where'.",
  ],
  [
    'remove: { from: crews, each: { a: 1 }, where: "true" }',
    "wrong-structure 'each' should be text or a list.",
  ],
  [
    'remove: { from: crews, each: [k, 1], where: "true" }',
    "wrong-structure Item 2 of 'each' should be text.",
  ],
  [
    'remove: { from: crews, each: [k, k], where: "open" }',
    "name-taken 'k' is already the name of a name that is in use here.",
  ],
  [
    'remove: { from: crews, key: "\'a\'" }',
    "wrong-structure 'key' is for lists. One entry is changed by 'set' with its path, and taken out by 'drop'.",
  ],
  [
    'update: { in: crews, each: [k, c], where: "c.len", set: { len: 1 } }',
    "type-mismatch 'where' takes true or false, but this is a number.",
  ],
  [
    'update: { in: crews, each: [k, c], where: "c.len > 1", set: { lenn: 1 } }',
    "no-such-property The item has no property 'lenn'.",
  ],
  [
    'update: { in: crews, each: [k, c], where: "c.len > 1", set: { len: "k" } }',
    "type-mismatch 'len' takes a number, but this is text.",
  ],
  [
    'update: { in: map, each: [k, n2], where: "n2 > 1", set: { len: 1 } }',
    "wrong-structure 'update' changes properties: it is for lists and dictionaries of objects.",
  ],
  [
    'remove: { from: cars, each: [k, c], where: "c.len > 1" }',
    "wrong-structure Over a list 'each' is one name: that of an item.",
  ],
  ['insert: { to: nums, value: 1 }', "wrong-structure 'insert' takes 'at': the position."],
  [
    'insert: { to: nums, at: "\'a\'", value: 1 }',
    "type-mismatch A position takes a number, but this is text 'a'.",
  ],
  [
    'put: { in: loose, value: { id: "\'a\'", len: 1 } }',
    "wrong-structure 'put' is for dictionaries and keyed lists, but 'loose' is a list of Car.",
  ],
  [
    'put: { in: map, value: 1 }',
    "wrong-structure 'put' into a dictionary takes a 'key' and a 'value'.",
  ],
  [
    'put: { in: cars, key: "\'a\'", value: { id: "\'a\'", len: 1 } }',
    "wrong-structure 'put' into a keyed list takes no 'key': the item has it.",
  ],
  [
    'update: { in: nums, each: i, where: "i > 1", set: { n: 1 } }',
    "wrong-structure 'update' changes properties: it is for lists and dictionaries of objects.",
  ],
  [
    'update: { in: cars, set: { len: 1 } }',
    "wrong-structure Say which items: with either 'key' or 'where'.",
  ],
  [
    'update: { in: cars, where: "true", set: { len: 1 } }',
    "wrong-structure 'where' needs 'each': the name of one item in it.",
  ],
  [
    'update: { in: cars, each: c, where: "c.len", set: { len: 1 } }',
    "type-mismatch 'where' takes true or false, but this is a number.",
  ],
  [
    'update: { in: cars, each: c, where: "true", set: { lenn: 1 } }',
    "no-such-property The item has no property 'lenn'.",
  ],
  [
    'update: { in: loose, key: "\'a\'", set: { len: 1 } }',
    "wrong-structure 'key' is for keyed lists: give the list 'by', or use 'where'.",
  ],
  [
    'update: { in: cars, each: n, where: "true", set: { len: 1 } }',
    "name-taken 'n' is already the name of something in the store 'deck'.",
  ],
  [
    'update: { in: cars, key: "\'a\'", set: { ...: { boat: 1 } } }',
    "type-mismatch '...' takes an object { id?, len?, note? }, but this is an object { boat }.",
  ],
  [
    'remove: { from: cars, each: c, where: "true", none: No. }',
    "wrong-structure 'none' goes with 'key': 'where' may match nothing.",
  ],
  ['remove: { from: cars, key: 1 }', "type-mismatch The key 'id' takes text, but this is 1."],
  [
    'drop: { from: "cars[\'a\']", key: len }',
    "wrong-structure 'len' is not optional: it cannot be dropped.",
  ],
  ['drop: { from: "cars[\'a\']", key: nte }', "no-such-property Car has no property 'nte'."],
  [
    'drop: { from: nums, key: "\'a\'" }',
    "wrong-structure 'drop' is for dictionaries and optional properties, but 'nums' is a list of number.",
  ],
  ['toggle: n', "wrong-structure 'n' is not true or false but a number."],
  [
    'toggle: { in: cars, value: { id: "\'a\'", len: 1 } }',
    "wrong-structure 'toggle' is for lists of text or numbers, but 'cars' is a list of Car.",
  ],
  ['toggle: { in: nums }', "wrong-structure 'toggle' of a list takes a 'value'."],
  ['move: { in: nums, at: 0 }', "wrong-structure 'move' takes 'to', and either 'key' or 'at'."],
  [
    'move: { in: loose, key: "\'a\'", to: 0 }',
    "wrong-structure 'key' is for keyed lists: give the list 'by', or use 'at'.",
  ],
  [
    'when: "n", then: [{ set: { n: 1 } }]'.replace('when: "n", ', 'when: "n"\n    '),
    "type-mismatch 'when' takes true or false, but this is a number.",
  ],
  ['when: "open"', "wrong-structure 'when' takes 'then': the steps to do."],
  ['when: "open"\n    then: []\n    none: No.', "wrong-structure 'none' does not go with 'when'."],
  ['let: { n: 1 }', "name-taken 'n' is already the name of something in the store 'deck'."],
  ['let: { class: 1 }', "bad-name 'class' cannot be a name: it is a reserved word."],
  ['reset: [m]', "unknown-name There is nothing named 'm' here."],
  ['reset: some', "wrong-structure 'reset' takes 'all', 'history' or a list of fields."],
  ['reset: { stores: some }', "wrong-structure 'stores' takes 'all' or a list of stores."],
  [
    'set: { n: 1 }\n    append: { to: nums, value: 1 }',
    'wrong-structure This is 2 steps in one: set, append.',
  ],
  ['run: other', "unknown-name There is nothing named 'other' here."],
];

describe('a step that is wrong is one problem', () => {
  test.each(wrong)('%s', async (step, problem) => {
    const schema = `${deckSchema({ types, state, actions: `go:\n  - ${step}` })}  other:\n    state: { n: { type: number, default: 0 } }\n`;
    const [first, ...more] = await problemsOf(schema);
    expect(first).toContain(problem);
    expect(more).toEqual([]);
  });
});

describe('a step sees what the ones before it did', () => {
  const accepted = (actions: string) => problemsOf(deckSchema({ types, state, actions }));

  test('a name of a let is known after it, and in the branches of a when', async () => {
    expect(
      await accepted(
        'go:\n  - let: { twice: "n * 2" }\n  - when: "twice > 1"\n    then: [{ set: { n: "twice" } }]',
      ),
    ).toEqual([]);
  });

  test('a name of a let in a branch is not known after the branch', async () => {
    const found = await accepted(
      'go:\n  - when: "open"\n    then: [{ let: { twice: "n * 2" } }]\n  - set: { n: "twice" }',
    );
    expect(found).toEqual([
      expect.stringContaining("unknown-name There is nothing named 'twice' here."),
    ]);
  });

  test('what a requirement has narrowed holds until the field is written', async () => {
    const requires = 'requires: [{ that: "car !== null", otherwise: No car. }]';
    expect(
      await accepted(
        `go:\n  ${requires}\n  steps:\n    - set: { n: "car.len" }\n    - set: { n: "car.len + 1" }`,
      ),
    ).toEqual([]);
    const written = await accepted(
      `go:\n  ${requires}\n  steps:\n    - set: { car: null }\n    - set: { n: "car.len" }`,
    );
    expect(written).toEqual([
      expect.stringContaining(
        "maybe-missing This value may be null, and '.len' does not take that.",
      ),
    ]);
  });

  test('what a when has narrowed holds in its branch', async () => {
    expect(
      await accepted(
        'go:\n  - when: "car === null"\n    then: [{ set: { n: 0 } }]\n    else: [{ set: { n: "car.len" } }]',
      ),
    ).toEqual([]);
    const wrongBranch = await accepted(
      'go:\n  - when: "car === null"\n    then: [{ set: { n: "car.len" } }]',
    );
    expect(wrongBranch).toHaveLength(1);
  });

  test('a requirement with let names a value that is there', async () => {
    const go =
      'go:\n  payload: string\n  requires: [{ let: { found: "cars.find(c => c.id === payload)" }, otherwise: None. }]\n  steps:\n    - set: { n: "found.len", car: "found" }';
    expect(await accepted(go)).toEqual([]);
  });
});
