import { beforeAll, expect, test } from '@jest/globals';
import { modelFaults } from '../../../src/comparing/faults/model-faults.js';
import { ferryText, modelOf } from '../../helpers.js';
import { FaultFinder } from '../faults/fault-finder.js';
import { howMany } from '../../sweep.js';

/** `npm run soak` tries more. */
const faults = howMany(3, 50);
/** Scripts of so many steps are tried without gaps. */
const longest = 4;

let finder: FaultFinder;
beforeAll(async () => {
  finder = await FaultFinder.of(await modelOf(ferryText));
});

/** Every script of a small scope, shortest first, against what was found at random and shrunk. */
test('no script is longer than the shortest that shows the same fault', async () => {
  const all = modelFaults(finder.application);
  let compared = 0;
  for (let i = 0; i < faults; i++) {
    const fault = all[Math.floor(((i + 0.5) * all.length) / faults)];
    if (fault === undefined) continue;
    const [drawn, tried] = await Promise.all([
      finder.look(fault, 'proxy', 1, howMany(2000, 4000), { search: 'random' }),
      finder.look(fault, 'proxy', 1, howMany(5000, 8000), { search: 'small', depth: longest }),
    ]);
    const [ours, shortest] = [drawn, tried].map((one) => one.difference?.script.steps.length);
    if (ours === undefined || shortest === undefined || shortest > longest) continue;
    expect([fault.kind, fault.at, Math.max(ours, shortest)]).toEqual([
      fault.kind,
      fault.at,
      shortest,
    ]);
    compared += 1;
  }
  expect(compared).toBeGreaterThan(faults / 3);
});
