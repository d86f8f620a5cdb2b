// Builds the command line and the library into dist/, as ES module chunks that load what they need.
import { copyFileSync, mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { dirname, resolve } from 'node:path';
import { build } from 'esbuild';
import { format } from 'prettier';
import { globSync } from 'tinyglobby';
import './compile-validator.mjs';
import { writeLicences } from './licences.mjs';

/** The compiler is not built in: which package it is, is found when it is needed. */
const compiler = {
  name: 'compiler',
  setup({ onResolve }) {
    onResolve({ filter: /^typescript$/ }, ({ importer }) =>
      importer.endsWith('compiler.mjs')
        ? { path: 'typescript', external: true }
        : { path: resolve('src/library/compiler.mjs') },
    );
  },
};

rmSync('dist', { recursive: true, force: true });
const built = await build({
  plugins: [compiler],
  metafile: true,
  entryPoints: {
    bin: 'src/cli/bin.ts',
    // Tests call it in their own process.
    main: 'src/cli/main.ts',
    index: 'src/index.ts',
    core: 'src/core.ts',
    worker: 'src/workers/worker.ts',
    guardian: 'src/cli/folders/guardian.ts',
  },
  outdir: 'dist',
  bundle: true,
  // One starts a program of its own, the other reads declarations, which stand beside them.
  external: ['esbuild', 'typescript-6'],
  splitting: true,
  format: 'esm',
  platform: 'node',
  target: 'node20.19',
  legalComments: 'none',
  // Half of the text is half of the time to read it.
  minifyWhitespace: true,
  lineLimit: 160,
  logLevel: 'warning',
  // Packages written for CommonJS ask for Node's own modules with require.
  banner: {
    js: "import { createRequire as leeshoreRequire } from 'node:module'; const require = leeshoreRequire(import.meta.url);",
  },
});

// What old applications import, in browsers too.
const record = await build({
  metafile: true,
  entryPoints: { record: 'src/logs/record/record-old.ts' },
  outdir: 'dist',
  bundle: true,
  format: 'esm',
  platform: 'neutral',
  target: 'es2022',
  legalComments: 'none',
});

// The page of the timeline: the code, and how it looks, as texts that are put into each page.
const page = await build({
  metafile: true,
  entryPoints: ['src/logs/page/main.ts', 'src/logs/page/page.css'],
  outdir: 'dist/page',
  bundle: true,
  minify: true,
  format: 'iife',
  target: ['es2022', 'chrome123', 'firefox120', 'safari17.5'],
});
copyFileSync('src/logs/page/page.html', 'dist/page/page.html');
writeLicences(
  [built, record, page].map(({ metafile }) => metafile),
  'dist/LICENCES-OF-PACKAGES.txt',
);

// The run time of the generated stores is copied into the output as it is: formatted here, once.
async function stable(text) {
  let [before, after] = ['', text];
  while (before !== after)
    [before, after] = [after, await format(after, { filepath: 'generated.ts' })];
  return after;
}
for (const path of globSync('src/generation/{runtime,styles/*/runtime}/*.ts')) {
  const text = readFileSync(path, 'utf8')
    .replace(/^ *\/\/ eslint-disable.*\n/gm, '')
    .replace(/'(?:\.\.\/){3}runtime\//g, "'./");
  const to = path.replace('src/generation', 'dist/runtime');
  mkdirSync(dirname(to), { recursive: true });
  writeFileSync(to, await stable(text));
}
