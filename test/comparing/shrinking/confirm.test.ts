import { expect, test } from '@jest/globals';
import type { Difference } from '../../../src/comparing/session/difference.js';
import type { Script } from '../../../src/comparing/script.js';
import { confirm } from '../../../src/comparing/shrinking/confirm.js';

const script: Script = { steps: [{ send: 'deck.depart' }] };
const difference: Difference = {
  participant: 'old',
  step: 0,
  what: 'state',
  at: '/deck/hold',
  expected: null,
  actual: 'gale',
};

/** Confirms a difference that shows with something before it only, as often as `shows` says. */
const confirmed = (shows: () => boolean) =>
  confirm(
    { script, difference, earlier: [{ steps: [{ send: 'deck.clear' }] }] },
    {
      load: () =>
        Promise.resolve({
          fails: ({ before = [] }: Script) => {
            const isAfter = before.some(({ steps }) => steps.length > 0);
            return Promise.resolve(isAfter && shows() ? difference : undefined);
          },
          close: () => Promise.resolve(),
        }),
      isOver: () => false,
      mayBeRandom: true,
      instead: [],
      mostLoads: 20,
    },
  );

test('a difference that needs what was done before is repeatable if it shows each time', async () => {
  const { isRepeatable, script: kept } = await confirmed(() => true);
  expect([isRepeatable, kept.before]).toEqual([true, [{ steps: [{ send: 'deck.clear' }] }]]);
});

test('it is not repeatable if it showed once, and in no load after that', async () => {
  let times = 0;
  const { isRepeatable } = await confirmed(() => times++ === 0);
  expect(isRepeatable).toBe(false);
});
