import { beforeAll, describe, expect, test } from '@jest/globals';
import { typeText } from '../../../src/model/type-text.js';
import { deckSchema, modelOf } from '../../helpers.js';

const state = `
n: { type: number, default: 0 }
whole: { type: integer, default: 0 }
maybe: { maybe: number }
hold: { maybe: string }
open: { type: boolean, default: true }
lane: { $ref: '#/types/Lane', default: port }
cars: { list: Car, by: id }
nums: { list: number }
names: { list: string }
byLane: { map: number }
crew: { map: { fields: { name: string, boat: { maybe: Car } } } }
last: { $ref: '#/types/Any', default: { kind: van, len: 1 } }
lorries: { list: Any }
car: { $ref: '#/types/Car', default: { id: a, len: 1, lane: port } }
`;

const types = `
Any: { oneOf: [{ fields: { kind: { const: bus }, seats: integer } }, { fields: { kind: { const: van }, len: number } }] }
Lane: { enum: [port, centre] }
Car: { fields: { id: string, len: number, lane: Lane, note: string }, optional: [note] }
`;

/** Expressions with the type that is inferred of them, as the problems would name it. */
const inferred: readonly (readonly [expression: string, type: string])[] = [
  ['1', '1'],
  ["'port'", "text 'port'"],
  ['true', 'true'],
  ['null', 'null'],
  ['-2', '-2'],
  ['n + 1', 'a number'],
  ["hold ?? ''", 'text'],
  ['`${n} m`', 'text'],
  ["'a' + lane", 'text'],
  ['n > 1', 'true or false'],
  ['!open', 'true or false'],
  ['open && n > 1', 'true or false'],
  ['open || n > 1', 'true or false'],
  ['maybe', 'a number or null'],
  ['maybe ?? 0', 'a number'],
  ['maybe === null ? 0 : maybe', 'a number'],
  ['maybe !== null ? maybe : 1', 'a number'],
  ['maybe === null || maybe > 1', 'true or false'],
  ['maybe !== null && maybe > 1', 'true or false'],
  ['!(maybe === null) && maybe > 1', 'true or false'],
  ["lane === 'port' ? lane : 'other'", "text 'port' or text 'other'"],
  ["lane !== 'port' ? lane : 'other'", "text 'centre' or text 'other'"],
  ['open ? n : hold', 'a number, text or null'],
  ['cars', 'a list of Car'],
  ['cars.length', 'a whole number'],
  ['cars.map(c => c.len)', 'a list of number'],
  ['cars.map((c, i) => i)', 'a list of whole number'],
  ['cars.filter(c => c.len > 1)', 'a list of Car'],
  ["cars.find(c => c.id === 'a')?.len ?? 0", 'a number'],
  ["cars.find(c => c.id === 'a') ?? car", 'Car'],
  ['cars.some(c => c.note !== undefined && c.note.length > 1)', 'true or false'],
  ["cars.map(c => c.note ?? 'none')", 'a list of text'],
  ['cars.flatMap(c => [c.id, c.lane])', 'a list of text or Lane'],
  ['cars.at(-1)?.lane ?? null', 'Lane or null'],
  ['cars[0] ?? null', 'Car or null'],
  ["byLane['port'] ?? 0", 'a number'],
  ['crew[lane]?.boat?.len ?? 1', 'a number'],
  ['Object.keys(byLane)', 'a list of text'],
  ['Object.values(byLane)', 'a list of number'],
  ['nums.reduce((most, n2) => Math.max(most, n2), 0)', 'a number'],
  ["names.reduce((all, name) => all + name, '')", 'text'],
  ['cars.reduce((best, c) => c.len > best.len ? c : best, car)', 'Car'],
  ['nums.toSorted((a, b) => a - b)', 'a list of number'],
  ['names.toSorted()', 'a list of text'],
  ['names.join()', 'text'],
  ['nums.concat([1, 2])', 'a list of number'],
  ['[]', 'an empty list'],
  ['[n, hold]', 'a list of number, text or null'],
  ['[...nums, ...[1]]', 'a list of number'],
  ['{ a: n, b: hold }', 'an object { a, b }'],
  ['{ ...car, len: 2 }', 'an object { id, len, lane, note? }'],
  ['({ ...car, boat: true }).boat', 'true'],
  ['sum(cars, c => c.len)', 'a number'],
  ['same(cars, [car])', 'true or false'],
  ["Number('1')", 'a number'],
  ['String(n)', 'text'],
  ['n.toFixed(1)', 'text'],
  ["hold?.trim() ?? 'none'", 'text'],
  ["hold?.split(',').map(part => part.trim()).length ?? 0", 'a whole number'],
  ['Object.entries(byLane)', 'a list of list [text, a number]'],
  ['Object.entries(byLane).map(([lane2, metres]) => metres)', 'a list of number'],
  ['Object.entries(byLane).map(entry => entry[0])', 'a list of text'],
  ['cars.map(({ len, lane: where }) => `${len} ${where}`)', 'a list of text'],
  ["cars.map(({ note }) => note ?? '')", 'a list of text'],
  ['Object.values(crew).map(({ boat }) => boat === null ? 0 : boat.len)', 'a list of number'],
  ['[...cars.entries()]', 'a list of list [a whole number, Car]'],
  ['[...cars.keys()]', 'a list of whole number'],
  ['groupBy(cars, c => c.lane)', 'a dictionary of list of Car'],
  ['sortBy(cars, c => c.len, c => c.id)', 'a list of Car'],
  ['toMap(cars, c => c.id, c => c.len)', 'a dictionary of number'],
  ["toMap(cars, c => c.id, c => ({ lane: c.lane }))['a']?.lane ?? 'none'", "Lane or text 'none'"],
  ['isoTime(n)', 'text'],
  ['isoDay(n)', 'text'],
  ["fits(car, 'Car')", 'true or false'],
  ['Math.max(...nums, 1)', 'a number'],
  ['[nums, [1]].flat()', 'a list of number'],
  ["last.kind === 'bus' ? last.seats : last.len", 'a whole number or a number'],
  ["last.kind !== 'bus' && last.len > 1", 'true or false'],
  ["lorries.filter(l => l.kind === 'bus' && l.seats > 2).length", 'a whole number'],
  ['({ ...last, kind2: 1 }).kind', "text 'bus' or text 'van'"],
  ["lane.toUpperCase().padStart(8, '-').slice(-3)", 'text'],
];

const schema = deckSchema({
  state,
  types,
  derived: inferred.map(([expression], i) => `d${i}: ${JSON.stringify(expression)}`).join('\n'),
});

let texts: string[];
beforeAll(async () => {
  const application = await modelOf(schema);
  texts = (application.stores[0]?.derived ?? []).map(({ value }) =>
    typeText(value.type, application.types),
  );
});

describe('what is inferred of', () => {
  test.each(inferred.map(([expression, type], i) => [expression, type, i] as const))(
    '%s is %s',
    (_expression, type, i) => {
      expect(texts[i]).toBe(type);
    },
  );
});
