import { describe, expect, test } from '@jest/globals';
import { compareStores } from '../../../src/jobs/compare.js';
import { deckSchema, ferryText, foldersOf, modelOf, problemsOf, unlimited } from '../../helpers.js';

/** What `check` says of a schema with one slip: exactly one problem, at its place. */
const slips: readonly (readonly [name: string, schema: string, problem: string])[] = [
  ['broken YAML', 'leeshore: 1\nstores: { deck: [', '2:18 not-yaml'],
  ['an empty file', '', '1:1 not-yaml This is not valid YAML: the file is empty'],
  [
    'a second document',
    `${deckSchema({})}---\nstores: {}\n`,
    '6:1 not-yaml This is not valid YAML: a second document begins here',
  ],
  ['a log', '{"leeshoreLog":1}\n{"do":"deck.board"}\n', '1:1 not-a-schema This is a log'],
  ['a script', '{\n  "leeshoreScript": 1 }', '1:1 not-a-schema This is a script'],
  [
    'a type that is written out, with a bound beside it',
    deckSchema({ state: 'b: { type: { enum: [1, 2] }, minimum: 1, default: 1 }' }),
    "5:36 bad-type 'minimum' stands within the braces of 'type'.",
  ],
  [
    'a number above a least one without a default',
    deckSchema({ state: 'n: { type: number, minimum: 5 }' }),
    "5:7 no-default 'n' (a number) has no default.",
  ],
  [
    'a YAML alias',
    'leeshore: 1\nstores: *all\n',
    "2:9 unquoted YAML takes '*' at the start for an alias.",
  ],
  ['a YAML tag', deckSchema({ state: 'hold: !!str x' }), '5:19 not-plain-yaml A YAML tag'],
  [
    'an unknown section',
    'leeshore: 1\nstores: { deck: { stat: {} } }',
    "2:19 wrong-structure Unknown key 'stat' in 'deck'.",
  ],
  ['a missing version', 'stores: { deck: {} }', "1:1 wrong-structure The file lacks 'leeshore'."],
  [
    'another version',
    'leeshore: 2\nstores: { deck: {} }',
    "1:11 wrong-structure 'leeshore' should be 1.",
  ],
  [
    'a list for a mapping',
    'leeshore: 1\nstores: [deck]',
    "2:9 wrong-structure 'stores' should be a mapping.",
  ],
  [
    'a version that is no number',
    `${deckSchema({})}    saved: { version: 2, from: { a: { capacityM: "old.m" } } }\n`,
    "6:34 wrong-structure 'a' in 'from' is not a version.",
  ],
  [
    'a lazy store that is one value',
    'leeshore: 1\nstores: { ramp: { value: { enum: [up, down], default: up }, lazy: true } }',
    '2:67 wrong-structure A store that is one value cannot be lazy: until it is attached it is null.',
  ],
  [
    'a lazy store that is read as if it were there',
    `leeshore: 1
stores:
  annex: { lazy: true, state: { perM: { type: number, default: 2 } } }
  deck: { state: { m: { type: number, default: 0 } }, derived: { fee: "m * annex.perM" } }`,
    "4:76 not-attached The store 'annex' is lazy: it may not be attached when this is read.",
  ],
  [
    'chance in a derived value',
    deckSchema({ derived: 'a: "random()"' }),
    "7:11 only-in-steps 'random()' is for the steps",
  ],
  [
    'a comparator that asks the environment',
    deckSchema({
      state: 'cars: { list: string }',
      actions: 'mix:\n  - set: { cars: "cars.toSorted((a, b) => random() - 0.5)" }',
    }),
    '8:49 only-in-steps',
  ],
  [
    'a type that fits() does not know',
    deckSchema({ types: 'Lane: string', derived: `a: "fits('port', 'Lan')"` }),
    "9:24 unknown-type There is no type named 'Lan'.",
  ],
  [
    'a pattern for what is not there',
    deckSchema({
      state: 'cars: { list: { fields: { id: string } } }',
      derived: 'a: "cars.map(({ plate }) => plate)"',
    }),
    '7:23 no-such-property',
  ],
  [
    'a pattern that hides a field',
    deckSchema({
      state: 'id: { maybe: string }\ncars: { list: { fields: { id: string } } }',
      derived: 'a: "cars.map(({ id }) => 1)"',
    }),
    "8:23 name-taken 'id' is already the name of something in the store 'deck'.",
  ],
  [
    'an iterator that is kept',
    deckSchema({ state: 'cars: { list: string }', derived: 'a: "cars.entries()"' }),
    "7:11 wrong-arguments 'entries' takes to be spread into a list: [...list.entries()].",
  ],
  [
    'an order by what has none',
    deckSchema({ state: 'cars: { list: string }', derived: 'a: "sortBy(cars, c => [c])"' }),
    "7:24 type-mismatch The order of 'sortBy' takes a number or text, but this is a list of text.",
  ],
  [
    'an order that no value can have',
    deckSchema({
      state: 'e: { enum: [port], default: port }\ncars: { list: string }',
      derived: `a: "e === 'port' ? cars : sortBy(cars, c => e)"`,
    }),
    '8:46 never-here This can have no value here',
  ],
  [
    'a property that only one of a union has',
    deckSchema({
      types:
        'Any: { oneOf: [{ fields: { kind: { const: bus }, seats: integer } }, { fields: { kind: { const: van } } }] }',
      state: 'last: { maybe: Any }',
      derived: 'a: "last === null ? 0 : last.seats"',
    }),
    '9:36 no-such-property',
  ],
  [
    'a union whose objects cannot be told apart',
    deckSchema({
      state: 'last: { maybe: { oneOf: [{ fields: { a: string } }, { fields: { b: string } }] } }',
    }),
    "5:31 bad-type The objects of 'oneOf' need a property that tells them apart",
  ],
  [
    'an unknown format',
    deckSchema({ state: 'day: { type: string, format: dat, default: x }' }),
    "5:36 bad-type 'format' is one of: date, date-time, uuid, email, uri.",
  ],
  [
    'a list that cannot start empty',
    deckSchema({ state: 'watch: { list: string, minItems: 1 }' }),
    "5:7 no-default 'watch' (a list of text) has no default.",
  ],
  [
    'a default with an item twice',
    deckSchema({ state: 'watch: { list: string, uniqueItems: true, default: [a, a] }' }),
    '5:58 default-misfit',
  ],
  [
    'a default with a key twice',
    deckSchema({
      state: 'watch: { list: { fields: { id: string } }, by: id, default: [{ id: a }, { id: a }] }',
    }),
    '5:67 default-misfit',
  ],
  [
    'a reserved word',
    deckSchema({ state: 'class: { maybe: string }' }),
    "5:7 bad-name 'class' cannot be a name: it is a reserved word.",
  ],
  [
    'a name of every object',
    deckSchema({ state: 'toString: { maybe: string }' }),
    "5:7 bad-name 'toString'",
  ],
  [
    'two things of one name',
    deckSchema({ derived: 'capacityM: "1"' }),
    "7:7 name-taken 'capacityM' is already the name of a field.",
  ],
  [
    'a key twice',
    deckSchema({ state: 'hold: { maybe: string }\nhold: { maybe: number }' }),
    "6:7 name-taken 'hold' is already the name of another entry here.",
  ],
  [
    'a local that hides what the language has',
    deckSchema({ derived: 'all: "[1].map(Math => Math)"' }),
    "7:21 name-taken 'Math' is already the name of something in the expression language.",
  ],
  [
    'a parameter that hides what the language has',
    deckSchema({ derived: 'all: "twice(capacityM)"' }).replace(
      'stores:',
      'functions: { twice: { given: { Number: number }, value: "Number * 2" } }\nstores:',
    ),
    "2:32 name-taken 'Number' is already the name of something in the expression language.",
  ],
  [
    'a local that hides a field',
    deckSchema({ state: 'v: { list: number }', derived: 'all: "v.map(v => v)"' }),
    "7:19 name-taken 'v' is already the name of something in the store 'deck'.",
  ],
  [
    'an unknown name',
    deckSchema({ derived: 'half: "capasityM / 2"' }),
    "7:14 unknown-name There is nothing named 'capasityM' here.",
  ],
  [
    'an unknown type',
    deckSchema({ state: 'cars: { list: Vehicel }', types: 'Vehicle: { fields: { id: string } }' }),
    "7:21 unknown-type There is no type named 'Vehicel'.",
  ],
  [
    'an unknown keyword',
    deckSchema({ state: 'plate: { type: string, pattern: x, default: a }' }),
    "5:30 unknown-keyword 'pattern' is no keyword of a type.",
  ],
  [
    'a type that says nothing',
    deckSchema({ state: 'plate: { default: a }' }),
    '5:14 bad-type This says no type.',
  ],
  [
    'a bound of the wrong kind',
    deckSchema({ state: 'n: { type: number, minimum: low, default: 0 }' }),
    "5:35 bad-type 'minimum' takes a number.",
  ],
  [
    'a key that no item has',
    deckSchema({ state: 'cars: { list: { fields: { id: string } }, by: ident }' }),
    "5:53 no-such-property The item has no property 'ident'.",
  ],
  [
    'a type in itself',
    deckSchema({ types: 'Car: { fields: { next: Car } }' }),
    '3:3 circular-type The type contains itself: Car -> Car.',
  ],
  [
    'no default',
    deckSchema({ state: 'n: number' }),
    "5:7 no-default 'n' (a number) has no default.",
  ],
  [
    'a default that does not fit',
    deckSchema({ state: 'n: { type: number, minimum: 1, default: 0 }' }),
    "5:47 default-misfit The default of 'n' is no number: must be >= 1.",
  ],
  [
    'a default where none may be',
    deckSchema({ state: 'plates: { list: { type: string, default: x } }' }),
    '5:39 misplaced-default',
  ],
  [
    'no expression',
    deckSchema({ derived: 'half: "capacityM /"' }),
    '7:25 not-an-expression This is not an expression: Unexpected token.',
  ],
  [
    'loose equality',
    deckSchema({ derived: 'none: "capacityM == 0"' }),
    "7:23 not-in-language '==' is not part of the expression language.",
  ],
  [
    'an assignment',
    deckSchema({ derived: 'none: "capacityM = 0"' }),
    '7:14 not-in-language An assignment',
  ],
  [
    'a prototype',
    deckSchema({ derived: 'odd: "{ __proto__: 1 }"' }),
    "7:15 not-in-language The key '__proto__'",
  ],
  [
    'a call of a constructor',
    deckSchema({ derived: 'odd: "new Date()"' }),
    "7:13 not-in-language 'new'",
  ],
  [
    'a global',
    deckSchema({ derived: 'odd: "globalThis"' }),
    "7:13 unknown-name There is nothing named 'globalThis' here.",
  ],
  [
    'text in arithmetic',
    deckSchema({
      actions: "grow:\n  payload: string\n  steps:\n    - set: { capacityM: 'payload * 2' }",
    }),
    "10:32 text-arithmetic '*' is for numbers, but this is text.",
  ],
  [
    'text added to a number',
    deckSchema({ derived: 'odd: "capacityM + \'m\'"' }),
    "7:25 text-arithmetic '+' is for numbers, but this is text.",
  ],
  [
    'a payload of another shape',
    deckSchema({
      actions: 'grow:\n  payload: boolean\n  steps:\n    - set: { capacityM: "payload" }',
    }),
    "10:32 type-mismatch 'capacityM' takes a number, but this is true or false.",
  ],
  [
    'find without handling its absence',
    deckSchema({
      state: 'n: { type: number, default: 0 }\nall: { list: number }',
      actions: 'pick:\n  - set: { n: "all.find(a => a > 1)" }',
    }),
    "9:22 maybe-missing This value may be absent, and 'n' does not take that.",
  ],
  [
    'null in arithmetic',
    deckSchema({ state: 'n: { maybe: number }', derived: 'more: "n + 1"' }),
    "7:14 maybe-missing This value may be null, and '+' does not take that.",
  ],
  [
    'identity of objects',
    deckSchema({
      state: 'all: { list: { fields: { id: string } } }',
      derived: 'odd: "all.includes(all[0] ?? { id: 1 })"',
    }),
    "7:13 identity-comparison 'includes' compares",
  ],
  [
    'what is never equal',
    deckSchema({ derived: 'odd: "capacityM === \'full\'"' }),
    "7:13 never-equal a number and text 'full' are never equal.",
  ],
  [
    'a property that is not there',
    deckSchema({
      state: 'all: { list: { fields: { plate: string } } }',
      derived: 'odd: "all.map(v => v.plat)"',
    }),
    "7:28 no-such-property An object { plate } has no property 'plat'.",
  ],
  [
    'a method that is not there',
    deckSchema({ state: 'all: { list: number }', derived: 'odd: "all.sort()"' }),
    "7:17 no-such-method A list of number has no method 'sort'",
  ],
  [
    'arguments of the wrong number',
    deckSchema({ derived: 'odd: "Math.abs()"' }),
    "7:13 wrong-arguments 'Math.abs' takes a number.",
  ],
  [
    'numbers sorted as text',
    deckSchema({ state: 'all: { list: number }', derived: 'odd: "all.toSorted()"' }),
    "7:13 wrong-arguments 'toSorted' takes a function",
  ],
  [
    'an id in a derived value',
    deckSchema({ derived: 'odd: "newId()"' }),
    "7:13 only-in-steps 'newId()' is for the steps",
  ],
  [
    'a path that is no place',
    deckSchema({ actions: 'odd:\n  - set: { "capacityM + 1": 2 }' }),
    '8:19 not-a-path',
  ],
  [
    'a path to a derived value',
    deckSchema({ derived: 'half: "capacityM / 2"', actions: 'odd:\n  - set: { half: 2 }' }),
    "10:18 not-a-path This is no place in the state: 'half' is a derived value.",
  ],
  [
    'overlapping paths',
    deckSchema({
      state: 'car: { fields: { id: string }, default: { id: a } }',
      actions: 'odd:\n  - set: { car: { id: "\'b\'" }, car.id: "\'c\'" }',
    }),
    "8:38 overlapping-paths 'car' and 'car.id' overlap.",
  ],
  [
    'a ring of derived values',
    deckSchema({ derived: 'a: "b + 1"\nb: "a + 1"' }),
    '8:11 circular-value deck.a depends on itself: deck.a -> deck.b -> deck.a.',
  ],
  [
    'a step that does nothing',
    deckSchema({ actions: 'odd:\n  - {}' }),
    '8:11 wrong-structure This step does nothing.',
  ],
  [
    'a function that calls itself',
    'leeshore: 1\nfunctions: { a: { given: { n: number }, value: "a(n) + 1" } }\nstores: { deck: {} }',
    '2:49 circular-value a() depends on itself: a() -> a().',
  ],
  [
    'a function that reads a store',
    'leeshore: 1\nfunctions: { a: { value: "deck.n + 1" } }\nstores: { deck: { state: { n: { type: number, default: 0 } } } }',
    "2:27 unknown-name There is nothing named 'deck' here.",
  ],
  [
    'a function of the wrong number of arguments',
    'leeshore: 1\nfunctions: { a: { given: { n: number }, value: "n + 1" } }\nstores: { deck: { derived: { d: "a()" } } }',
    "3:34 wrong-arguments 'a' takes n.",
  ],
  [
    'conditions that exclude each other',
    deckSchema({
      state: 'hold: { maybe: string }',
      derived: 'odd: "hold === null && (hold !== null ? hold.trim() === \'a\' : true)"',
    }),
    '7:47 never-here This can have no value here',
  ],
  [
    'a type that is itself or null',
    deckSchema({ types: 'Car: { maybe: Car }' }),
    '3:3 circular-type The type contains itself: Car -> Car.',
  ],
];

