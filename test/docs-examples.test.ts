import { readFileSync } from 'node:fs';
import { beforeAll, describe, expect, test } from '@jest/globals';
import type { Json } from '../src/base/json.js';
import type { GeneratedFolder } from '../src/core.js';
import { loadModules } from '../src/participants/load-modules.js';
import { codesMarkdown } from '../src/language/reports/explain-text.js';
import { allStyles, foldersOf, modelOf, root } from './helpers.js';
import { start } from './participants.js';

const page = (name: string) => readFileSync(new URL(`docs/${name}.md`, root), 'utf8');

/** The schema that a page begins with. */
const schemaOf = (text: string) => /```yaml\n(leeshore: 1\n[\s\S]*?)```/.exec(text)?.[1] ?? '';

test('the page of codes says what explain says (npm run codes writes it)', () => {
  expect(page('codes')).toBe(codesMarkdown());
});

describe('docs/expressions.md', () => {
  const text = page('expressions');
  const examples = [...text.matchAll(/```expressions\n([\s\S]*?)```/g)].flatMap(([, block = '']) =>
    block
      .trim()
      .split('\n')
      .map((line) => line.split('  => ') as [string, string]),
  );

  test('there are examples', () => {
    expect(examples.length).toBeGreaterThan(20);
  });

  test.each(examples)('%s gives %s', async (expression, value) => {
    const derived = `    derived: { example: ${JSON.stringify(expression)} }\n    actions:`;
    const schema = schemaOf(text).replace('    actions:', derived);
    for (const name of ['reference', 'atom'] as const) {
      const { running } = await start(schema, name);
      expect(running.derive?.().deck?.example).toEqual(JSON.parse(value));
    }
  });
});

describe('docs/steps.md', () => {
  const text = page('steps');
  const examples = [
    ...text.matchAll(
      /## (.*)\n[\s\S]*?```yaml step\n([\s\S]*?)```\n\n```json after\n([\s\S]*?)```/g,
    ),
  ].map(([, title = '', steps = '', after = '']) => ({ title, steps, after }));

  test('every step has an example', () => {
    expect(examples.map(({ title }) => title).join(', ')).toBe(
      'set, append, prepend, insert, put, update, remove, drop, toggle, move, when, let, reset, run, start, cancel',
    );
  });

  test.each(examples)('$title', async ({ steps, after }) => {
    const payload = /^# payload: (.*)\n/.exec(steps)?.[1];
    const indented = steps.replace(/^/gm, '          ').trimEnd();
    const action = `      example:\n        payload: { type: string, default: none }\n        steps:\n${indented}\n`;
    for (const name of ['reference', 'proxy'] as const) {
      const { running } = await start(`${schemaOf(text)}${action}`, name);
      expect(running.send('deck', 'example', payload as Json)).toEqual({ status: 'done' });
      expect(running.read().deck).toMatchObject(JSON.parse(after) as object);
    }
  });
});

describe('the pages of the styles', () => {
  const text = page('styles');
  const examples = allStyles.flatMap((name) =>
    [...page(`styles/${name}`).matchAll(/```ts (\w+)\n([\s\S]*?)```/g)].map(
      ([, style = '', code = '']) => ({ style, code }),
    ),
  );
  let folders: readonly GeneratedFolder[];
  beforeAll(async () => {
    folders = await foldersOf(await modelOf(schemaOf(text)));
  });

  test('there is an example for each style', () => {
    expect([...new Set(examples.map(({ style }) => style))]).toEqual(allStyles);
  });

  test.each(examples)('the example of the $style style gives what it says', ({ style, code }) => {
    const folder = folders.find((one) => one.style === style);
    const expected: string[] = [];
    const lines = code.split('\n').map((line) => {
      const [, expression = '', value] = /^(.*); \/\/ (.*)$/.exec(line) ?? [];
      if (value === undefined) return line;
      expected.push(value);
      return `given.push(JSON.stringify(${expression}));`;
    });
    const main = [
      'export const given: string[] = [];',
      'export const tellings: unknown[][] = [];',
      'const show = (...values: unknown[]) => tellings.push(values);',
      ...lines,
    ].join('\n');
    const files = [
      ...(folder?.files ?? []),
      { path: 'main.ts', text: main.replaceAll(`./stores/${style}/`, './') },
    ];
    const { given, tellings } = loadModules(files, 'main.ts');
    expect(expected.length).toBeGreaterThan(4);
    expect(given).toEqual(expected);
    expect((tellings as unknown[][]).map(([now]) => now)).toEqual([1, 0]);
  });
});
