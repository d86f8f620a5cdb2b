// Generates the stores of the example page in all four styles, bundles the page, and serves it to this machine;
// with --build it is only made, and where it lies is said.
import { spawnSync } from 'node:child_process';
import { copyFileSync, rmSync } from 'node:fs';
import { resolve } from 'node:path';
import { build, context } from 'esbuild';

const source = 'examples/skerry/app';
const out = '.cache/app';
const generated = spawnSync(process.execPath, [resolve('bin/leeshore.js'), 'generate'], {
  cwd: source,
  stdio: ['ignore', 'ignore', 'inherit'],
});
if (generated.status !== 0) process.exit(generated.status ?? 3);
rmSync(out, { recursive: true, force: true });
await build({
  entryPoints: [`${source}/page.ts`],
  outdir: out,
  bundle: true,
  format: 'esm',
  splitting: true,
  chunkNames: 'chunks/[name]-[hash]',
});
copyFileSync(`${source}/index.html`, `${out}/index.html`);
if (process.argv.includes('--build')) {
  console.log(resolve(out, 'index.html'));
} else {
  // A browser loads parts of a page from a server only, not from files.
  const serving = await context({});
  const { port } = await serving.serve({ host: '127.0.0.1', servedir: out });
  console.log(`http://127.0.0.1:${port}/  (Ctrl+C ends it)`);
}
