// Builds the command line and the library into dist/, as ES module chunks that load what they need.
import { rmSync } from 'node:fs';
import { build } from 'esbuild';
import './compile-validator.mjs';

rmSync('dist', { recursive: true, force: true });
await build({
  entryPoints: { bin: 'src/cli/bin.ts', index: 'src/index.ts' },
  outdir: 'dist',
  bundle: true,
  splitting: true,
  format: 'esm',
  platform: 'node',
  target: 'node20.19',
  legalComments: 'none',
  logLevel: 'warning',
  // Packages written for CommonJS ask for Node's own modules with require.
  banner: {
    js: "import { createRequire as leeshoreRequire } from 'node:module'; const require = leeshoreRequire(import.meta.url);",
  },
});
