// Generates the stores of the example page in all four styles, bundles the page, without a framework and in each of
// three, and serves it to this machine; with --build it is only made, and where it lies is said.
import { spawnSync } from 'node:child_process';
import { copyFileSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { resolve } from 'node:path';
import { build, context } from 'esbuild';
import { frameworks } from './browser.mjs';
import { vueFiles } from './vue-files.mjs';

const source = 'examples/skerry/app';
const out = '.cache/app';
const generated = spawnSync(process.execPath, [resolve('bin/leeshore.js'), 'generate'], {
  cwd: source,
  stdio: ['ignore', 'ignore', 'inherit'],
});
if (generated.status !== 0) process.exit(generated.status ?? 3);
rmSync(out, { recursive: true, force: true });
await build({
  entryPoints: [
    { in: `${source}/page.ts`, out: 'page' },
    { in: `${source}/react/page.tsx`, out: 'react' },
    { in: `${source}/vue/page.ts`, out: 'vue' },
    { in: `${source}/angular/page.ts`, out: 'angular' },
  ],
  outdir: out,
  bundle: true,
  format: 'esm',
  target: 'es2022',
  splitting: true,
  chunkNames: 'chunks/[name]-[hash]',
  plugins: [vueFiles],
  define: {
    'process.env.NODE_ENV': '"development"',
    __VUE_OPTIONS_API__: 'true',
    __VUE_PROD_DEVTOOLS__: 'false',
    __VUE_PROD_HYDRATION_MISMATCH_DETAILS__: 'false',
  },
});
for (const file of ['index.html', 'page.css']) copyFileSync(`${source}/${file}`, `${out}/${file}`);
// The page in another tab that shows what happens in this one.
const timeline = spawnSync(
  process.execPath,
  ['bin/leeshore.js', 'timeline', '--live', '--html', `${out}/timeline.html`],
  { stdio: ['ignore', 'ignore', 'inherit'] },
);
if (timeline.status !== 0) process.exit(timeline.status ?? 3);
const frame = readFileSync(`${source}/framework.html`, 'utf8');
for (const framework of frameworks)
  writeFileSync(`${out}/${framework}.html`, frame.replace('PAGE', framework));
if (process.argv.includes('--build')) {
  console.log(resolve(out, 'index.html'));
} else {
  // A browser loads parts of a page from a server only, not from files.
  const serving = await context({});
  const { port } = await serving.serve({ host: '127.0.0.1', servedir: out });
  console.log(
    `http://127.0.0.1:${port}/  (Ctrl+C ends it; with a framework: ${frameworks.map((one) => `/${one}.html`).join(', ')})`,
  );
}
