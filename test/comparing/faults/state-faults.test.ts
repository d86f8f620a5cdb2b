import { beforeAll, describe, expect, test } from '@jest/globals';
import { readFileSync } from 'node:fs';
import { styles } from '../../../src/base/styles.js';
import type { Fault, FaultKind } from '../../../src/comparing/faults/fault.js';
import { historyCodeFaults } from '../../../src/comparing/faults/history-faults.js';
import { laterCodeFaults } from '../../../src/comparing/faults/later-faults.js';
import { modelFaults } from '../../../src/comparing/faults/model-faults.js';
import { savedCodeFaults } from '../../../src/comparing/faults/saved-faults.js';
import type { Application } from '../../../src/model/application.js';
import { modelOf, root } from '../../helpers.js';
import { FaultFinder } from './fault-finder.js';
import { howMany, someOf } from '../../sweep.js';

/** `npm run soak` tries more. */
const seeds = someOf([1, 2, 3, 4, 5], 1);
/** How many faults of one kind in the schema are looked for. */
const ofEachKind = howMany(1, Infinity);

const cases: readonly {
  readonly what: string;
  readonly fixture: string;
  readonly inCode: readonly Fault[];
  readonly inModel: readonly FaultKind[];
}[] = [
  {
    what: 'what can be undone',
    fixture: 'undo',
    inCode: historyCodeFaults(styles),
    inModel: [
      'undo forgets a field',
      'history too long',
      'history too short',
      'row not undone at once',
    ],
  },
  {
    what: 'what is saved',
    fixture: 'kept',
    inCode: savedCodeFaults(styles),
    inModel: [
      'field not saved',
      'saved under another key',
      'another version saved',
      'earlier version not read',
    ],
  },
  {
    what: 'what comes later',
    fixture: 'later',
    inCode: laterCodeFaults(true),
    inModel: ['undo forgets a field', 'field not saved'],
  },
];

describe.each(cases)('faults in $what are found', ({ fixture, inCode, inModel }) => {
  let application: Application;
  let finder: FaultFinder;
  beforeAll(async () => {
    const file = new URL(`test/fixtures/${fixture}.stores.yaml`, root);
    application = await modelOf(readFileSync(file, 'utf8'));
    finder = await FaultFinder.of(application);
  });

  describe.each(seeds)('seed %i', (seed) => {
    test.each(inCode.map((fault) => [fault.kind, fault] as const))('%s', async (kind, fault) => {
      const { verdict } = await finder.look(fault, fault.in === 'code' ? fault.style : '', seed);
      expect([kind, verdict]).toEqual([kind, 'different']);
    });

    test.each(someOf(inModel, 2))('%s', async (kind) => {
      const own = modelFaults(application)
        .filter((fault) => fault.kind === kind)
        .slice(0, ofEachKind);
      expect(own.length).toBeGreaterThan(0);
      for (const [i, fault] of own.entries()) {
        const { verdict } = await finder.look(fault, styles[i % styles.length] ?? 'atom', seed);
        expect([kind, fault.at, verdict]).toEqual([kind, fault.at, 'different']);
      }
    });
  });
});
