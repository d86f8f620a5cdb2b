import { lookFor, type Planted } from './plant.js';
import { heldOut } from './held-out.js';
import { tuned } from './tuned.js';

/** What is looked for, told on the command line: `tuned 1,2 20000 0/2`, and names that are meant. */
const [which = 'tuned', seeds = '1', steps = '0', share = '0/1', names] = process.argv.slice(2);
const [number = 0, of = 1] = share.split('/').map(Number);
const lists: Readonly<Record<string, readonly Planted[]>> = { tuned, 'held-out': heldOut };
const faults = (lists[which] ?? []).filter(
  ({ name }) => names === undefined || names.split(',').includes(name),
);
const jobs = faults.flatMap((fault) => seeds.split(',').map((seed) => ({ fault, seed })));
for (const [i, { fault, seed }] of jobs.entries()) {
  if (i % of !== number) continue;
  const start = performance.now();
  const { verdict, difference, steps: done } = await lookFor(fault, Number(seed), Number(steps));
  const tookMs = Math.round(performance.now() - start);
  const foundIn = difference?.script.steps.length;
  console.log(JSON.stringify({ name: fault.name, seed, verdict, steps: done, foundIn, tookMs }));
}
process.exit(0);
