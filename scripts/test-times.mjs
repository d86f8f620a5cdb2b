// How long test files take: those of the last run here, or those that are recorded with the project.
import { existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { dirname } from 'node:path';

const recorded = 'test/times.json';
const ofLastRun = 'node_modules/.cache/leeshore/test-times.json';
/** A file that nobody has timed, in seconds. */
const unknown = 1;

const read = (path) => (existsSync(path) ? JSON.parse(readFileSync(path, 'utf8')) : {});
const known = { ...read(recorded), ...read(ofLastRun) };

/** The seconds that a test file takes, by its path from the folder of the project on. */
export const secondsOf = (path) => known[path] ?? unknown;

/** Keeps the seconds that test files took; LEESHORE_RECORD=1 records them with the project. */
export function keepSeconds(taken) {
  const path = process.env.LEESHORE_RECORD ? recorded : ofLastRun;
  const all = Object.entries({ ...read(path), ...taken }).filter(([file]) => existsSync(file));
  mkdirSync(dirname(path), { recursive: true });
  const sorted = Object.fromEntries(all.sort(([a], [b]) => (a < b ? -1 : 1)));
  writeFileSync(path, `${JSON.stringify(sorted, null, 2)}\n`);
}
