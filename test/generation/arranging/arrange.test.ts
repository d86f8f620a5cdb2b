import { mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import ts from 'typescript';
import * as prettier from 'prettier';
import { asJavaScript } from '../../../src/generation/arranging/javascript.js';
import type { ModuleText } from '../../../src/base/module-text.js';
import { inOneFile } from '../../../src/generation/arranging/one-file.js';
import type { Style } from '../../../src/core.js';
import { loadModules } from '../../../src/participants/load-modules.js';
import { compareStores } from '../../../src/jobs/compare.js';
import { generateStyle } from '../../../src/jobs/generate.js';
import { ownershipOf } from '../../../src/model/file-header.js';
import { complaints } from '../../compiler.js';
import { someOf } from '../../sweep.js';
import {
  allStyles,
  ferryText,
  foldersOf,
  modelOf,
  readRuntime,
  root,
  unlimited,
} from '../../helpers.js';

const fixture = (name: string) =>
  readFileSync(new URL(`test/fixtures/${name}.stores.yaml`, root), 'utf8');

type Arrange = (files: readonly ModuleText[]) => readonly ModuleText[];
const cases: readonly (readonly [string, string, string, readonly Style[], Arrange])[] = [
  ['hiding-names', 'as it is', fixture('hiding-names'), allStyles, (files) => files],
  ['hiding-names', 'in one file', fixture('hiding-names'), allStyles, inOneFile],
  ['awkward-names', 'in one file', fixture('awkward-names'), ['atom', 'reducer'], inOneFile],
  ['computed-keys', 'in one file', fixture('computed-keys'), allStyles, inOneFile],
  ['across', 'as JavaScript', fixture('across'), ['observable'], asJavaScript],
  [
    'ferry',
    'as JavaScript in one file',
    ferryText,
    ['proxy'],
    (files) => asJavaScript(inOneFile(files)),
  ],
];

let folder: string;
beforeAll(() => {
  folder = mkdtempSync(join(tmpdir(), 'leeshore-arrange-'));
});
afterAll(() => {
  rmSync(folder, { recursive: true, force: true });
});

describe('the stores of every style', () => {
  const written: string[] = [];

  test.each(someOf(cases, 3))(
    'behave as before: %s, %s',
    async (name, how, schema, styles, arrange) => {
      const application = await modelOf(schema);
      const folders = (await foldersOf(application, styles)).map((one) => ({
        ...one,
        files: arrange(one.files),
      }));
      for (const { style, files } of folders)
        for (const { path, text } of files) {
          const out = join(folder, how, name, style, path);
          mkdirSync(dirname(out), { recursive: true });
          writeFileSync(out, text);
          if (path.endsWith('.ts')) written.push(out);
        }
      const { verdict } = await compareStores(application, folders, {
        ...unlimited,
        seed: 1,
        steps: 200,
      });
      expect(verdict).toBe('same');
    },
  );

  test('are strict', () => {
    // One program for all: reading the compiler's own libraries takes longer than all else.
    expect(written.length).toBeGreaterThan(5);
    expect(complaints(written)).toEqual([]);
  });
});

/** What an entry exports: values by loading it, all by the compiler. */
function exportsOf(files: readonly ModuleText[]): { values: string[]; all: string[] } {
  const own = mkdtempSync(join(folder, 'exports-'));
  for (const { path, text } of files) {
    mkdirSync(dirname(join(own, path)), { recursive: true });
    writeFileSync(join(own, path), text);
  }
  const program = ts.createProgram([join(own, 'index.ts')], { types: [], noLib: true });
  const source = program.getSourceFile(join(own, 'index.ts'));
  const checker = program.getTypeChecker();
  const module = source && checker.getSymbolAtLocation(source);
  const all = module === undefined ? [] : checker.getExportsOfModule(module);
  return {
    values: Object.keys(loadModules(files, 'index.ts')).sort(),
    all: all.map(({ name }) => name).sort(),
  };
}

test('one file exports what the entry of many does', async () => {
  const application = await modelOf(fixture('hiding-names'));
  for (const { files } of await foldersOf(application, someOf(['atom', 'reducer'], 1))) {
    const before = exportsOf(files);
    expect(before.values).toContain('createStores');
    expect(before.all).toContain('Map');
    const one = inOneFile(files);
    expect(one.map(({ path }) => path)).toEqual(['index.ts']);
    expect(exportsOf(one)).toEqual(before);
  }
});

test('types of JavaScript are those of TypeScript', async () => {
  const application = await modelOf(ferryText);
  const [reducer] = await foldersOf(application, ['reducer']);
  const out = join(folder, 'use');
  mkdirSync(out, { recursive: true });
  for (const { path, text } of asJavaScript(inOneFile(reducer?.files ?? [])))
    writeFileSync(join(out, path), text);
  writeFileSync(
    join(out, 'use.ts'),
    `import { createStores, deckActions, type Vehicle } from './index.js';
    const store = createStores();
    store.dispatch(deckActions.holdFor('low tide'));
    // @ts-expect-error: there is no such action
    deckActions.holdOn('low tide');
    // @ts-expect-error: the payload is a text
    deckActions.holdFor(5);
    export const first: Vehicle | undefined = store.snapshot().deck.vehicles[0];
    export const free: number = store.derived.deck.freeM(store.snapshot());
    // @ts-expect-error: it is a number
    export const wrong: string = store.derived.deck.freeM(store.snapshot());`,
  );
  expect(complaints([join(out, 'use.ts')])).toEqual([]);
});

test('comments and empty lines stay in JavaScript, and nothing of the types', async () => {
  const application = await modelOf(ferryText);
  const files = await generateStyle(application, 'atom', {
    version: '0.0.0',
    schema: 'ferry.stores.yaml',
    readRuntime,
    output: { language: 'js' },
  });
  const paths = files.map(({ path }) => path);
  expect(paths).toContain('stores/wind.js');
  expect(paths).toContain('stores/wind.d.ts');
  // A file of types alone has no script.
  expect(paths.filter((path) => path.startsWith('types.'))).toEqual(['types.d.ts']);
  for (const { path, text } of files) {
    expect(ownershipOf(text)).toBe('generated');
    expect(await prettier.check(text, { filepath: path })).toBe(true);
  }
  const wind = files.find(({ path }) => path === 'stores/wind.js')?.text ?? '';
  expect(wind).toContain(
    '\n\n// The wind at the berth\n\nexport function createWind({ graph }) {\n',
  );
  expect(wind).toContain('\n\n    measure: graph.action("wind.measure", (payload) => {\n');
});
