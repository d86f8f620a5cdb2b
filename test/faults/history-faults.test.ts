import { beforeAll, describe, expect, test } from '@jest/globals';
import { readFileSync } from 'node:fs';
import { styles } from '../../src/emit/style-names.js';
import type { FaultKind } from '../../src/faults/fault.js';
import { historyCodeFaults } from '../../src/faults/history-faults.js';
import { modelFaults } from '../../src/faults/model-faults.js';
import type { Application } from '../../src/model/application.js';
import { modelOf, root } from '../helpers.js';
import { FaultFinder } from './fault-finder.js';

const text = readFileSync(new URL('test/fixtures/undo.stores.yaml', root), 'utf8');

let application: Application;
let finder: FaultFinder;
beforeAll(async () => {
  application = await modelOf(text);
  finder = await FaultFinder.of(application);
});

/** `npm run soak` tries more. */
const seeds = process.env.LEESHORE_SOAK === undefined ? [1] : [1, 2, 3, 4, 5];

const inModel: readonly FaultKind[] = [
  'undo forgets a field',
  'history too long',
  'history too short',
  'row not undone at once',
];

describe.each(seeds)('faults in what can be undone are found (seed %i)', (seed) => {
  test.each(historyCodeFaults(styles).map((fault) => [fault.kind, fault] as const))(
    '%s',
    async (kind, fault) => {
      const { verdict } = await finder.look(fault, fault.in === 'code' ? fault.style : '', seed);
      expect([kind, verdict]).toEqual([kind, 'different']);
    },
  );

  test.each(inModel)('%s', async (kind) => {
    const own = modelFaults(application).filter((fault) => fault.kind === kind);
    expect(own.length).toBeGreaterThan(0);
    for (const [i, fault] of own.entries()) {
      const { verdict } = await finder.look(fault, styles[i % styles.length] ?? 'atom', seed);
      expect([kind, fault.at, verdict]).toEqual([kind, fault.at, 'different']);
    }
  });
});
