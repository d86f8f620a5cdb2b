// Which branches of the reference does no search reach? Its code is counted like that of any participant, while the examples
// and the schemas of the tests are compared: node scripts/reference-branches.mjs STEPS
// Exit code 1 if fewer are reached than it takes.
import { mkdirSync, writeFileSync } from 'node:fs';
import { resolve } from 'node:path';
import { pathToFileURL } from 'node:url';
import { build } from 'esbuild';

/** So many of a hundred must be reached: a little less than are with 4,000 steps for each schema. */
const least = 88;
const [steps = '4000'] = process.argv.slice(2);

const outdir = '.cache/reference-branches';
const options = {
  bundle: true,
  format: 'esm',
  platform: 'node',
  packages: 'external',
  logLevel: 'warning',
};
mkdirSync(outdir, { recursive: true });

/** Builds a module, writes it as it is or changed, and imports it. */
async function imported(name, change = (text) => text, given = {}) {
  const { outputFiles } = await build({
    ...options,
    ...given,
    write: false,
    outfile: `${outdir}/${name}.mjs`,
    sourcemap: 'external',
  });
  const textOf = (ending) => outputFiles.find(({ path }) => path.endsWith(ending)).text;
  const path = resolve(outdir, `${name}.mjs`);
  const [text, map] = [textOf('.mjs'), textOf('.map')];
  writeFileSync(path, change(text));
  return { module: await import(pathToFileURL(path).href), text, map };
}

const counting = `
  export { WaysGone } from './src/participants/branches/ways-gone.js';
  export { waysTold } from './src/participants/branches/ways-told.js';`;
const { module: branches } = await imported('counting', undefined, {
  stdin: { contents: counting, resolveDir: '.' },
});

const ways = new branches.WaysGone();
const { module, text, map } = await imported(
  'counted',
  (code) => {
    // What counts participants is in there as well: its names are others, and as long.
    const own = code.replaceAll('leeshore$', 'reference');
    const counted = ways.count('reference', 'counted.mjs', own, 'module');
    globalThis.leeshoreCounters = counted.counters;
    const names = Object.keys(counted.counters).join(', ');
    return `var { ${names} } = globalThis.leeshoreCounters;\n${counted.code}`;
  },
  { entryPoints: ['test/planted/reference-alone.ts'] },
);
await module.compareAll(Number(steps));

const [code] = ways.codes;
const all = branches
  .waysTold(code, { path: '', bundle: text, map }, ways.added)
  .map((way) => ({ ...way, file: way.file.replace(/^(\.\.\/)+/, '') }))
  .filter(({ file }) => file.startsWith('src/meaning/'));
const never = all.filter(({ isGone }) => !isGone);
for (const { file, line, column, kind } of never) console.log(`${file}:${line}:${column}  ${kind}`);
const share = Math.round((1000 * (all.length - never.length)) / all.length) / 10;
console.log(`${all.length - never.length} of ${all.length} branches reached (${share} %)`);
process.exit(share >= least ? 0 : 1);
