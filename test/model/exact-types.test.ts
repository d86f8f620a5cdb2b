import { readFileSync } from 'node:fs';
import { beforeAll, describe, expect, test } from '@jest/globals';
import { Random } from '../../src/base/random.js';
import { PayloadSource } from '../../src/comparing/inputs/payloads.js';
import { Judge } from '../../src/meaning/judge.js';
import type { Application } from '../../src/model/application.js';
import { fits } from '../../src/model/fit.js';
import { exactTypeOfJson, typeOfJson } from '../../src/model/type-of-json.js';
import { typeText } from '../../src/model/type-text.js';
import { list, nothing, text, union, type Type } from '../../src/model/types.js';
import { ferryText, modelOf, problemsOf, root } from '../helpers.js';

const everyType = readFileSync(new URL('test/fixtures/every-type.stores.yaml', root), 'utf8');

test('a value alone has an exact type, a constant one whose lists are of one type', () => {
  const value = { lanes: ['port', 1], none: null };
  expect(typeText(exactTypeOfJson(value), new Map())).toBe('an object { lanes, none }');
  expect(exactTypeOfJson(['a', 1])).toEqual({
    kind: 'tuple',
    items: [
      { kind: 'literal', value: 'a' },
      { kind: 'literal', value: 1 },
    ],
  });
  expect(typeText(typeOfJson(['a', 1]), new Map())).toBe("a list of text 'a' or 1");
  expect(typeOfJson([])).toEqual(list({ kind: 'never' }));
});

/** Whether a value is known to fit without asking Ajv. */
const isProven = (value: unknown, type: Type, { types }: Application) =>
  fits(exactTypeOfJson(value as never), type, types, 'proof');

describe.each([
  ['the ferry', ferryText],
  ['every type', everyType],
])('what is proven to fit does fit, as Ajv says: %s', (_name, schema) => {
  let application: Application;
  beforeAll(async () => {
    application = await modelOf(schema);
  });

  test('payloads and near misses', () => {
    const judge = new Judge(application.types);
    const source = new PayloadSource(application.types, new Random(5));
    const pool = {
      keys: [],
      names: ['__proto__', 'pier'],
      texts: ['a', ''],
      numbers: [3, 1e21],
      records: [],
    };
    let [proven, open] = [0, 0];
    for (const { payload: type } of application.stores.flatMap(({ actions }) => actions)) {
      if (type === undefined) continue;
      for (let i = 0; i < 200; i++) {
        const { payload } = source.draw(type, pool);
        if (!isProven(payload, type, application)) open++;
        else {
          proven++;
          if (!judge.fits(payload, type))
            throw new Error(`${JSON.stringify(payload)} does not fit`);
        }
      }
    }
    expect(proven).toBeGreaterThan(500);
    expect(open).toBeGreaterThan(100);
  });
});

describe('lists', () => {
  const of = (bounds: object, key?: string): Type => ({
    kind: 'list',
    item: union([text, nothing]),
    ...(key === undefined ? {} : { key }),
    bounds,
  });
  test.each<[string, readonly unknown[], Type, boolean]>([
    ['long enough', ['a'], of({ minItems: 1 }), true],
    ['too short', [], of({ minItems: 1 }), false],
    ['too long', ['a', 'b'], of({ maxItems: 1 }), false],
    ['of unique items, one of them', ['a'], of({ uniqueItems: true }), true],
    ['of unique items, several', ['a', 'b'], of({ uniqueItems: true }), false],
    ['with an item that does not fit', [1], of({}), false],
  ])('%s', (_name, value, type, expected) => {
    expect(fits(exactTypeOfJson(value as never), type, new Map(), 'proof')).toBe(expected);
  });
});

test.each([
  ['{ type: number, multipleOf: 0.1, default: 0.3 }', false],
  ['{ type: number, multipleOf: 0.5, default: 1.5 }', true],
  ['{ type: number, multipleOf: 1, default: 1.0e+21 }', false],
  ['{ map: number, default: { __proto__: 1 } }', false],
  ['{ map: number, default: { pier: 1 } }', true],
  ["{ type: string, format: date, default: '2026-02-30' }", false],
  ["{ type: string, format: date, default: '2026-02-28' }", true],
  ['{ type: integer, default: 1.5 }', false],
])('a default is held against its type, proven or asked: %s', async (type, isFine) => {
  const problems = await problemsOf(`leeshore: 1\nstores: { deck: { state: { n: ${type} } } }`);
  expect(problems.map((problem) => /default-misfit/.test(problem))).toEqual(isFine ? [] : [true]);
});
