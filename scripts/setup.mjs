// Installs and builds what is missing or out of date, and only that. With --for-tests, what the tests need too.
import { spawnSync } from 'node:child_process';
import { existsSync, readdirSync, statSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';

const root = dirname(dirname(fileURLToPath(import.meta.url)));
process.chdir(root);

/** The newest modification time below a path, in milliseconds; 0 where nothing is. */
function newest(path, skip = () => false) {
  if (!existsSync(path) || skip(path)) return 0;
  const stat = statSync(path);
  if (!stat.isDirectory()) return stat.mtimeMs;
  return Math.max(0, ...readdirSync(path).map((name) => newest(join(path, name), skip)));
}

function run(what, command, args) {
  const start = performance.now();
  process.stderr.write(`${what} ...\n`);
  const { status, stdout, stderr } = spawnSync(command, args, { encoding: 'utf8' });
  if (status !== 0) {
    process.stderr.write(`${stdout}${stderr}\n${what} failed.\n`);
    process.exit(3);
  }
  process.stderr.write(`${what}: ${((performance.now() - start) / 1000).toFixed(1)} s\n`);
}

// The tests, the linter and the example pages need more packages than the program: a workspace of their own.
const forTests = process.argv.includes('--for-tests');
const installed = 'node_modules/.package-lock.json';
if (newest(installed) < newest('package-lock.json')) {
  run('installing packages', 'npm', ['ci', ...(forTests ? [] : ['--workspaces=false'])]);
} else if (forTests && !existsSync('node_modules/jest')) {
  run('installing what the tests need', 'npm', ['install']);
}

const generated = 'src/language/check/format-validator.js';
const sources = Math.max(
  newest('src', (path) => path === join('src', 'check', 'format-validator.js')),
  newest('schema'),
  newest('scripts/build.mjs'),
  newest('scripts/compile-validator.mjs'),
  newest('package-lock.json'),
);
if (newest('dist/bin.js') < sources || !existsSync(generated)) {
  run('building', process.execPath, ['scripts/build.mjs']);
}
