import { existsSync, readdirSync, readFileSync } from 'node:fs';
import { describe, expect, test } from '@jest/globals';
import { root } from './helpers.js';

const read = (path: string) => readFileSync(new URL(path, root), 'utf8');
const isThere = (path: string) => existsSync(new URL(path, root));

const rooms = readdirSync(new URL('src/', root)).filter((name) => isThere(`src/${name}/README.md`));

/** All files below a folder, as one text each, but for the page itself. */
const textsBelow = (folder: string): readonly string[] =>
  readdirSync(new URL(folder, root), { withFileTypes: true }).flatMap((entry) =>
    entry.isDirectory()
      ? textsBelow(`${folder}${entry.name}/`)
      : entry.name.endsWith('.ts')
        ? [read(`${folder}${entry.name}`)]
        : [],
  );

test('nine rooms have a page, and CONTRIBUTING leads to each', () => {
  expect(rooms).toHaveLength(9);
  for (const room of rooms)
    expect(read('CONTRIBUTING.md')).toContain(`[\`${room}\`](src/${room}/README.md)`);
});

describe.each(rooms)('the page of %s', (room) => {
  const page = read(`src/${room}/README.md`);

  test('names files and folders that are there', () => {
    const [files = ''] = page.split('\n| word');
    const named = [...files.matchAll(/`([\w./*-]+)`/g)].map(([, name = '']) => name);
    const missing = named.filter((name) => {
      const [folder = ''] = name.split('/*');
      return !isThere(`src/${room}/${folder}`);
    });
    expect(missing).toEqual([]);
  });

  test('has words that more than one file of the room uses', () => {
    const texts = textsBelow(`src/${room}/`);
    const words = [...page.matchAll(/^\| ([a-z, ]+?) +\|/gm)]
      .flatMap(([, words = '']) => words.split(', '))
      .filter((word) => word !== 'word');
    expect(words.length).toBeGreaterThan(1);
    for (const word of words) {
      const pattern = new RegExp(word.replace(' ', '[ _]?'), 'i');
      expect([word, texts.filter((text) => pattern.test(text)).length > 1]).toEqual([word, true]);
    }
  });
});
