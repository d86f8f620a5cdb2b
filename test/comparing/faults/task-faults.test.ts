import { beforeAll, describe, expect, test } from '@jest/globals';
import { readFileSync } from 'node:fs';
import { styles } from '../../../src/base/styles.js';
import type { FaultKind } from '../../../src/comparing/faults/fault.js';
import { modelFaults } from '../../../src/comparing/faults/model-faults.js';
import { taskCodeFaults } from '../../../src/comparing/faults/task-faults.js';
import type { Application } from '../../../src/model/application.js';
import { modelOf, root } from '../../helpers.js';
import { FaultFinder } from './fault-finder.js';
import { howMany, someOf } from '../../sweep.js';

const text = readFileSync(new URL('test/fixtures/loading.stores.yaml', root), 'utf8');

let loading: Application;
let finder: FaultFinder;
beforeAll(async () => {
  loading = await modelOf(text);
  finder = await FaultFinder.of(loading);
});

/** `npm run soak` tries more. */
const seeds = someOf([1, 2, 3, 4, 5], 1);
/** How many faults of one kind in the schema are looked for. */
const ofEachKind = howMany(1, Infinity);

const codeFaults = taskCodeFaults(styles);

/** The kinds of faults in what a schema says of tasks. */
const inModel: readonly FaultKind[] = [
  'overlap mistaken',
  'older run goes on',
  'per forgotten',
  'repeat forgotten',
  'flag left on',
];

describe.each(seeds)('faults in what runs tasks are found (seed %i)', (seed) => {
  test.each(
    codeFaults.map((fault) => [fault.kind, fault.in === 'code' ? fault.style : '', fault] as const),
  )('%s, %s', async (kind, style, fault) => {
    const { verdict, difference } = await finder.look(fault, style, seed);
    expect([kind, verdict]).toEqual([kind, 'different']);
    if (kind === 'late answer not dropped')
      expect(difference?.script.steps.length).toBeLessThanOrEqual(4);
  });

  test.each(someOf(inModel, 2))('%s', async (kind) => {
    const own = modelFaults(loading)
      .filter((fault) => fault.kind === kind)
      .slice(0, ofEachKind);
    expect(own.length).toBeGreaterThan(0);
    for (const [i, fault] of own.entries()) {
      const { verdict } = await finder.look(fault, styles[i % styles.length] ?? 'atom', seed);
      expect([kind, fault.at, verdict]).toEqual([kind, fault.at, 'different']);
    }
  });
});
