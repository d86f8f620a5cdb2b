import { describe, expect, test } from '@jest/globals';
import { Problems } from '../../../src/language/problems/problem.js';
import { Source } from '../../../src/base/source.js';
import { textOf, valueOf, type LocatedScalar } from '../../../src/language/syntax/located.js';
import { readYaml } from '../../../src/language/syntax/read-yaml.js';

/** Where 'wrong' in the value of `a` is found in the file. */
async function placeOfWrong(text: string): Promise<string> {
  const problems = new Problems();
  const root = await readYaml(new Source('x.yaml', text), problems);
  const node = valueOf(root, 'a') as LocatedScalar;
  const at = (textOf(node) ?? '').indexOf('wrong');
  const span = node.text.spanOf(at, at + 5);
  expect(text.slice(span.start, span.end)).toBe('wrong');
  const { line, column } = span.source.placeOf(span.start);
  return `${line}:${column}`;
}

describe('a place inside a scalar is found in the file', () => {
  test.each([
    ['plain', 'a: x + wrong', '1:8'],
    ['double quotes', 'a: "x + wrong"', '1:9'],
    ['double quotes with escapes', String.raw`a: "'\u0041\x41\t' + \"b\" + wrong"`, '1:30'],
    ['single quotes', "a: 'it''s + wrong'", '1:13'],
    ['double quotes over lines', 'a: "x +\n    y + wrong"', '2:9'],
    ['plain over lines', 'a: x +\n    y +\n\n    wrong', '4:5'],
    ['folded', 'a: >-\n  x +\n  wrong', '3:3'],
    ['literal', 'a: |\n    x +\n      y + wrong', '3:11'],
    ['a surrogate pair', String.raw`a: "\U0001F6A2 wrong"`, '1:16'],
  ])('%s', async (_style, text, place) => {
    expect(await placeOfWrong(text)).toBe(place);
  });
});
