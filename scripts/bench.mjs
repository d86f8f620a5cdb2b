// Bundles the benchmark and runs it: ratios within one run, never times to be held against another day's.
import { rmSync } from 'node:fs';
import { pathToFileURL } from 'node:url';
import { build } from 'esbuild';

const outfile = '.cache/bench.mjs';
await build({
  entryPoints: ['bench/main.ts'],
  outfile,
  bundle: true,
  format: 'esm',
  platform: 'node',
  packages: 'external',
  logLevel: 'warning',
});
await import(pathToFileURL(outfile).href);
rmSync(outfile);
