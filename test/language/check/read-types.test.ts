import { describe, expect, test } from '@jest/globals';
import { typesDocument } from '../../../src/model/json-schema.js';
import { compareStores } from '../../../src/jobs/compare.js';
import { deckSchema, foldersOf, modelOf, problemsOf, unlimited } from '../../helpers.js';

const asJsonSchema = async (type: string) =>
  typesDocument(await modelOf(deckSchema({ types: `Other: string\nT: ${type}` }))).types.T;

describe('a type stands for JSON Schema', () => {
  test.each<[string, object]>([
    ['string', { type: 'string' }],
    ['integer', { type: 'integer' }],
    ['Other', { $ref: '#/types/Other' }],
    ["{ $ref: '#/types/Other' }", { $ref: '#/types/Other' }],
    [
      '{ type: string, minLength: 1, maxLength: 3 }',
      { type: 'string', minLength: 1, maxLength: 3 },
    ],
    [
      '{ type: number, exclusiveMinimum: 0, multipleOf: 0.5 }',
      { type: 'number', exclusiveMinimum: 0, multipleOf: 0.5 },
    ],
    ["{ type: [string, 'null'] }", { anyOf: [{ type: 'string' }, { type: 'null' }] }],
    ['{ enum: [a, 1, true, null] }', { enum: ['a', 1, true, null] }],
    ['{ const: a }', { const: 'a' }],
    ['{ maybe: Other }', { anyOf: [{ $ref: '#/types/Other' }, { type: 'null' }] }],
    ['{ list: integer }', { type: 'array', items: { type: 'integer' } }],
    [
      '{ type: array, items: { list: string } }',
      { type: 'array', items: { type: 'array', items: { type: 'string' } } },
    ],
    ['{ map: boolean }', { type: 'object', additionalProperties: { type: 'boolean' } }],
    [
      '{ type: object, additionalProperties: boolean }',
      { type: 'object', additionalProperties: { type: 'boolean' } },
    ],
    [
      '{ fields: { a: string, b: Other }, optional: [b] }',
      {
        type: 'object',
        properties: { a: { type: 'string' }, b: { $ref: '#/types/Other' } },
        required: ['a'],
        additionalProperties: false,
      },
    ],
    [
      '{ type: object, properties: { a: string, b: Other }, required: [a] }',
      {
        type: 'object',
        properties: { a: { type: 'string' }, b: { $ref: '#/types/Other' } },
        required: ['a'],
        additionalProperties: false,
      },
    ],
  ])('%s', async (type, schema) => {
    expect(await asJsonSchema(type)).toMatchObject(schema);
  });
});

describe('a type is refused', () => {
  test.each([
    ['{ list: string, minimum: 1 }', "bad-type 'minimum' does not go with 'list'."],
    ['{ type: text }', "unknown-type There is no type named 'text'."],
    [
      '{ type: Other }',
      "bad-type 'type' takes what JSON Schema has; 'Other' is a type of this schema.",
    ],
    ['{ type: [] }', "bad-type 'type' names a type, or a list of them"],
    ['{ enum: [] }', "bad-type 'enum' is a list of values"],
    ['{ enum: [[1]] }', 'bad-type Only text, numbers, true, false and null can stand here.'],
    ["{ $ref: 'Other' }", "bad-type '$ref' leads to a type of this file"],
    ['{ type: array }', "bad-type A list needs 'items'."],
    ['{ type: object }', "bad-type An object needs 'properties' or 'additionalProperties'."],
    ['{ type: string, minLength: -1 }', "bad-type 'minLength' takes a whole number from 0."],
    ['{ type: number, multipleOf: 0 }', "bad-type 'multipleOf' takes a number."],
    [
      '{ fields: { a: string }, optional: [b] }',
      "no-such-property The object has no property 'b'.",
    ],
    ['{ fields: { class: string } }', "bad-name 'class' cannot be a name"],
    ['{ list: Other, by: id }', "bad-type 'by' is for lists of objects."],
    ['{ list: { fields: { id: boolean } }, by: id }', "bad-type 'id' cannot be a key"],
    [
      '{ list: { fields: { id: string }, optional: [id] }, by: id }',
      "bad-type 'id' cannot be a key",
    ],
  ])('%s', async (type, problem) => {
    const [first, ...more] = await problemsOf(deckSchema({ types: `Other: string\nT: ${type}` }));
    expect(first).toContain(problem);
    expect(more).toEqual([]);
  });
});

test.each(['toString', 'constructor', 'valueOf', 'hasOwnProperty', '__proto__', 'isPrototypeOf'])(
  'a property that every object has is no type: %s',
  async (name) => {
    const unknown = `unknown-type There is no type named '${name}'.`;
    expect(await problemsOf(deckSchema({ state: `a: ${name}` }))).toEqual([`5:10 ${unknown}`]);
    expect(await problemsOf(deckSchema({ state: `a: { list: ${name} }` }))).toEqual([
      `5:18 ${unknown}`,
    ]);
    expect(await problemsOf(deckSchema({ state: `a: { type: ${name} }` }))).toEqual([
      `5:18 ${unknown}`,
    ]);
    const [problem] = await problemsOf(deckSchema({ types: `"${name}": string` }));
    expect(problem).toContain('bad-name');
  },
);

test.each(['any', 'never', 'object', 'unknown', 'readonly', 'array'])(
  'a type cannot be called %s, which TypeScript or JSON Schema means something by',
  async (name) => {
    const [problem] = await problemsOf(deckSchema({ types: `${name}: string` }));
    expect(problem).toContain(`bad-name '${name}' cannot be a name`);
  },
);

test.each([
  ['a named text', 'Id: { type: string, minLength: 1 }'],
  ['a named number', 'Id: { type: integer, minimum: 1 }'],
  ['a few texts', 'Id: { enum: [a, b, c] }'],
])('a key may be %s', async (_, type) => {
  const types = `${type}\nCar: { fields: { id: Id, lengthM: number } }`;
  const state = 'cars: { list: Car, by: id }';
  const actions = `put: { payload: Car, steps: [ { put: { in: cars, value: "payload" } } ] }
stretch: { payload: Id, steps: [ { update: { in: cars, key: "payload", set: { lengthM: 9 } } } ] }`;
  const application = await modelOf(deckSchema({ types, state, actions }));
  const options = { ...unlimited, seed: 1, steps: 300 };
  const { difference } = await compareStores(application, await foldersOf(application), options);
  expect(difference).toBeUndefined();
});

test.each(['boolean', '{ maybe: string }', '{ enum: [a, 1] }', '{ list: string }'])(
  'a key cannot be %s',
  async (type) => {
    const types = `Car: { fields: { id: ${type} } }`;
    const [problem] = await problemsOf(deckSchema({ types, state: 'cars: { list: Car, by: id }' }));
    expect(problem).toContain("'id' cannot be a key");
  },
);

test('what a type is about is said in the generated code', async () => {
  const types =
    'Car: { about: A vehicle of any kind, fields: { id: { type: string, about: Its name } } }';
  const application = await modelOf(deckSchema({ types, state: 'cars: { list: Car, by: id }' }));
  const [folder] = await foldersOf(application, ['atom']);
  const text = folder?.files.find(({ path }) => path === 'types.ts')?.text;
  expect(text).toContain('/** A vehicle of any kind */');
  expect(text).toContain('/** Its name */');
});
