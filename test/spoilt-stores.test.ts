import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { expect, test } from '@jest/globals';
import { Random } from '../src/base/random.js';
import type { Application } from '../src/model/application.js';
import type { GeneratedFolder } from '../src/core.js';
import { checkSchemas } from '../src/jobs/check.js';
import { compareStores } from '../src/jobs/compare.js';
import { ferryText, foldersOf, unlimited } from './helpers.js';
import { spoiltAnyhow } from './spoilt-schemas.js';
import { strictComplaints } from './compiler.js';
import { isSoak } from './sweep.js';

/** How many files are spoilt, and how many of those that still are schemas are looked at closely. */
const { files, compiled, compared } = isSoak
  ? { files: 20_000, compiled: 200, compared: 500 }
  : { files: 60, compiled: 1, compared: 2 };
/** So many schemas go into one run of the compiler. */
const atOnce = 20;

/** The model of a spoilt schema that the checker takes. */
async function modelOfSpoilt(text: string): Promise<Application | undefined> {
  const { application } = await checkSchemas([{ path: 'spoilt.stores.yaml', text }]);
  return application;
}

function compilerComplaints(all: readonly (readonly GeneratedFolder[])[]): string[] {
  const root = mkdtempSync(join(tmpdir(), 'leeshore-spoilt-'));
  try {
    const written = all.flatMap((folders, i) =>
      folders.flatMap(({ style, files: own }) =>
        own.map(({ path, text }) => {
          const file = join(root, String(i), style, path);
          mkdirSync(dirname(file), { recursive: true });
          writeFileSync(file, text);
          return file;
        }),
      ),
    );
    return strictComplaints(written, 'es2023');
  } finally {
    rmSync(root, { recursive: true, force: true });
  }
}

test(`spoilt schemas that pass the check give stores that compile and behave the same (${files})`, async () => {
  const random = new Random(23);
  const seen = new Set([ferryText]);
  const waiting: (readonly GeneratedFolder[])[] = [];
  let passed = 0;
  /** All is tried before the test fails: one slip of many says little. */
  const wrong: unknown[] = [];
  for (let i = 0; i < files; i++) {
    const text = spoiltAnyhow(ferryText, random);
    const application = seen.has(text) ? undefined : await modelOfSpoilt(text);
    seen.add(text);
    if (application === undefined) continue;
    passed++;
    const folders = await foldersOf(application);
    if (passed <= compiled) waiting.push(folders);
    if (waiting.length === atOnce) wrong.push(...compilerComplaints(waiting.splice(0)));
    if (passed > compared) continue;
    const options = { ...unlimited, seed: i, steps: 60 };
    const { difference } = await compareStores(application, folders, options);
    if (difference !== undefined) wrong.push({ text, difference });
  }
  wrong.push(...compilerComplaints(waiting));
  expect(wrong).toEqual([]);
  expect(passed).toBeGreaterThanOrEqual(Math.max(compiled, compared));
});
