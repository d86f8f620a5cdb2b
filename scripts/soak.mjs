// All that takes too long for npm test, part by part, with a table of what each took: npm run soak, or
// npm run soak -- steps planted. Exit code 1 if a part failed; the others are done all the same.
import { spawnSync } from 'node:child_process';
import Table from 'cli-table3';

const node = (...args) => ({ args });
const tests = (...args) => ({ args: ['scripts/test.mjs', ...args], env: { LEESHORE_SOAK: '1' } });

const parts = {
  steps: node('scripts/soak-steps.mjs'),
  reference: node('scripts/reference-branches.mjs', '4000'),
  planted: node('scripts/planted.mjs', 'tuned', '1,2,3,4,5'),
  'held-out': node('scripts/planted.mjs', 'held-out', '1,2,3,4,5'),
  schemas: tests('test/random-schemas', 'test/language/check/mutations', 'test/spoilt-stores'),
  generated: tests('test/emit', 'test/arrange', 'test/contract', 'test/expressions'),
  comparing: tests('test/explore', 'test/faults'),
  logs: tests('test/replay'),
  commands: tests('test/cli', 'test/docs', 'test/bench', 'test/screenshots'),
  pages: tests('test/app'),
};

const wanted = process.argv.slice(2);
const odd = wanted.find((name) => !Object.hasOwn(parts, name));
if (odd !== undefined) {
  console.error(
    `soak: there is no part '${odd}'. The parts are: ${Object.keys(parts).join(', ')}.`,
  );
  process.exit(2);
}

const table = new Table({ head: ['part', 'minutes', 'result'], style: { head: [], border: [] } });
for (const [name, { args, env }] of Object.entries(parts)) {
  if (wanted.length > 0 && !wanted.includes(name)) continue;
  console.log(`\n== ${name}`);
  const start = performance.now();
  const { status } = spawnSync(process.execPath, args, {
    stdio: 'inherit',
    env: { ...process.env, ...env },
  });
  const minutes = ((performance.now() - start) / 60_000).toFixed(1);
  table.push([name, minutes, status === 0 ? 'passed' : 'failed']);
  if (status !== 0) process.exitCode = 1;
}
console.log(`\n${table.toString()}`);
