import { mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { afterAll, beforeAll, expect, test } from '@jest/globals';
import ts from 'typescript';
import { build } from 'esbuild';
import { vueFiles } from '../scripts/vue-files.mjs';
import { complaints } from './compiler.js';
import { allStyles, foldersOf, modelOf, root } from './helpers.js';

/** Within the project, where the frameworks' packages are found. */
const folder = fileURLToPath(new URL('.cache/docs-frameworks', root));
const pages = ['react', 'vue', 'angular', 'without-framework'];
const textOf = (page: string) => readFileSync(new URL(`docs/${page}.md`, root), 'utf8');
const schema = /```yaml\n(leeshore: 1\n[\s\S]*?)```/.exec(textOf('react'))?.[1] ?? '';

/** The modules of a page, by their names. */
const modulesOf = (page: string) =>
  [...textOf(page).matchAll(/```(?:tsx?|vue) ([\w-]+\.\w+)\n([\s\S]*?)```/g)].map(
    ([, name = '', text = '']) => ({ path: join(folder, page, name), text }),
  );

const write = (path: string, text: string) => {
  mkdirSync(dirname(path), { recursive: true });
  writeFileSync(path, text);
};

beforeAll(async () => {
  rmSync(folder, { recursive: true, force: true });
  const application = await modelOf(schema);
  const output = { readers: ['react', 'vue', 'angular'] } as const;
  for (const { name, files } of await foldersOf(application, allStyles, output))
    for (const page of pages)
      for (const { path, text } of files) write(join(folder, page, 'stores', name, path), text);
  for (const page of pages) for (const { path, text } of modulesOf(page)) write(path, text);
});

afterAll(() => {
  rmSync(folder, { recursive: true, force: true });
});

/** The rows of the table of how each style is read: a field, and a derived value with a parameter. */
const rowsOf = (page: string) =>
  [...textOf(page).matchAll(/^\| (reducer|atom|proxy|observable) +\| (.*) \|$/gm)].map(
    ([, style = '', cells = '']) => ({
      style,
      cells: cells.split(' | ').map((cell) => cell.trim().slice(1, -1)),
    }),
  );

/** The table of a page as modules. */
const tableOf = (page: string, read: string) =>
  rowsOf(page).map(({ style, cells: [field = '', derived = ''] }) => ({
    path: join(folder, page, `table-${style}.ts`),
    text: `import { ${read} } from './stores/${style}/${page}.js';
declare const lane: 'port';
${read}(${field});
${read}(${derived});
`,
  }));

const tables = [
  ...tableOf('react', 'useReading'),
  ...tableOf('vue', 'useReading'),
  ...tableOf('angular', 'injectReading'),
];

test('the modules and tables of all pages compile', () => {
  for (const { path, text } of tables) write(path, text);
  const modules = pages.map((page) => modulesOf(page));
  for (const own of modules) expect(own.length).toBeGreaterThan(3);
  const paths = [...modules.flat(), ...tables].map(({ path }) => path);
  const found = complaints(
    paths.filter((path) => /\.tsx?$/.test(path)),
    {
      target: ts.ScriptTarget.ES2022,
      lib: ['lib.es2023.d.ts', 'lib.dom.d.ts', 'lib.dom.iterable.d.ts'],
      jsx: ts.JsxEmit.ReactJSX,
      experimentalDecorators: true,
      useDefineForClassFields: false,
      exactOptionalPropertyTypes: false,
      noUncheckedIndexedAccess: false,
      verbatimModuleSyntax: false,
      skipLibCheck: true,
    },
  );
  expect(found.filter((text) => !text.includes("'./App.vue'"))).toEqual([]);
});

test('the tables have all styles', () => {
  for (const page of ['react', 'vue', 'angular'])
    expect(rowsOf(page).map(({ style }) => style)).toEqual(allStyles);
});

test('the components on docs/vue.md are taken by the compiler of Vue', async () => {
  const paths = modulesOf('vue').map(({ path }) => path);
  const { outputFiles } = await build({
    entryPoints: paths.filter((path) => /(main\.ts|\.vue)$/.test(path)),
    outdir: folder,
    bundle: true,
    write: false,
    packages: 'external',
    format: 'esm',
    logLevel: 'silent',
    plugins: [vueFiles],
  });
  expect(outputFiles.map(({ path }) => path.replace(/^.*\//, '')).sort()).toEqual([
    'App.js',
    'after.js',
    'before.js',
    'main.js',
  ]);
});
