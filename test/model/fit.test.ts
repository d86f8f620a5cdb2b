import { describe, expect, test } from '@jest/globals';
import { fits } from '../../src/model/fit.js';
import {
  absent,
  boolean,
  computed,
  integer,
  list,
  literal,
  never,
  nothing,
  number,
  text,
  union,
  unknown,
  type Type,
  type TypeTable,
} from '../../src/model/types.js';

const span = { source: {} as never, start: 0, end: 0 };
const record = (
  fields: Readonly<Record<string, Type>>,
  optional: readonly string[] = [],
): Type => ({
  kind: 'record',
  fields: Object.entries(fields).map(([name, type]) => ({
    name,
    type,
    optional: optional.includes(name),
  })),
});
const lane = union([literal('port'), literal('centre')]);
const types: TypeTable = new Map([
  ['Lane', { name: 'Lane', type: lane, about: undefined, span }],
  [
    'Car',
    {
      name: 'Car',
      type: record({ id: text, lane: { kind: 'named', name: 'Lane' } }),
      about: undefined,
      span,
    },
  ],
]);
const named = (name: string): Type => ({ kind: 'named', name });
const bounded = (bounds: object, whole = false): Type => ({
  kind: 'number',
  integer: whole,
  bounds,
  finite: true,
});
const texts = (bounds: object): Type => ({ kind: 'string', bounds });

/** From, to, whether the shapes fit, whether every value certainly fits. */
const table: readonly (readonly [
  name: string,
  from: Type,
  to: Type,
  shape: boolean,
  proof: boolean,
])[] = [
  ['text to text', text, text, true, true],
  ['a literal to text', literal('a'), text, true, true],
  ['text to a literal', text, literal('a'), false, false],
  ['a literal to an enum', literal('port'), named('Lane'), true, true],
  ['another literal to an enum', literal('bow'), named('Lane'), false, false],
  ['text to an enum', text, named('Lane'), false, false],
  ['an enum to text', named('Lane'), text, true, true],
  ['a short text to a longer minimum', literal('a'), texts({ minLength: 2 }), true, false],
  ['a text of two code points', literal('⛴⛴'), texts({ maxLength: 2 }), true, true],
  ['text to bounded text', text, texts({ minLength: 1 }), true, false],
  [
    'tighter text to looser',
    texts({ minLength: 2, maxLength: 3 }),
    texts({ minLength: 1, maxLength: 5 }),
    true,
    true,
  ],
  ['integer to number', integer, number, true, true],
  ['number to integer', number, integer, true, false],
  ['a whole literal to integer', literal(2), integer, true, true],
  ['a fraction to integer', literal(2.5), integer, true, false],
  ['what is computed to number', computed, number, true, false],
  ['a literal below the minimum', literal(0), bounded({ minimum: 1 }), true, false],
  ['a literal at the exclusive minimum', literal(0), bounded({ exclusiveMinimum: 0 }), true, false],
  [
    'tighter bounds to looser',
    bounded({ minimum: 1, maximum: 5 }),
    bounded({ minimum: 0, maximum: 9 }),
    true,
    true,
  ],
  [
    'an exclusive bound to an inclusive one',
    bounded({ exclusiveMinimum: 0 }),
    bounded({ minimum: 0 }),
    true,
    true,
  ],
  [
    'an inclusive bound to an exclusive one',
    bounded({ minimum: 0 }),
    bounded({ exclusiveMinimum: 0 }),
    true,
    false,
  ],
  [
    'an inclusive bound above an exclusive one',
    bounded({ minimum: 1 }),
    bounded({ exclusiveMinimum: 0 }),
    true,
    true,
  ],
  ['multiples of the same', bounded({ multipleOf: 2 }), bounded({ multipleOf: 2 }), true, true],
  ['multiples of another', bounded({ multipleOf: 4 }), bounded({ multipleOf: 2 }), true, false],
  ['a literal multiple', literal(6), bounded({ multipleOf: 2 }), true, true],
  ['boolean to both its values', boolean, union([literal(true), literal(false)]), true, true],
  ['boolean to one of its values', boolean, literal(true), false, false],
  ['null to a maybe', nothing, union([text, nothing]), true, true],
  ['a maybe to what is no maybe', union([text, nothing]), text, false, false],
  ['absent to a maybe', absent, union([text, nothing]), false, false],
  ['an empty list to any list', list(never), list(text), true, true],
  ['a list to another', list(text), list(number), false, false],
  [
    'a list to a keyed list',
    list(named('Car')),
    { kind: 'list', item: named('Car'), key: 'id' },
    true,
    false,
  ],
  [
    'a keyed list to a list',
    { kind: 'list', item: named('Car'), key: 'id' },
    list(named('Car')),
    true,
    true,
  ],
  ['a record to its like', record({ a: text }), record({ a: text }), true, true],
  [
    'a record with a property too many',
    record({ a: text, b: text }),
    record({ a: text }),
    false,
    false,
  ],
  ['a record with a property too few', record({}), record({ a: text }), false, false],
  ['a record without an optional property', record({}), record({ a: text }, ['a']), true, true],
  [
    'an optional property to a required one',
    record({ a: text }, ['a']),
    record({ a: text }),
    false,
    false,
  ],
  [
    'a record to a named one',
    record({ id: text, lane: literal('port') }),
    named('Car'),
    true,
    true,
  ],
  ['a record to a dictionary', record({ a: number }), { kind: 'map', value: number }, true, true],
  ['a dictionary to a record', { kind: 'map', value: number }, record({ a: number }), false, false],
  [
    'a dictionary to another',
    { kind: 'map', value: integer },
    { kind: 'map', value: number },
    true,
    true,
  ],
  ['what is unknown', unknown, text, true, false],
  ['a named type to itself', named('Car'), named('Car'), true, true],
];

describe('what fits where', () => {
  test.each(table)('%s', (_name, from, to, shape, proof) => {
    expect([fits(from, to, types, 'shape'), fits(from, to, types, 'proof')]).toEqual([
      shape,
      proof,
    ]);
  });
});
