import { readdirSync, readFileSync } from 'node:fs';
import { describe, expect, test } from '@jest/globals';
import { problemsOf, root } from './helpers.js';

const files = [
  'README.md',
  ...readdirSync(new URL('docs', root), { recursive: true, encoding: 'utf8' })
    .filter((name) => name.endsWith('.md'))
    .map((name) => `docs/${name}`),
];

describe.each(files)('%s', (file) => {
  const text = readFileSync(new URL(file, root), 'utf8');

  test('its schemas have no problem', async () => {
    for (const [, schema = ''] of text.matchAll(/```yaml\n(leeshore: 1\n[\s\S]*?)```/g)) {
      expect(await problemsOf(schema)).toEqual([]);
    }
  });

  test('its links to files lead somewhere', () => {
    const base = new URL(file, root);
    for (const [, target = ''] of text.matchAll(/\]\((?!https?:|#)([^)#]+)[^)]*\)/g)) {
      expect(() => readFileSync(new URL(target, base))).not.toThrow();
    }
  });
});
