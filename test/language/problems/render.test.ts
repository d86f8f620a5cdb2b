import { expect, test } from '@jest/globals';
import { plainPaint as paint } from '../../../src/report/paint.js';
import { Problems } from '../../../src/language/problems/problem.js';
import { problemToJson, renderProblems } from '../../../src/language/problems/render.js';
import { Source } from '../../../src/base/source.js';

const source = new Source('quay.stores.yaml', 'leeshore: 1\r\n⛴ stores:\n\tdeck: {}\n  last');

test('places count lines and columns from 1, whatever ends a line', () => {
  expect(source.placeOf(0)).toEqual({ line: 1, column: 1 });
  expect(source.placeOf(source.text.indexOf('stores'))).toEqual({ line: 2, column: 3 });
  expect(source.placeOf(1e9)).toEqual({ line: 4, column: 7 });
  expect([1, 2, 3, 4].map((line) => source.lineText(line))).toEqual([
    'leeshore: 1',
    '⛴ stores:',
    '\tdeck: {}',
    '  last',
  ]);
});

test('a problem is shown with its line, a caret under it, its other places and a hint', () => {
  const problems = new Problems();
  const at = source.text.indexOf('stores');
  const first = { source, start: 0, end: 8 };
  problems.add(
    'name-taken',
    { source, start: at, end: at + 6 },
    { name: 'stores', by: 'a store' },
    [{ message: 'first defined here', span: first }],
  );
  expect(renderProblems(problems.inOrder(), paint)).toBe(
    [
      'quay.stores.yaml:2:3: error [name-taken]',
      "  'stores' is already the name of a store.",
      '  2 | ⛴ stores:',
      '    |   ^^^^^^',
      '  first defined here: quay.stores.yaml:1:1',
      '  1 | leeshore: 1',
      '    | ^^^^^^^^',
      '  hint: Give one of the two another name: two things under one name get mixed up.',
    ].join('\n'),
  );
});

test('a long line is cut around the caret', () => {
  const long = new Source('long.yaml', `${'x'.repeat(300)}here${'y'.repeat(300)}`);
  const problems = new Problems();
  problems.add('only-in-steps', { source: long, start: 300, end: 304 }, { name: 'now' });
  const [, , excerpt = '', caret = ''] = renderProblems(problems.inOrder(), paint).split('\n');
  expect(excerpt.length).toBeLessThan(130);
  expect(excerpt.slice(caret.indexOf('^'), caret.lastIndexOf('^') + 1)).toBe('here');
});

test('problems come in the order of their places, and at most fifty are printed', () => {
  const problems = new Problems();
  for (let i = 60; i > 0; i--)
    problems.add('only-in-steps', { source, start: i % 30, end: i % 30 }, { name: `n${i}` });
  const starts = problems.inOrder().map(({ span }) => span.start);
  expect(starts).toEqual(starts.toSorted((a, b) => a - b));
  expect(renderProblems(problems.inOrder(), paint).endsWith('\n\nand 10 more')).toBe(true);
});

test('as JSON a problem has numbers for its places', () => {
  const problems = new Problems();
  problems.add('text-arithmetic', { source, start: 0, end: 8 }, { operator: '*' });
  const [problem] = problems.inOrder();
  expect(problem && problemToJson(problem)).toEqual({
    code: 'text-arithmetic',
    severity: 'error',
    message: "'*' is for numbers, but this is text.",
    hint: 'Text from a form field is not a number; convert it where that is meant: Number(...).',
    file: 'quay.stores.yaml',
    line: 1,
    column: 1,
    endLine: 1,
    endColumn: 9,
    related: [],
  });
});
