import { readFileSync } from 'node:fs';
import { beforeAll, describe, expect, test } from '@jest/globals';
import type { Comparison } from '../../src/comparing/comparison.js';
import type { Application } from '../../src/model/application.js';
import { compareStores } from '../../src/jobs/compare.js';
import type { GeneratedFolder } from '../../src/participants/generated-participant.js';
import { allStyles, ferryText, foldersOf, modelOf, root, unlimited } from '../helpers.js';
import { howMany, someOf } from '../sweep.js';

const awkwardNames = readFileSync(new URL('test/fixtures/awkward-names.stores.yaml', root), 'utf8');
const across = readFileSync(new URL('test/fixtures/across.stores.yaml', root), 'utf8');
const everyType = readFileSync(new URL('test/fixtures/every-type.stores.yaml', root), 'utf8');
const asked = readFileSync(new URL('test/fixtures/asked.stores.yaml', root), 'utf8');
const awkwardAcross = readFileSync(
  new URL('test/fixtures/awkward-across.stores.yaml', root),
  'utf8',
);
const everyStep = readFileSync(new URL('test/fixtures/every-step.stores.yaml', root), 'utf8');

/** `npm run soak` tries more. */
const seeds = someOf([1, 2, 3, 4, 5], 1);

function summary({ verdict, difference }: Comparison) {
  return { verdict, difference: difference && { ...difference, script: difference.script.steps } };
}

describe.each([
  ['the ferry', ferryText, 1200],
  ['every step', everyStep, 2400],
  ['awkward names', awkwardNames, 500],
  ['across stores', across, 700],
  ['every type', everyType, 1100],
  ['derived values with parameters', asked, 500],
  ['awkward names across stores', awkwardAcross, 500],
])('all styles behave as the reference: %s', (_name, text, steps) => {
  test.each(seeds)('seed %i', async (seed) => {
    const application = await modelOf(text);
    const comparison = await compareStores(application, await foldersOf(application), {
      ...unlimited,
      seed,
      steps,
    });
    expect(summary(comparison)).toEqual({ verdict: 'same', difference: undefined });
    // A script that has begun is done to its end.
    expect(comparison.steps).toBeLessThanOrEqual(steps + 360);
    expect(comparison.steps).toBeGreaterThan(0.7 * steps);
    expect(comparison.coverage.reached / comparison.coverage.total).toBeGreaterThan(0.8);
  });
});

