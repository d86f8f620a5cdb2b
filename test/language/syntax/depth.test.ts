import { describe, expect, test } from '@jest/globals';
import { isTooDeep, tooDeepAt } from '../../../src/language/syntax/depth.js';

describe('an expression is too deep', () => {
  test.each<[string, string, boolean]>([
    ['250 brackets', `${'('.repeat(250)}1${')'.repeat(250)}`, false],
    ['251 brackets', `${'('.repeat(251)}1${')'.repeat(251)}`, true],
    ['brackets side by side', `[${'(1), '.repeat(300)}1]`, false],
    ['250 operators', Array(251).fill('n').join(' + '), false],
    ['251 operators', Array(252).fill('n').join(' + '), true],
    ['200 brackets around 100 operators', `${'('.repeat(200)}${'n + '.repeat(100)}1`, true],
    ['brackets in a text', `'${'('.repeat(500)}'`, false],
    ['an escaped quote in a text', `'\\'${'('.repeat(500)}' + '${')'.repeat(3)}'`, false],
    ['a list of many sums', `[${Array(2000).fill('n + 1').join(', ')}]`, false],
    ['many negations', `${'!'.repeat(251)}open`, true],
    ['a chain of many calls', `n${'.trim()'.repeat(251)}`, true],
  ])('%s', (_name, expression, expected) => {
    expect(isTooDeep(expression)).toBe(expected);
  });
});

describe('a file is too deep', () => {
  test.each<[string, string, number | undefined]>([
    ['500 brackets', `${'['.repeat(500)}${']'.repeat(500)}`, undefined],
    ['501 brackets', `${'['.repeat(501)}${']'.repeat(501)}`, 500],
    ['brackets that are closed', '[]{}'.repeat(5000), undefined],
    ['deep indentation', `a:\n${' '.repeat(1001)}b: 1`, 1003],
    ['a long line', `a: ${'b '.repeat(5000)}`, undefined],
  ])('%s', (_name, text, at) => {
    expect(tooDeepAt(text)).toBe(at);
  });
});
