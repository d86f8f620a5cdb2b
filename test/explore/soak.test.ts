import { readdirSync, readFileSync } from 'node:fs';
import { expect, test } from '@jest/globals';
import { compareStores } from '../../src/pipeline.js';
import { ferryText, foldersOf, modelOf, root, unlimited } from '../helpers.js';

/** How much more is tried than in an ordinary run: 1,250 makes two million steps. */
const times = Number(process.env.LEESHORE_SOAK ?? 1);

const fixtures = readdirSync(new URL('test/fixtures', root))
  .filter((name) => name.endsWith('.stores.yaml'))
  .map((name) => [name, readFileSync(new URL(`test/fixtures/${name}`, root), 'utf8')] as const);
const schemas = [['the ferry', ferryText] as const, ...fixtures];

test.each(schemas)(
  'no false alarm: %s',
  async (_name, text) => {
    const application = await modelOf(text);
    const folders = await foldersOf(application);
    // Many seeds find more than many steps of one.
    const rounds = Math.max(1, Math.round(times / 10));
    const steps = Math.ceil((1600 * times) / schemas.length / rounds);
    for (let seed = 1; seed <= rounds; seed++) {
      const options = { ...unlimited, seed: 1000 + seed, steps };
      const { verdict, difference } = await compareStores(application, folders, options);
      expect([seed, verdict, difference]).toEqual([seed, 'same', undefined]);
    }
  },
  120_000 * times,
);
