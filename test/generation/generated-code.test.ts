import { readFileSync } from 'node:fs';
import { describe, expect, test } from '@jest/globals';
import * as prettier from 'prettier';
import { generateStyle } from '../../src/jobs/generate.js';
import { ownershipOf, styleOf } from '../../src/model/file-header.js';
import { allStyles, ferryText, modelOf, root } from '../helpers.js';
import { builtRuntime, testGeneratedCode } from './written-folders.js';

const fixture = (name: string) =>
  readFileSync(new URL(`test/fixtures/${name}.stores.yaml`, root), 'utf8');

describe('the stores of every style', () => {
  testGeneratedCode(
    [
      ['ferry', ferryText],
      ['every step', fixture('every-step')],
      ['every type', fixture('every-type')],
      ['derived values with parameters', fixture('asked')],
      ['awkward names across stores', fixture('awkward-across')],
      ['computed keys', fixture('computed-keys')],
      ['what can be undone, with tasks', fixture('undo')],
      ['what is saved', fixture('kept')],
      ['a store that comes later', fixture('later')],
    ],
    'es2023',
    5,
  );
});

/** The ferry's stores as the program writes them. */
const ferryIn = async (style: (typeof allStyles)[number]) =>
  generateStyle(await modelOf(ferryText), style, {
    version: '0.0.0',
    schema: 'ferry.stores.yaml',
    readRuntime: builtRuntime,
    isRuntimeFormatted: true,
  });

test.each(allStyles)('what is written of the ferry is formatted, and marked: %s', async (style) => {
  for (const { path, text } of await ferryIn(style)) {
    expect([ownershipOf(text), styleOf(text)]).toEqual(['generated', style]);
    expect(ownershipOf(`${text}\n`)).toBe('changed by hand');
    // Formatting goes on until nothing changes.
    expect([path, await prettier.check(text, { filepath: path })]).toEqual([path, true]);
  }
});

test('the same schema gives the same bytes', async () => {
  expect(await ferryIn('atom')).toEqual(await ferryIn('atom'));
});

test('each style is recognisable from its code', async () => {
  const textOf = async (style: (typeof allStyles)[number]) =>
    (await ferryIn(style)).find(({ path }) => path === 'stores/deck.ts')?.text ?? '';
  expect(await textOf('reducer')).toContain('return { ...deck, hold: payload };');
  expect(await textOf('atom')).toContain(
    'const hold = graph.atom<string | null>("deck.hold", null);',
  );
  expect(await textOf('atom')).toContain('hold.set(payload);');
  expect(await textOf('proxy')).toContain('deck.hold = payload;');
  expect(await textOf('observable')).toContain(
    'streams.combine(\n    () => [capacityM, usedM] as const,',
  );
  expect(await textOf('observable')).toContain(
    'holdFor.map((payload) => (deck) => ({ ...deck, hold: payload })),',
  );
});
