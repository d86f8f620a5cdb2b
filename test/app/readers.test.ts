import { spawnSync } from 'node:child_process';
import { mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { gzipSync } from 'node:zlib';
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import ts from 'typescript';
import { build, transformSync } from 'esbuild';
import { chromium, type Browser } from 'playwright-core';
import { appAddress, chromiumArguments, chromiumPath } from '../../scripts/browser.mjs';
import type { Application } from '../../src/model/application.js';
import { checkSchemas } from '../../src/jobs/check.js';
import { complaints } from '../compiler.js';
import { allStyles, foldersOf, root } from '../helpers.js';
import { someOf } from '../sweep.js';

const frameworks = ['react', 'vue', 'angular'] as const;
const inProject = (path: string) => fileURLToPath(new URL(path, root));
/** Within the project, where the frameworks' packages are found. */
const folder = inProject('.cache/readers');

beforeAll(async () => {
  rmSync(folder, { recursive: true, force: true });
  const path = 'examples/skerry/harbour.stores.yaml';
  const text = (file: string) => readFileSync(inProject(file), 'utf8');
  const { application } = await checkSchemas([{ path, text: text(path) }], {
    resolve: (from, named) => join(dirname(from), named),
    identity: (file) => file,
    read: text,
  });
  const output = { readers: frameworks } as const;
  for (const { name, files: made } of await foldersOf(
    application as Application,
    allStyles,
    output,
  ))
    for (const { path, text } of made) {
      write(join(folder, 'ts', name, path), text);
      const { code } = transformSync(text, { loader: 'ts' });
      write(join(folder, 'js', name, path.replace(/\.ts$/, '.js')), code);
    }
});

function write(path: string, text: string): void {
  mkdirSync(dirname(path), { recursive: true });
  writeFileSync(path, text);
}

/** What the fixtures of a style import, as one file each. */
async function bundled(names: readonly string[], style: string, platform: 'browser' | 'node') {
  const { outputFiles } = await build({
    entryPoints: names.map((name) => inProject(`test/fixtures/readers/${name}.mjs`)),
    outdir: join(folder, 'bundles', style),
    bundle: true,
    write: platform === 'node',
    format: 'esm',
    platform,
    ...(platform === 'node' ? { packages: 'external' as const } : {}),
    target: 'es2022',
    logLevel: 'silent',
    alias: {
      stores: join(folder, 'js', style),
      reads: inProject(`test/fixtures/readers/reads-${style}.mjs`),
    },
    define: {
      'process.env.NODE_ENV': '"development"',
      // While it is developed, Angular draws everything twice and compares.
      ngDevMode: 'false',
      __VUE_OPTIONS_API__: 'true',
      __VUE_PROD_DEVTOOLS__: 'false',
      __VUE_PROD_HYDRATION_MISMATCH_DETAILS__: 'false',
    },
  });
  return new Map((outputFiles ?? []).map(({ path, text }) => [path.replace(/^.*\//, ''), text]));
}

const executablePath = chromiumPath();
const inBrowser =
  executablePath === undefined && process.env.CI === undefined ? describe.skip : describe;

inBrowser('readers in a real browser', () => {
  let browser: Browser;
  beforeAll(async () => {
    browser = await chromium.launch({
      ...(executablePath === undefined ? {} : { executablePath }),
      args: chromiumArguments,
    });
  });
  afterAll(async () => {
    await browser.close();
  });

  describe.each(someOf(allStyles, 2))('over %s stores', (style) => {
    let scripts: ReadonlyMap<string, string>;
    beforeAll(async () => {
      scripts = await bundled(frameworks, style, 'browser');
    });

    test.each([
      ['react', 18],
      ['vue', 14],
      ['angular', 14],
    ])('%s keeps what readers promise, in %i scenarios', async (framework, count) => {
      const page = await browser.newPage();
      const errors: string[] = [];
      page.on('pageerror', (error) => errors.push(error.message));
      await page.route(`${appAddress}**`, (route) =>
        route.request().url().endsWith('.js')
          ? route.fulfill({
              body: scripts.get(`${framework}.js`) ?? '',
              contentType: 'text/javascript',
            })
          : route.fulfill({
              body: '<!doctype html><script type="module" src="page.js"></script>',
              contentType: 'text/html; charset=utf-8',
            }),
      );
      await page.goto(appAddress);
      await page.waitForFunction('globalThis.results !== undefined', null, { timeout: 40_000 });
      const results = await page.evaluate<Record<string, string>>('globalThis.results');
      await page.close();
      const failed = Object.entries(results).filter(([, result]) => result !== 'as it should be');
      expect(failed).toEqual([]);
      expect(Object.keys(results).length).toBe(count);
      expect(errors).toEqual([]);
    });
  });
});

/** How a component reads a field, a derived value with parameters and a task in each style; `wrong` reads what is not there. */
const usage: Readonly<Record<string, readonly string[]>> = {
  reducer: [
    '(state) => state.wind.speed',
    '(state, { derived }) => derived.deck.waitingIn(state, "port")',
    '(_state, { tasks }) => tasks().timetable.load.running',
    '(state) => state.wind.sped',
    '(state, { derived }) => derived.deck.waitingIn(state, "left")',
  ],
  atom: [
    '({ wind }) => wind.speed.get()',
    '({ deck }) => deck.waitingIn("port").get()',
    '({ timetable }) => timetable.load.running.get()',
    '({ wind }) => wind.sped.get()',
    '({ deck }) => deck.waitingIn("left").get()',
  ],
  proxy: [
    '({ wind }) => wind.speed',
    '({ deck }) => deck.waitingIn("port")',
    '({ timetable }) => timetable.load.running',
    '({ wind }) => wind.sped',
    '({ deck }) => deck.waitingIn("left")',
  ],
  observable: [
    '({ wind }) => wind.speed.latest',
    '({ deck }) => deck.waitingIn("port").latest',
    '({ timetable }) => timetable.load.running.latest',
    '({ wind }) => wind.sped.latest',
    '({ deck }) => deck.waitingIn("left").latest',
  ],
};

/** A module that uses the readers of a framework in right ways, and in wrong ways that the compiler must find. */
function usageOf(framework: string, style: string): string {
  const [field = '', derived = '', task = '', noField = '', noLane = ''] = usage[style] ?? [];
  const isAngular = framework === 'angular';
  const [read, send, hosted] = isAngular
    ? ['injectReading', 'injectSenders', 'injectHosted']
    : ['useReading', 'useSenders', 'useHosted'];
  const wrapped = (type: string) =>
    ({ react: type, vue: `ComputedRef<${type}>`, angular: `Signal<${type}>` })[framework] ?? '';
  const host = {
    react: `StoresHost({ stores: createStores({ services }) });
// @ts-expect-error: stores are needed
StoresHost({});
// @ts-expect-error: these are no stores
StoresHost({ stores: {} });`,
    vue: `h(StoresHost, { stores: createStores({ services }) });
createApp({}).use(hostStores(createStores({ services })));
// @ts-expect-error: these are no stores
hostStores({});`,
    angular: `provideStoresHost(() => createStores({ services }));
// @ts-expect-error: a function makes the stores
provideStoresHost(createStores({ services }));`,
  }[framework];
  const parts = {
    react: 'StoresHost',
    vue: 'hostStores, StoresHost',
    angular: 'provideStoresHost',
  };
  return `import { createStores, type Outcome, type Services, type Vehicle } from './${style}/index.js';
import { ${parts[framework as keyof typeof parts]}, ${hosted}, ${read}, ${send} } from './${style}/${framework}.js';
${framework === 'vue' ? "import { createApp, h, type ComputedRef } from 'vue';" : ''}
${isAngular ? "import type { Signal } from '@angular/core';" : ''}
declare const services: Services;
${host ?? ''}
// @ts-expect-error: services are needed
createStores({});
export const speed: ${wrapped('number')} = ${read}(${field});
export const inPort: ${wrapped('readonly Vehicle[]')} = ${read}(${derived});
export const isLoading: ${wrapped('boolean')} = ${read}(${task});
// @ts-expect-error: there is no such field
${read}(${noField});
// @ts-expect-error: there is no such lane
${read}(${noLane});
// @ts-expect-error: a speed is a number
export const text: ${wrapped('string')} = ${read}(${field});
const { deck, plan, timetable } = ${send}();
export const outcome: Outcome = deck.admit({ plate: 'SK 104', lengthM: 4, lane: 'port' });
plan.undo();
const started = timetable.load('today');
export const ended: Promise<string> | null = started.status === 'done' ? started.ended.then(({ status }) => status) : null;
export const left: Outcome = timetable.load.cancel();
timetable.rename.cancel('v1');
// @ts-expect-error: only starts have an end
void outcome.ended;
${hosted}().close();
// @ts-expect-error: the payload lacks its lane
deck.admit({ plate: 'SK 104', lengthM: 4 });
// @ts-expect-error: there is no such action
deck.admitt('v1');
// @ts-expect-error: senders only send
void deck.vehicles;
`;
}

test('readers are typed: right use compiles, wrong use does not', () => {
  const pairs = allStyles.flatMap((style) =>
    frameworks.map((framework) => [style, framework] as const),
  );
  // Five of twelve: whatever the share is, no framework is left out.
  const files = someOf(pairs, 5).map(([style, framework]) => {
    const path = join(folder, 'ts', `${style}-${framework}.ts`);
    writeFileSync(path, usageOf(framework, style));
    return path;
  });
  const found = complaints(files, {
    lib: ['lib.es2023.d.ts', 'lib.dom.d.ts', 'lib.dom.iterable.d.ts'],
    module: ts.ModuleKind.NodeNext,
    moduleResolution: ts.ModuleResolutionKind.NodeNext,
    noUnusedLocals: true,
    noPropertyAccessFromIndexSignature: true,
    isolatedModules: true,
    skipLibCheck: true,
  });
  expect(found).toEqual([]);
});

describe.each(someOf(allStyles, 2))('readers of %s stores', (style) => {
  test('draw on a server, without a document', async () => {
    const names = frameworks.map((framework) => `server-${framework}`);
    await bundled(names, style, 'node');
    const drawn = names.map((name) => {
      const script = join(folder, 'bundles', style, `${name}.js`);
      const { stdout, stderr } = spawnSync(process.execPath, [script], { encoding: 'utf8' });
      return stderr + stdout.replace('Angular is running in development mode.\n', '');
    });
    expect(drawn).toEqual([
      '<p>SK 104,FE 77</p> 0\n',
      '<p>SK 104,FE 77</p> 1\n',
      '<p>SK 104,FE 77</p> 0\n',
    ]);
  });

  test.each(frameworks)('weigh at most 600 bytes: %s', (framework) => {
    const text = readFileSync(join(folder, 'ts', style, `${framework}.ts`), 'utf8');
    const { code } = transformSync(text, { loader: 'ts', minify: true, format: 'esm' });
    const bytes = gzipSync(code, { level: 9 }).length;
    expect([bytes > 200, bytes <= 600]).toEqual([true, true]);
  });
});
