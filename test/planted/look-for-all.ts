import { compareMended, lookFor, type Planted } from './plant.js';
import { heldOut } from './held-out.js';
import { compareOld, heldOutOf, oldStores, type Variant } from './old-stores.js';
import { tuned } from './tuned.js';

/** What is looked for, told on the command line: `tuned 1,2 20000 0/2`, and names that are meant. */
const [which = 'tuned', seeds = '1', steps = '0', share = '0/1', names] = process.argv.slice(2);
const [number = 0, of = 1] = share.split('/').map(Number);

interface Job {
  readonly name: string;
  readonly look: (seed: number) => ReturnType<typeof lookFor>;
}

const inStores = (faults: readonly Planted[]): readonly Job[] =>
  faults.map((fault) => ({
    name: fault.name,
    look: (seed) => lookFor(fault, seed, Number(steps)),
  }));

const ofOld = (store: string, variant?: Variant): Job => ({
  name: variant?.name ?? store,
  look: (seed) => compareOld(store, variant, seed, Number(steps)),
});

const old = await oldStores();
const lists: Readonly<Record<string, readonly Job[]>> = {
  tuned: inStores(tuned),
  'held-out': inStores(heldOut),
  'old-right': [
    ...old.map(({ name }) => ofOld(name)),
    ...(['old', 'old-office'] as const).map((kind) => ({
      name: `examples: ${kind}`,
      look: (seed: number) => compareMended(kind, seed, Number(steps)),
    })),
  ],
  old: old.flatMap((one) =>
    one.variants
      .filter((variant) => !heldOutOf(one).includes(variant))
      .map((variant) => ofOld(one.name, variant)),
  ),
  'old-held-out': old.flatMap((one) => heldOutOf(one).map((variant) => ofOld(one.name, variant))),
};
const wanted = (lists[which] ?? []).filter(
  ({ name }) => names === undefined || names.split(',').includes(name),
);
const jobs = wanted.flatMap((job) => seeds.split(',').map((seed) => ({ ...job, seed })));
for (const [i, { name, look, seed }] of jobs.entries()) {
  if (i % of !== number) continue;
  const start = performance.now();
  const result = await look(Number(seed)).catch((error: unknown) => ({
    verdict: String(error),
    difference: undefined,
    steps: 0,
  }));
  const { verdict, difference, steps: done } = result;
  const tookMs = Math.round(performance.now() - start);
  const foundIn = difference?.script.steps.length;
  console.log(JSON.stringify({ name, seed, verdict, steps: done, foundIn, tookMs }));
}
process.exit(0);
