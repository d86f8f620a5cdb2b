import { spawnSync } from 'node:child_process';
import { mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { build } from 'esbuild';
import { vueFiles } from '../scripts/vue-files.mjs';
import { foldersOf, modelOf, root } from './helpers.js';

/** Within the project, where the frameworks' packages are found. */
const folder = fileURLToPath(new URL('.cache/docs-testing', root));
const textOf = (page: string) => readFileSync(new URL(`docs/${page}.md`, root), 'utf8');
const schema = /```yaml\n(leeshore: 1\n[\s\S]*?)```/.exec(textOf('react'))?.[1] ?? '';
const blocksOf = (text: string) =>
  [...text.matchAll(/```(?:tsx?|vue) ([\w.-]+)\n([\s\S]*?)```/g)].map(
    ([, name = '', code = '']) => ({ name, code }),
  );
const write = (path: string, text: string) => {
  mkdirSync(dirname(path), { recursive: true });
  writeFileSync(path, text);
};

const frameworks = ['react', 'vue', 'angular'] as const;
type Framework = (typeof frameworks)[number];

/** The test of a framework, and where it stands beside the components of its page. */
const sectionOf = (framework: Framework) => {
  const title = `${framework.charAt(0).toUpperCase()}${framework.slice(1)}`;
  const section = textOf('testing').split(`\n## ${title}\n`)[1]?.split('\n## ')[0] ?? '';
  const [block] = blocksOf(section);
  if (block === undefined) throw new Error(`the page has no test for ${title}`);
  return { ...block, path: join(folder, framework, block.name) };
};

beforeAll(async () => {
  rmSync(folder, { recursive: true, force: true });
  const folders = await foldersOf(await modelOf(schema), ['proxy', 'observable'], {
    readers: frameworks,
    begin: 'state',
  });
  const dom = blocksOf(textOf('testing')).find(({ name }) => name === 'dom.ts');
  for (const framework of frameworks) {
    const at = (path: string) => join(folder, framework, path);
    for (const { name, files } of folders)
      for (const { path, text } of files) write(at(`stores/${name}/${path}`), text);
    for (const { name, code } of blocksOf(textOf(framework))) write(at(name), code);
    write(at('dom.ts'), dom?.code ?? '');
  }
});
afterAll(() => {
  rmSync(folder, { recursive: true, force: true });
});

/** Bundles a test as the page says, and runs it with Node's own runner. */
async function run(framework: Framework, code: string) {
  const { path } = sectionOf(framework);
  write(path, code);
  const outfile = join(folder, framework, 'bundle.test.mjs');
  await build({
    entryPoints: [path],
    outfile,
    bundle: true,
    platform: 'node',
    format: 'esm',
    external: ['jsdom'],
    jsx: 'automatic',
    plugins: [vueFiles],
    tsconfigRaw: {
      compilerOptions: { experimentalDecorators: true, useDefineForClassFields: false },
    },
    define: {
      __VUE_OPTIONS_API__: 'true',
      __VUE_PROD_DEVTOOLS__: 'false',
      __VUE_PROD_HYDRATION_MISMATCH_DETAILS__: 'false',
    },
    logLevel: 'silent',
  });
  const env = { ...process.env, NODE_TEST_CONTEXT: undefined };
  const { status, stdout } = spawnSync(process.execPath, ['--test', '--test-force-exit', outfile], {
    encoding: 'utf8',
    env,
    timeout: 60_000,
  });
  return { status, stdout };
}

test.each(frameworks)(
  'the test of a component of %s passes, and fails for a component that shows another lane',
  async (framework) => {
    const { code } = sectionOf(framework);
    const { status, stdout } = await run(framework, code);
    expect([status, stdout]).toEqual([0, expect.stringMatching(/pass 1\n/)]);
    const broken = code.replaceAll("'port'", "'starboard'").replaceAll('"port"', '"starboard"');
    const other = await run(
      framework,
      framework === 'react' ? code.replace('lane="port"', 'lane="starboard"') : broken,
    );
    expect([other.status, other.stdout]).toEqual([1, expect.stringMatching(/fail 1\n/)]);
  },
);
