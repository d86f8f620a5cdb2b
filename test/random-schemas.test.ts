import { describe, expect, test } from '@jest/globals';
import { Random } from '../src/base/random.js';
import type { Application } from '../src/model/application.js';
import { checkSchemas } from '../src/jobs/check.js';
import { compareStores } from '../src/jobs/compare.js';
import { foldersOf, unlimited } from './helpers.js';
import { SchemaSource } from './random-schemas.js';
import { howMany } from './sweep.js';

/** How many schemas: `npm run soak` does more than `npm test`. */
const count = howMany(2, 150);

/** The model of the lines of a schema; those with problems are left out until there are none. */
async function modelOfLines(lines: readonly string[]): Promise<Application> {
  const text = lines.join('\n');
  const { application, problems } = await checkSchemas([{ path: 'random.stores.yaml', text }]);
  if (application !== undefined) return application;
  const errors = problems.filter(({ severity }) => severity === 'error');
  const bad = new Set(errors.map(({ span }) => span.source.placeOf(span.start).line - 1));
  const left = lines.filter((_, i) => !bad.has(i));
  expect(left.length).toBeLessThan(lines.length);
  const isEmptied = (line: string, i: number) =>
    /^ {4}(derived|actions|tasks|reacts):$/.test(line) &&
    left[i + 1]?.startsWith('      ') !== true;
  return modelOfLines(left.filter((line, i) => !isEmptied(line, i)));
}

describe.each([
  ['without tasks', false, false, count, 400],
  ['with tasks', true, false, howMany(1, 100), howMany(400, 1000)],
  ['with undo and saved state', false, true, howMany(1, 100), 600],
  ['with all of it', true, true, howMany(1, 100), 600],
] as const)('random schemas %s', (_, hasTasks, keeps, schemas, steps) => {
  test(`the stores of ${schemas} of them behave the same`, async () => {
    let [deeds, kept] = [0, 0];
    for (let seed = 1; seed <= schemas; seed++) {
      const lines = new SchemaSource(new Random(seed), hasTasks, keeps).lines();
      const application = await modelOfLines(lines);
      for (const { actions, tasks, history, saved } of application.stores) {
        deeds += actions.length + tasks.length;
        if (history !== undefined && saved !== undefined) kept++;
      }
      const folders = await foldersOf(application);
      const options = { ...unlimited, seed, steps };
      const { difference } = await compareStores(application, folders, options);
      expect([seed, difference]).toEqual([seed, undefined]);
    }
    // Most of what is written at random has no problems.
    expect(deeds / schemas).toBeGreaterThan(hasTasks ? 35 : 30);
    expect(kept >= schemas).toBe(keeps);
  });
});