describe('each slip is one problem at its place', () => {
  test.each(slips)('%s', async (_name, schema, problem) => {
    const found = await problemsOf(schema);
    expect(found).toHaveLength(1);
    expect(found[0]).toContain(problem);
  });
});

test('the demo schema has no problem', async () => {
  expect(await problemsOf(ferryText)).toEqual([]);
});

test('seven slips in the demo schema are seven problems, each with a hint', async () => {
  const slip = (from: string, to: string) => (text: string) => {
    expect(text).toContain(from);
    return text.replace(from, to);
  };
  const text = [
    slip('usedM"', 'usdM"'),
    slip('clear:', 'freeM:'),
    slip('hold === null && !full', 'hold == null && !full'),
    slip('"(byLane[payload.lane] ?? 0) + payload.lengthM"', '"payload.plate * payload.lengthM"'),
    slip('hold: "payload"', 'hold: "vehicles.find(v => v.id === payload)?.plate"'),
    slip('minimum: 5, maximum: 40, default: 18', 'minimum: 5, maximum: 40'),
    slip('lane: Lane', 'lane: { type: string, pattern: "^p" }'),
  ].reduce((schema, change) => change(schema), ferryText);
  const codes = (await problemsOf(text)).map((problem) => problem.split(' ')[1]);
  expect(codes.toSorted()).toEqual(
    [
      'maybe-missing',
      'name-taken',
      'no-default',
      'not-in-language',
      'text-arithmetic',
      'unknown-keyword',
      'unknown-name',
    ].toSorted(),
  );
});

test('types that contain themselves by way of lists, maybes and options are fine, and are compared', async () => {
  const types =
    'A: { fields: { kids: { list: A }, next: { maybe: A }, more: A }, optional: [more] }\nB: { fields: { kids: { list: B }, next: { maybe: B }, more: B }, optional: [more] }';
  const state = 'all: { list: A }\nother: { maybe: B }';
  const actions =
    'take:\n  payload: B\n  steps:\n    - append: { to: all, value: "payload" }\n    - set: { other: "payload.next" }';
  const application = await modelOf(deckSchema({ types, state, actions }));
  const comparison = await compareStores(application, await foldersOf(application), {
    ...unlimited,
    seed: 1,
    steps: 40,
  });
  expect(comparison.verdict).toBe('same');
});
