// Which test files a change can reach, the nearest first: those that import what was changed, directly or by way of others.
import { execFileSync } from 'node:child_process';
import { existsSync, readFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { globSync } from 'tinyglobby';
import { secondsOf } from './test-times.mjs';

/** What a run of the nearest tests may take, in seconds, as it was timed: with two workers, about half of that. */
const most = 90;

/** What else a file depends on than what it imports. */
const dependsOn = (path) => (path === 'test/cli/run.ts' ? ['src/cli/main.ts'] : []);

/** The modules that a module names in the project. */
function importsOf(path) {
  const text = readFileSync(path, 'utf8');
  const named = [...text.matchAll(/(?:from|import)\s*\(?\s*'(\.\.?\/[^']+)'/g)].map(([, name]) =>
    join(dirname(path), name),
  );
  const files = named.map((name) => [name.replace(/\.js$/, '.ts'), name].find(existsSync));
  return [...files.filter((file) => file !== undefined), ...dependsOn(path)];
}

/** The files that were changed since a revision, by git. */
function changedSince(revision) {
  const git = (...args) => execFileSync('git', args, { encoding: 'utf8' }).split('\n');
  const changed = [
    ...git('diff', '--name-only', revision),
    ...git('ls-files', '--others', '--exclude-standard'),
  ];
  return new Set(changed.filter((path) => path !== '' && existsSync(path)));
}

/** Whoever names a file that is no module, a fixture or a page, reads it. */
const naming = (path, files) =>
  /\.[cm]?[jt]sx?$/.test(path)
    ? []
    : files.filter((file) => readFileSync(file, 'utf8').includes(path.replace(/^.*\//, '')));

/** The test files to run for what was changed since a revision, and how many a change can reach in all. */
export function changedTests(revision = 'HEAD') {
  const files = globSync(['{src,test,scripts,bench}/**/*.{ts,mjs,cjs}']);
  const importers = new Map();
  for (const file of files)
    for (const imported of importsOf(file))
      importers.set(imported, [...(importers.get(imported) ?? []), file]);
  const changed = [...changedSince(revision)];
  const reached = new Set([...changed, ...changed.flatMap((path) => naming(path, files))]);
  // A set is walked in the order in which it grows: by distance.
  for (const file of reached)
    for (const importer of importers.get(file) ?? []) reached.add(importer);
  const tests = [...reached].filter((file) => file.endsWith('.test.ts'));
  let seconds = 0;
  const near = tests.filter((test) => {
    const own = secondsOf(test);
    const isTaken = changed.includes(test) || seconds + own <= most;
    if (isTaken) seconds += own;
    return isTaken;
  });
  return { near, reached: tests.length };
}
