// Generates the stores of the example page in all four styles, and bundles the page; says where it is.
import { spawnSync } from 'node:child_process';
import { copyFileSync, mkdirSync } from 'node:fs';
import { resolve } from 'node:path';
import { build } from 'esbuild';

const source = 'examples/skerry/app';
const out = '.cache/app';
const generated = spawnSync(process.execPath, [resolve('bin/leeshore.js'), 'generate'], {
  cwd: source,
  stdio: ['ignore', 'ignore', 'inherit'],
});
if (generated.status !== 0) process.exit(generated.status ?? 3);
mkdirSync(out, { recursive: true });
await build({
  entryPoints: [`${source}/page.ts`],
  outfile: `${out}/page.js`,
  bundle: true,
  format: 'iife',
});
copyFileSync(`${source}/index.html`, `${out}/index.html`);
console.log(resolve(out, 'index.html'));
