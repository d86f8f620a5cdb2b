import { readFileSync } from 'node:fs';
import { globSync } from 'tinyglobby';
import { checkSchemas } from '../../src/jobs/check.js';
import { compareStores } from '../../src/jobs/compare.js';
import { generatedInMemory } from '../../src/jobs/generate.js';

const read = (path: string) => readFileSync(path, 'utf8');

/** Compares the examples and the schemas of the tests with the stores of one style; so many steps each. */
export async function compareAll(steps: number): Promise<void> {
  const examples = ['ferry', 'harbour'].map((name) => `examples/skerry/${name}.stores.yaml`);
  for (const path of [...examples, ...globSync('test/fixtures/*.stores.yaml').sort()]) {
    const { application } = await checkSchemas([{ path, text: read(path) }], {
      resolve: (_from, named) => `examples/skerry/${named}`,
      identity: (one) => one,
      read,
    });
    if (application === undefined) throw new Error(`${path} is not sound`);
    const folders = await generatedInMemory(application, ['proxy'], (file) =>
      read(`src/generation/${file}`),
    );
    const { verdict } = await compareStores(application, folders, {
      seed: 1,
      steps,
      clock: () => 0,
      until: Infinity,
    });
    if (verdict !== 'same') throw new Error(`${path}: ${verdict}`);
  }
}
