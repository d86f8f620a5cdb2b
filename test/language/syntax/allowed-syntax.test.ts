import { describe, expect, test } from '@jest/globals';
import { Problems } from '../../../src/language/problems/problem.js';
import { Source } from '../../../src/base/source.js';
import { ExpressionParser } from '../../../src/language/syntax/parse-expression.js';
import { ScalarText } from '../../../src/language/syntax/scalar-text.js';

function problemsIn(text: string): string[] {
  const problems = new Problems();
  const source = new Source('x', text);
  new ExpressionParser(problems).parse(
    new ScalarText(text, 'plain', { source, start: 0, end: text.length }),
  );
  return problems.inOrder().map(({ message, span }) => `${span.start}-${span.end} ${message}`);
}

describe('the language takes', () => {
  test.each([
    'a',
    '(a)',
    '((a) + (b))',
    '(a ? b : c)',
    'a?.b?.[c] ?? d',
    '[...a, 1, "x"]',
    "{ a, 'b c': 1, ...d }",
    'a.map((v, i) => ({ ...v, i }))',
    '`a ${b} ${`c ${d}`}`',
    '-a ** -b'.replace('-a ** -b', '(-a) ** -b'),
    'a\n  + b',
    '!a && !(b || c)',
    '1e3 + 0x10 + .5',
  ])('%s', (text) => {
    expect(problemsIn(text)).toEqual([]);
  });
});

describe('the language refuses', () => {
  test.each([
    ['', '0-0 This is not an expression: it is empty.'],
    ['a +', '3-4 This is not an expression: Unexpected token.'],
    ['a b', "2-3 This is not an expression: it should end before 'b'."],
    ['a; b', "1-2 This is not an expression: it should end before '; b'."],
    ['a) + (b', "1-2 This is not an expression: it should end before ') + (b'."],
    ['a // why', '2-4 This is not an expression: comments go into the YAML, with #.'],
    ['a == b', "1-5 '==' is not part of the expression language."],
    ['a != b', "1-5 '!=' is not part of the expression language."],
    ['a & b', "1-4 The operator '&' is not part of the expression language."],
    ['a in b', "1-5 The operator 'in' is not part of the expression language."],
    ['a = b', '0-5 An assignment is not part of the expression language.'],
    ['a++', "0-3 '++' or '--' is not part of the expression language."],
    ['typeof a', "0-8 The operator 'typeof' is not part of the expression language."],
    ['void 0', "0-6 The operator 'void' is not part of the expression language."],
    ['delete a.b', "0-10 The operator 'delete' is not part of the expression language."],
    ['new A()', "0-7 'new' is not part of the expression language."],
    ['this.a', "0-4 'this' is not part of the expression language."],
    ['function () {}', "0-14 'function' is not part of the expression language."],
    ['async () => 1', '0-13 An async function is not part of the expression language.'],
    [
      'a.map(v => { return v })',
      '6-23 A function body in braces is not part of the expression language.',
    ],
    ['a.map(({ ...b }) => b)', "9-13 '...' in a pattern is not part of the expression language."],
    [
      'a.map(({ b = 1 }) => b)',
      '9-14 A default for a parameter is not part of the expression language.',
    ],
    [
      'a.map((v = 1) => v)',
      '7-12 A default for a parameter is not part of the expression language.',
    ],
    ['/a/.test(b)', '0-3 A regular expression is not part of the expression language.'],
    ['1n', '0-2 A big integer is not part of the expression language.'],
    ['[1, , 2]', '0-8 A hole in a list is not part of the expression language.'],
    ['{ get a() { return 1 } }', '2-22 A method is not part of the expression language.'],
    ['{ [a]: 1 }', '2-8 A computed key is not part of the expression language.'],
    ['{ __proto__: a }', "2-14 The key '__proto__' is not part of the expression language."],
    ['a`b`', '0-4 A tagged template is not part of the expression language.'],
    ['(a, b)', "1-5 The operator ',' is not part of the expression language."],
    ['import("a")', '0-11 This (ImportExpression) is not part of the expression language.'],
    ['a.#b', '2-3 This is not an expression:'],
  ])('%s', (text, problem) => {
    const [first, ...more] = problemsIn(text);
    expect(first).toContain(problem);
    expect(more).toEqual([]);
  });

  test('ten thousand levels of nesting, without falling over', () => {
    const deep = `${'('.repeat(10_000)}a${')'.repeat(10_000)}`;
    expect(problemsIn(deep).length).toBeLessThanOrEqual(1);
    expect(problemsIn(`${'['.repeat(10_000)}${']'.repeat(10_000)}`).length).toBeLessThanOrEqual(1);
  });
});
