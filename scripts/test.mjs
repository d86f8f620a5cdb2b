// Runs Jest; arguments go on to it. With --changed, and perhaps a revision of git, only the tests that are nearest to
// what was changed since, for about a minute.
import { spawnSync } from 'node:child_process';
import { changedTests } from './changed-tests.mjs';

/** The arguments of Jest. */
function argumentsFor(given) {
  const at = given.indexOf('--changed');
  if (at < 0) return given;
  const others = given.toSpliced(at, 1);
  const revision = given[at + 1]?.startsWith('-') === false ? given[at + 1] : undefined;
  const { near, reached } = changedTests(revision);
  const left = reached - near.length;
  console.error(
    `The change reaches ${reached} test files; ${left === 0 ? 'all' : `the nearest ${near.length}`} are run.${left === 0 ? '' : ' npm test runs all.'}`,
  );
  if (near.length === 0) process.exit(0);
  return ['--runTestsByPath', ...near, ...others.filter((one) => one !== revision)];
}

const { status } = spawnSync(
  process.execPath,
  ['--no-warnings', 'node_modules/jest/bin/jest.js', ...argumentsFor(process.argv.slice(2))],
  {
    stdio: 'inherit',
    env: { ...process.env, NO_COLOR: process.env.CI ? '1' : (process.env.NO_COLOR ?? '') },
  },
);
process.exit(status ?? 3);
