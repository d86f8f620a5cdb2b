// Looks for faults that were planted by hand, as compare does, and says which are found: npm run planted -- held-out 1,2,3,4,5
// The lists: tuned, held-out; old and old-held-out, mistakes in old stores; old-right, old stores without mistakes.
// Exit code 1 if fewer are found with a seed than it takes, or anything in a store that is right.
import { spawn } from 'node:child_process';
import { availableParallelism } from 'node:os';
import { build } from 'esbuild';

/** So many of a hundred must be found with each seed. */
const least = 80;

/** Lists in which nothing is to be found. */
const isRight = (name) => name === 'old-right';

const [which = 'tuned', seeds = '1', steps = '0', names] = process.argv.slice(2);
const options = { bundle: true, format: 'esm', platform: 'node', packages: 'external' };
const outdir = '.cache/planted/bundle';
await build({
  ...options,
  entryPoints: { main: 'test/planted/look-for-all.ts', worker: 'src/workers/worker.ts' },
  outdir,
  logLevel: 'warning',
});

const of = Math.min(4, availableParallelism());
const found = [];
await Promise.all(
  Array.from({ length: of }, async (_, i) => {
    const args = [`${outdir}/main.js`, which, seeds, steps, `${i}/${of}`];
    const child = spawn(process.execPath, names === undefined ? args : [...args, names]);
    child.stderr.pipe(process.stderr);
    let rest = '';
    for await (const chunk of child.stdout) {
      const lines = (rest + String(chunk)).split('\n');
      rest = lines.pop() ?? '';
      for (const line of lines) {
        const result = JSON.parse(line);
        found.push(result);
        const { name, seed, verdict, steps: done, foundIn, tookMs } = result;
        const how = foundIn === undefined ? verdict : `found, ${foundIn} steps`;
        console.log(
          [name.padEnd(22), `seed ${seed}`, how.padEnd(16), `${done} steps`, `${tookMs} ms`].join(
            '  ',
          ),
        );
      }
    }
  }),
);
for (const seed of seeds.split(',')) {
  const all = found.filter((one) => one.seed === seed);
  const missed = all.filter(({ foundIn }) => foundIn === undefined).map(({ name }) => name);
  const share = Math.round((100 * (all.length - missed.length)) / all.length);
  console.log(`seed ${seed}: ${all.length - missed.length} of ${all.length} found (${share} %)`);
  if (isRight(which)) {
    const accused = all.filter(({ verdict }) => verdict !== 'same');
    if (accused.length > 0) process.exitCode = 1;
    console.log(`  accused: ${accused.map(({ name }) => name).join(', ') || 'none'}`);
    continue;
  }
  if (!(share >= least)) process.exitCode = 1;
  if (missed.length > 0) console.log(`  not found: ${missed.join(', ')}`);
}
