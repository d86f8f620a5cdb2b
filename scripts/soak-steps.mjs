// Compares the stores of the ferry and of every schema of the tests, with the built program: two million steps in all,
// one line a run. Exit code 1 at the first difference, or where a run did less than it should.
import { execFile } from 'node:child_process';
import { globSync } from 'tinyglobby';
import { promisify } from 'node:util';

const ferry = 'examples/skerry/ferry.stores.yaml';
const others = globSync('test/fixtures/*.stores.yaml').sort();
const all = 2_000_000;
const inRun = 50_000;

/** Half of the steps for the ferry, the others share the rest. */
const plan = [[ferry, all / 2], ...others.map((file) => [file, all / 2 / others.length])];

let done = 0;
for (const [file, steps] of plan)
  for (let seed = 1; seed <= Math.ceil(steps / inRun); seed++) {
    const { end, verdict, difference, steps: own, tookMs } = await compared(file, seed);
    done += own;
    const rate = Math.round((own / tookMs) * 1000);
    console.log(
      `${file}, seed ${seed}: ${verdict}, ${own} steps, ${rate} a second, ${done} in all`,
    );
    if (verdict === 'same' && (end === 'steps' || end === 'closed')) continue;
    console.error(JSON.stringify(difference ?? { end }, null, 2));
    process.exit(1);
  }

/** The report of one run. */
async function compared(file, seed) {
  const args = ['--seed', seed, '--steps', inRun, '--seconds', 3600, '--json'].map(String);
  const command = ['bin/leeshore.js', 'compare', file, ...args];
  const run = promisify(execFile)(process.execPath, command, { maxBuffer: 2 ** 28 });
  // A difference is exit code 1, with the report all the same.
  const { stdout } = await run.catch((error) => error);
  return JSON.parse(stdout);
}
