import { readdirSync, readFileSync } from 'node:fs';
import { expect, test } from '@jest/globals';
import { runtimeNames } from '../../src/emit/runtime-names.js';
import { allStyles, root } from '../helpers.js';

/** The files of the run time, as text: those of one style that only write code are no part of it. */
const folders = ['common', ...allStyles.map((style) => `styles/${style}`)];
const texts = folders.flatMap((folder) => {
  const at = new URL(`src/emit/${folder}/`, root);
  return readdirSync(at)
    .map((file) => readFileSync(new URL(file, at), 'utf8'))
    .filter((text) => text.startsWith('// '));
});

test('whatever the run time exports in small letters is no name for something of a schema', () => {
  const exported = texts.flatMap((text) =>
    [...text.matchAll(/^export (?:const|function) ([a-z]\w*)/gm)].map(([, name = '']) => name),
  );
  expect(exported.length).toBeGreaterThan(60);
  expect(exported.filter((name) => !runtimeNames.includes(name))).toEqual([]);
});
