import { readdirSync, readFileSync } from 'node:fs';
import { expect, test } from '@jest/globals';
import { compareStores } from '../../src/jobs/compare.js';
import { ferryText, foldersOf, modelOf, root, unlimited } from '../helpers.js';
import { someOf } from '../sweep.js';

const fixtures = readdirSync(new URL('test/fixtures', root))
  .filter((name) => name.endsWith('.stores.yaml'))
  .map((name) => [name, readFileSync(new URL(`test/fixtures/${name}`, root), 'utf8')] as const);
const schemas = [['the ferry', ferryText] as const, ...fixtures];

test.each(someOf(schemas, 8))('no false alarm: %s', async (_name, text) => {
  const application = await modelOf(text);
  const folders = await foldersOf(application);
  const options = { ...unlimited, seed: 1001, steps: 200 };
  const { verdict, difference } = await compareStores(application, folders, options);
  expect([verdict, difference]).toEqual(['same', undefined]);
});
