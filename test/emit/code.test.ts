import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { code, data, doc, id, key, property, template } from '../../src/emit/code.js';
import { Names } from '../../src/emit/identifiers.js';

const evaluate = (text: string): unknown => new Function(`return (${text})`)() as unknown;

describe('data never becomes code', () => {
  test('any JSON value written as a literal is that value again', () => {
    fc.assert(
      fc.property(fc.jsonValue(), (value) => {
        expect(evaluate(data(value).text)).toEqual(value);
      }),
      { numRuns: 500 },
    );
  });

  test('any text in a template literal is that text again', () => {
    fc.assert(
      fc.property(fc.string({ unit: 'binary' }), fc.string(), (before, after) => {
        expect(evaluate(template([before, after], [data(1)]).text)).toBe(`${before}1${after}`);
      }),
      { numRuns: 500 },
    );
    expect(evaluate(template(['`${process}\\', ''], [data('x')]).text)).toBe('`${process}\\x');
  });

  test('any text as a key is an own property of that name', () => {
    for (const name of ['plain', 'two words', '__proto__', 'constructor', '0', "it's", '⛴']) {
      const object = evaluate(code`{ ${key(name)}: 1 }`.text) as object;
      expect(Object.keys(object)).toEqual([name]);
      expect(evaluate(code`({ ${key(name)}: 1 })${property(name)}`.text)).toBe(1);
    }
  });

  test('a documentation comment cannot be left', () => {
    expect(doc('ends here */ process.exit() /*').text).toBe(
      '/** ends here * / process.exit() /* */\n',
    );
  });

  test.each(['class', 'a b', '1a', 'x;y', ''])('%j is no identifier', (name) => {
    expect(() => id(name)).toThrow('cannot be written as a name');
  });
});

test('names that are taken get another', () => {
  const names = new Names(['next']);
  expect([
    names.allocate('next'),
    names.allocate('next'),
    names.allocate('delete'),
    names.allocate('hold'),
  ]).toEqual(['next_', 'next_2', 'delete_', 'hold']);
  expect(names.inner().allocate('hold')).toBe('hold_');
});