describe('a fault in a generated store is found and shrunk', () => {
  let ferry: Application;
  let folders: GeneratedFolder[];
  beforeAll(async () => {
    ferry = await modelOf(ferryText);
    folders = await foldersOf(ferry);
  });

  function broken(style: string, file: string, from: string, to: string): GeneratedFolder {
    const folder = folders.find((candidate) => candidate.style === style) as GeneratedFolder;
    const files = folder.files.map(({ path, text }) => {
      if (path !== file) return { path, text };
      expect(text).toContain(from);
      return { path, text: text.replace(from, to) };
    });
    return { ...folder, files };
  }

  test.each([
    ['atom', 'stores/deck.ts', 'hold.set(payload);', '', 'deck.holdFor'],
    [
      'atom',
      'stores/deck.ts',
      '!(v.lane === payload && !v.boarded)',
      '!(v.lane === payload)',
      'deck.closeLane',
    ],
    [
      'atom',
      'runtime/atoms.ts',
      'for (const reader of this.readers) reader.invalidate();',
      '',
      undefined,
    ],
    ['reducer', 'stores/deck.ts', '.trim().toUpperCase()', '.toUpperCase()', 'deck.rename'],
    ['reducer', 'stores/deck.ts', 'deck.capacityM - deck.usedM', 'deck.capacityM', undefined],
    [
      'proxy',
      'stores/deck.ts',
      '!(payload >= deck.usedM)',
      '!(payload > deck.usedM)',
      'deck.setCapacity',
    ],
    ['proxy', 'stores/wind.ts', 'slice(-5)', 'slice(-3)', 'wind.measure'],
    [
      'observable',
      'runtime/watchers.ts',
      'if (Object.is(last, before)) return true;',
      '',
      undefined,
    ],
    ['observable', 'stores/desk.ts', 'desk.relieved + 1', 'desk.relieved', 'desk.relieve'],
    [
      'observable',
      'runtime/transaction.ts',
      "(this.#now ??= this.#outside('now', now))",
      "this.#outside('now', now) + 1",
      undefined,
    ],
  ])('%s, %s: %s', async (style, file, from, to, action) => {
    const comparison = await compareStores(ferry, [broken(style, file, from, to)], {
      ...unlimited,
      seed: 1,
      steps: 20_000,
    });
    const { difference } = comparison;
    expect(comparison.verdict).toBe('different');
    expect(difference?.participant).toBe(style);
    if (action !== undefined) expect(difference?.action).toBe(action);
    const steps = difference?.script.steps ?? [];
    expect(steps.length).toBeLessThanOrEqual(action === 'wind.measure' ? 6 : 4);
    for (const left of steps.keys()) {
      const fewer = { steps: steps.filter((_, i) => i !== left) };
      const again = await compareStores(ferry, [broken(style, file, from, to)], {
        ...unlimited,
        seed: 1,
        steps: 1,
        script: fewer,
      });
      expect(again.verdict).not.toBe('different');
    }
  });

  test('the same seed finds the same script', async () => {
    const find = () =>
      compareStores(ferry, [broken('atom', 'stores/deck.ts', 'hold.set(payload);', '')], {
        ...unlimited,
        seed: 5,
        steps: 5000,
      });
    expect(summary(await find())).toEqual(summary(await find()));
  });

  test('a store that throws in place of answering is a difference', async () => {
    const folder = broken('reducer', 'stores/wind.ts', '.slice(-5)', '.slise(-5)');
    const { difference } = await compareStores(ferry, [folder], {
      ...unlimited,
      seed: 1,
      steps: 2000,
    });
    expect(difference?.what).toBe('outcome');
    expect(difference?.script.steps).toEqual([{ send: 'wind.measure', payload: 0 }]);
  });
});

test('a store that cannot be made, or watched, is a difference', async () => {
  const ferry = await modelOf(ferryText);
  const [folder] = await foldersOf(ferry, ['atom']);
  for (const [from, to, shown] of [
    ['const hold = graph.atom', 'const held = graph.atom', /threw/],
    ['graph.views({ vehicles, capacityM,', 'graph.views({ vehicles,', /"watcher":"deck.freeM"/],
  ] as const) {
    const files = (folder as GeneratedFolder).files.map(({ path, text }) => ({
      path,
      text: text.replace(from, to),
    }));
    const { difference } = await compareStores(ferry, [{ name: 'atom', style: 'atom', files }], {
      ...unlimited,
      seed: 1,
      steps: 100,
    });
    expect(difference?.script.steps).toHaveLength(1);
    expect(JSON.stringify(difference?.actual)).toMatch(shown);
  }
});

test('a budget of no time compares little and says so', async () => {
  const application = await modelOf(ferryText);
  const comparison = await compareStores(
    application,
    await foldersOf(application, allStyles.slice(0, 1)),
    { seed: 1, steps: 1e6, clock: () => 1, until: 1 },
  );
  expect(comparison).toMatchObject({ verdict: 'same', end: 'time', scripts: 1 });
});

test('the same seed tries the same, whatever time it takes', async () => {
  const application = await modelOf(across);
  const folders = await foldersOf(application, ['atom']);
  const told = async (clock: () => number) => {
    const { walks, steps, scripts, coverage } = await compareStores(application, folders, {
      seed: 3,
      steps: howMany(3000, 12_000),
      clock,
      until: 1e9,
    });
    return { walks, steps, scripts, reached: coverage.reached };
  };
  let now = 0;
  // It takes most of its time, but not all of it.
  const slow = () => Math.min((now += 1e7), 1e9 - 1);
  expect(await told(slow)).toEqual(await told(() => 0));
});
