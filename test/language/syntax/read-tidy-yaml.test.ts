import { readFileSync } from 'node:fs';
import { describe, expect, test } from '@jest/globals';
import { globSync } from 'tinyglobby';
import { Random } from '../../../src/base/random.js';
import { Problems } from '../../../src/language/problems/problem.js';
import { Source } from '../../../src/base/source.js';
import type { Located } from '../../../src/language/syntax/located.js';
import { readAnyYaml } from '../../../src/language/syntax/read-any-yaml.js';
import { readTidyYaml } from '../../../src/language/syntax/read-tidy-yaml.js';
import { root } from '../../helpers.js';

/** Everything that is read, and where; the end of a block is left out: one reader counts blank lines to it. */
function told(node: Located): unknown {
  const { kind, span } = node;
  if (kind === 'scalar') {
    const { style, value } = node.text;
    return [node.value, style, value, span.start, style === 'block' || span.end];
  }
  const end = '[{'.includes(span.source.text.charAt(span.start)) ? span.end : undefined;
  const parts =
    kind === 'list'
      ? node.items.map(told)
      : node.entries.map(({ key, keySpan, value }) => [
          key,
          keySpan.start,
          keySpan.end,
          told(value),
        ]);
  return [kind, span.start, end, parts];
}

/** Whether the quick reader takes the file; if so, the thorough one finds the same and nothing to say. */
function isTidy(text: string): boolean {
  const source = new Source('x.yaml', text);
  const tidy = readTidyYaml(source);
  if (tidy === undefined) return false;
  const problems = new Problems();
  const thorough = readAnyYaml(source, problems);
  expect(problems.inOrder()).toEqual([]);
  expect(told(tidy)).toEqual(thorough && told(thorough));
  return true;
}

const paths = globSync(['{examples,test,bench}/**/*.yaml', 'schema/*.json'], {
  cwd: root.pathname,
  ignore: '**/node_modules/**',
});
const files = paths.map((path) => readFileSync(new URL(path, root), 'utf8'));

test('every file of ours is tidy', () => {
  expect(files.length).toBeGreaterThan(8);
  expect(paths.filter((_, i) => !isTidy(files[i] ?? ''))).toEqual([]);
});

describe('both readers agree on', () => {
  test.each([
    [
      'scalars of the core schema',
      'a: [null, ~, Null, true, FALSE, 0o17, 0x1F, -0, +1.50, .5, 1e3]',
    ],
    [
      'what only looks like them',
      'a: [nul, yes, 0b1, 1_000, 1.2.3, +, "1", 2026-11-23, .inf, -.INF]',
    ],
    ['quotes and escapes', String.raw`a: "\u0041\n 'b'"` + "\nb: 'it''s'"],
    ['texts over lines', 'a: one\n  two\n\n  three\nb: "one\n  two"\nc: \'one\n\n  two\''],
    ['blocks', 'a: |\n  one\n    two\n\nb: >- # why\n  one\n  two\nc: |2+\n   one\n\nd: 1'],
    ['brackets', 'a: [1, [2, { b: 3, c: [] }], {}, # note ]\n  4,\n  ]\n'],
    ['a pair alone in a list', 'a: [1, b: 2, "c": [3]]'],
    ['a list as deep as its key', 'a:\n- 1\n- b: 2\n  c: 3\n-\n  - 4\n'],
    ['carriage returns', 'a: 1\r\nb:\r\n  - "x"\r\n  - |\r\n    one\r\n    two\r\n'],
    ['keys of every kind', '1: a\ntrue: b\n"c d": e\n? f\n: g\n__proto__: h\n'],
    ['letters beyond the first plane', 'a: "🚢 x" # 🚢\nb: 🚢 y\n'],
  ])('%s', (_what, text) => {
    expect(isTidy(text)).toBe(true);
  });
});

describe('a file is left to the thorough reader for', () => {
  test.each([
    ['an anchor', 'a: &x 1'],
    ['an alias', 'a: &x 1\nb: *x'],
    ['a tag', 'a: !x 1'],
    ['a key twice', 'a: 1\n"a": 2'],
    ['a key without a value', 'a: { b, c: 1 }'],
    ['an empty value', 'a:\nb: 1'],
    ['a spread', 'a: [...b]'],
    ['two documents', 'a: 1\n---\nb: 2'],
    ['a directive', '%YAML 1.2\n---\na: 1'],
    ['no document', '# nothing\n'],
    ['a list as a key', '[a]: 1'],
    ['no YAML', 'a: "b" c'],
  ])('%s', (_what, text) => {
    expect(isTidy(text)).toBe(false);
  });
});

test('both readers agree on spoilt files that the quick one takes', () => {
  const random = new Random(7);
  const bits = [
    ' ',
    '\n',
    '\t',
    ':',
    ', ',
    '{',
    '}',
    '[',
    ']',
    '"',
    "'",
    '#',
    ' #',
    '- ',
    '|',
    '>',
    '&a',
  ];
  bits.push(
    '*a',
    '!x',
    '? ',
    '...',
    '---',
    '\\',
    '0x1f',
    '~',
    '-0',
    '\r\n',
    '\u2028',
    '\uFEFF',
    '|2\n',
    '>-\n',
    '%',
  );
  let taken = 0;
  for (let i = 0; i < 600; i++) {
    let text = random.pick(files).slice(0, 1 + random.below(3000));
    for (let k = random.below(3); k >= 0; k--) {
      const at = random.below(text.length);
      const cut = random.chance(0.3) ? random.below(12) : 0;
      text = text.slice(0, at) + random.pick(bits) + text.slice(at + cut);
    }
    if (isTidy(text)) taken++;
  }
  expect(taken).toBeGreaterThan(60);
});
