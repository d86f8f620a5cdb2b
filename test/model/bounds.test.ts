import { expect, test } from '@jest/globals';
import type { Json } from '../../src/base/json.js';
import { Judge } from '../../src/meaning/judge.js';
import { besideBound, boundMissed, boundsIn, placeOf } from '../../src/model/bounds.js';
import type { Type } from '../../src/model/types.js';

const types = new Map();
const text = (bounds: object): Type => ({ kind: 'string', bounds });
const number = (bounds: object, integer = false): Type => ({
  kind: 'number',
  integer,
  bounds,
  finite: true,
});
const field = (name: string, type: Type, optional = false) => ({ name, type, optional });
const vehicle: Type = {
  kind: 'record',
  fields: [
    field('plate', text({ minLength: 2, maxLength: 5 })),
    field('lengthM', number({ exclusiveMinimum: 0, maximum: 20 })),
    field('seats', number({ minimum: 1, multipleOf: 2 }, true), true),
    field('on', text({ format: 'date' }), true),
  ],
};
const lane: Type = { kind: 'list', item: vehicle, key: 'plate', bounds: { maxItems: 3 } };
const fine = { plate: 'SK 4', lengthM: 4, seats: 2, on: '2026-11-23' };

test('the bounds of a type are told with their places', () => {
  expect(boundsIn(lane, types).map((one) => `${placeOf(one)} ${one.what}`)).toEqual([
    ' maxItems',
    ' key',
    '[].plate minLength',
    '[].plate maxLength',
    '[].lengthM exclusiveMinimum',
    '[].lengthM maximum',
    '[].seats whole',
    '[].seats minimum',
    '[].seats multipleOf',
    '[].on format',
  ]);
});

test('it is told which bound is not kept, where the judge says that something does not fit', () => {
  const judge = new Judge(types);
  const missed = (value: Json) => {
    const at = judge.misfit(value, lane, '');
    const bound = at === undefined ? undefined : boundMissed(value, lane, types, at);
    return bound && `${placeOf(bound)} ${bound.what}`;
  };
  expect(missed([fine])).toBeUndefined();
  expect(missed([{ ...fine, plate: 'S' }])).toBe('[].plate minLength');
  expect(missed([fine, { ...fine, plate: 'SK 400' }])).toBe('[].plate maxLength');
  expect(missed([{ ...fine, lengthM: 0 }])).toBe('[].lengthM exclusiveMinimum');
  expect(missed([{ ...fine, lengthM: 20.5 }])).toBe('[].lengthM maximum');
  expect(missed([{ ...fine, seats: 1.5 }])).toBe('[].seats whole');
  expect(missed([{ ...fine, seats: 3 }])).toBe('[].seats multipleOf');
  expect(missed([{ ...fine, on: 'quay' }])).toBe('[].on format');
  expect(missed([fine, { ...fine, lengthM: 5 }])).toBe(' key');
  const four = ['aa', 'bb', 'cc', 'dd'].map((plate) => ({ ...fine, plate }));
  expect(missed(four)).toBe(' maxItems');
  // What is of another kind keeps no bound, and misses none.
  expect(missed([{ ...fine, plate: 4 }])).toBeUndefined();
  expect(missed([null])).toBeUndefined();
});

test('a list beside a bound has an item too many, or one twice', () => {
  const [tooMany, twice] = boundsIn(lane, types).map((bound) => besideBound([fine], bound));
  expect(tooMany).toHaveLength(4);
  expect(twice).toEqual([fine, fine]);
});

test('where nothing stands at the place of a bound, nothing can be beside it', () => {
  const [, , plate] = boundsIn(lane, types);
  expect(plate?.parts).toEqual(['[]', 'plate']);
  expect(plate && besideBound([], plate)).toBeUndefined();
  expect(plate && besideBound([{ lengthM: 4 }], plate)).toBeUndefined();
});

test('a value beside a bound misses that bound, and no other', () => {
  const judge = new Judge(types);
  for (const bound of boundsIn(vehicle, types)) {
    const [name = ''] = bound.parts;
    const value = besideBound(fine, bound) ?? null;
    const at = judge.misfit(value, vehicle, '') ?? '';
    expect([at, boundMissed(value, vehicle, types, at)?.what]).toEqual([`/${name}`, bound.what]);
  }
});
