import { readdirSync, readFileSync } from 'node:fs';
import { expect, test } from '@jest/globals';
import { compareStores } from '../src/pipeline.js';
import { ferryText, foldersOf, modelOf, root, unlimited } from './helpers.js';

const fixtures = readdirSync(new URL('test/fixtures', root))
  .filter((name) => name.endsWith('.stores.yaml'))
  .map((name) => [name, readFileSync(new URL(`test/fixtures/${name}`, root), 'utf8')] as const);
for (const [name, text] of [['ferry', ferryText] as const, ...fixtures])
  for (const style of ['reducer', 'atom', 'proxy', 'observable'] as const)
    test(`${name} ${style}`, async () => {
      const application = await modelOf(text);
      const folders = await foldersOf(application, [style]);
      const { verdict, difference } = await compareStores(application, folders, {
        ...unlimited,
        seed: 7,
        steps: 400,
      });
      expect([verdict, difference]).toEqual(['same', undefined]);
    });
