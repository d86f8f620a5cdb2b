import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import {
  arrow,
  code,
  data,
  doc,
  entry,
  key,
  Name,
  named,
  object,
  property,
  scoped,
  template,
  word,
} from '../../src/generation/build/code.js';
import { Module } from '../../src/generation/build/module.js';
import { printCode } from '../../src/generation/build/print.js';

const evaluate = (text: string): unknown => new Function(`return (${text})`)() as unknown;

describe('data never becomes code', () => {
  test('any JSON value written as a literal is that value again', () => {
    fc.assert(
      fc.property(fc.jsonValue(), (value) => {
        expect(evaluate(printCode(data(value)))).toEqual(value);
      }),
      { numRuns: 500 },
    );
  });

  test('any text in a template literal is that text again', () => {
    fc.assert(
      fc.property(fc.string({ unit: 'binary' }), fc.string(), (before, after) => {
        expect(evaluate(printCode(template([before, after], [data(1)])))).toBe(
          `${before}1${after}`,
        );
      }),
      { numRuns: 500 },
    );
    expect(evaluate(printCode(template(['`${process}\\', ''], [data('x')])))).toBe(
      '`${process}\\x',
    );
  });

  test('any text as a key is an own property of that name', () => {
    for (const name of ['plain', 'two words', '__proto__', 'constructor', '0', "it's", '⛴']) {
      const object = evaluate(printCode(code`{ ${key(name)}: 1 }`)) as object;
      expect(Object.keys(object)).toEqual([name]);
      expect(evaluate(printCode(code`({ ${key(name)}: 1 })${property(name)}`))).toBe(1);
    }
  });

  test('a documentation comment cannot be left', () => {
    expect(printCode(doc('ends here */ process.exit() /*'))).toBe(
      '/** ends here * / process.exit() /* */\n',
    );
  });

  test.each(['a b', 'x;y', ''])('%j is no word', (text) => {
    expect(() => word(text)).toThrow('is no word');
  });
});

describe('names', () => {
  test('that are wanted twice where both are known differ', () => {
    const [outer, inner] = [new Name('next'), new Name('next')];
    const uses = arrow([inner], code`${outer} + ${inner}`);
    expect(printCode(scoped([outer], code`const ${outer} = ${uses};`))).toBe(
      'const next = (next_) => next + next_;',
    );
  });

  test('within may be those outside that nothing within uses', () => {
    const [outer, inner] = [new Name('deck'), new Name('deck')];
    expect(printCode(scoped([outer], code`${outer}(${arrow([inner], named(inner))})`))).toBe(
      'deck((deck) => deck)',
    );
  });

  test('are no reserved words, and no properties that differ are written short', () => {
    const name = new Name('delete');
    expect(printCode(scoped([name], object([entry('delete', named(name))])))).toBe(
      '{ delete: delete_ }',
    );
    const plain = new Name('lane');
    expect(printCode(scoped([plain], object([entry('lane', named(plain))])))).toBe('{ lane }');
  });

  test('that nothing declares are a fault', () => {
    expect(() => printCode(named(new Name('lost')))).toThrow("'lost' is not declared");
  });

  test('of a module keep clear of what it exports, imports and finds everywhere', () => {
    const module = new Module('stores/deck', 'A deck');
    const own = module.exported('entry');
    const used = module.value('runtime/values', 'entry');
    const math = module.global('Math');
    const local = module.own('Math');
    module.add(
      code`const ${local} = 1;`,
      code`export const ${own} = ${used}(${math}.max(${local}));`,
    );
    expect(module.print()).toBe(
      `// A deck


import { entry as entry_ } from "../runtime/values.js";

const Math_ = 1;

export const entry = entry_(Math.max(Math_));`,
    );
  });
});
