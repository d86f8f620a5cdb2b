import { beforeAll, describe, expect, test } from '@jest/globals';
import { readFileSync } from 'node:fs';
import { styles } from '../../../src/base/styles.js';
import { compareBySearch } from '../../../src/comparing/compare.js';
import { replay } from '../../../src/comparing/shrinking/replay.js';
import { chooseEvenly } from '../../../src/comparing/faults/choose.js';
import { codeFaults } from '../../../src/comparing/faults/code-faults.js';
import { faultKinds } from '../../../src/comparing/faults/fault.js';
import { modelFaults } from '../../../src/comparing/faults/model-faults.js';
import { planted } from '../../../src/comparing/faults/plant.js';
import type { Application } from '../../../src/model/application.js';
import { compareStores } from '../../../src/jobs/compare.js';
import { findFaults } from '../../../src/jobs/find-faults.js';
import type { GeneratedFolder } from '../../../src/participants/generated-participant.js';
import { startLocal } from '../../../src/workers/start-local.js';
import { searchingOf } from '../../../src/workers/searching-of.js';
import {
  deckSchema,
  ferryText,
  foldersOf,
  harbourModel,
  modelOf,
  readRuntime,
  root,
  unlimited,
} from '../../helpers.js';
import { howMany, someOf } from '../../sweep.js';

const undoText = readFileSync(new URL('test/fixtures/undo.stores.yaml', root), 'utf8');
const keptText = readFileSync(new URL('test/fixtures/kept.stores.yaml', root), 'utf8');
const laterText = readFileSync(new URL('test/fixtures/later.stores.yaml', root), 'utf8');
const loadingText = readFileSync(new URL('test/fixtures/loading.stores.yaml', root), 'utf8');

let ferry: Application;
let loading: Application;
let undo: Application;
let kept: Application;
let later: Application;
let folders: readonly GeneratedFolder[];
beforeAll(async () => {
  ferry = await modelOf(ferryText);
  loading = await modelOf(loadingText);
  undo = await modelOf(undoText);
  kept = await modelOf(keptText);
  later = await modelOf(laterText);
  folders = await foldersOf(ferry);
});

describe('the catalogue of faults', () => {
  test('has faults of every kind for what the ferry does, loads, undoes, keeps and attaches, and each has a place', () => {
    const faults = [ferry, loading, undo, kept, later].flatMap((one) => [
      ...modelFaults(one),
      ...codeFaults(one),
    ]);
    expect(new Set(faults.map(({ kind }) => kind))).toEqual(new Set(Object.keys(faultKinds)));
    expect(Object.keys(faultKinds).length).toBeGreaterThanOrEqual(25);
    for (const { at } of faults) expect(at).toMatch(/^\w[\w.[\]-]*$/);
  });

  test('changes the code of its style wherever it says so, whatever the stores need', async () => {
    const fit = new Set<string>();
    const all = new Set<string>();
    for (const application of [ferry, loading, undo, kept, later, await harbourModel()]) {
      const own = application === ferry ? folders : await foldersOf(application);
      for (const fault of codeFaults(application)) {
        if (fault.in !== 'code') continue;
        const files = own.find(({ style }) => style === fault.style)?.files ?? [];
        const name = `${fault.kind} in ${fault.style}`;
        all.add(name);
        if (planted(fault, fault.style, files, () => []) !== undefined) fit.add(name);
      }
    }
    // What only some stores have is there in one of these.
    expect(fit).toEqual(all);
  });

  test('whose place in the code is gone is refused', () => {
    const [fault] = codeFaults(ferry);
    if (fault?.in !== 'code') throw new Error('there is none');
    expect(() => planted(fault, fault.style, [], () => [])).toThrow(/fits nowhere: runtime\//);
  });

  test('leaves the model that it starts from alone', () => {
    const before = JSON.stringify(ferry.stores);
    modelFaults(ferry);
    expect(JSON.stringify(ferry.stores)).toBe(before);
  });

  test('is drawn from evenly, and always in the same way', () => {
    const faults = modelFaults(ferry);
    const choose = () => chooseEvenly(faults, ({ kind }) => kind, 40, 3);
    const chosen = choose();
    expect(chosen).toHaveLength(40);
    expect(new Set(chosen.map(({ kind }) => kind)).size).toBeGreaterThan(18);
    expect(choose()).toEqual(chosen);
  });
});

describe('faults that are equivalent under the contract', () => {
  const lamps = (steps: string) =>
    deckSchema({
      state: [
        'red: { type: boolean, default: false }',
        'green: { type: boolean, default: false }',
        'since: { type: number, default: 0 }',
        'names: { list: string }',
      ].join('\n'),
      actions: `signal:\n  payload: string\n  steps: [${steps}]`,
    });
  const isEqual = async (steps: string) => {
    const faults = modelFaults(await modelOf(lamps(steps)));
    return faults.find(({ kind }) => kind === 'steps swapped')?.equal !== undefined;
  };

  test.each([
    ['{ toggle: red }, { toggle: green }', true],
    ['{ toggle: red }, { set: { green: "red" } }', false],
    ['{ set: { red: "green" } }, { toggle: green }', false],
    ['{ toggle: red }, { set: { red: "true" } }', false],
    ['{ toggle: red }, { append: { to: names, value: "payload" } }', true],
    ['{ append: { to: names, value: "payload" } }, { set: { since: "now()" } }', true],
    ['{ insert: { to: names, at: 0, value: "payload" } }, { set: { since: "now()" } }', false],
    ['{ set: { "names[0]": "payload" } }, { set: { since: "now()" } }', false],
    ['{ reset: [red] }, { remove: { from: names, each: n, where: "n === payload" } }', true],
  ])('two steps that do not touch each other may change places: %s', async (steps, equal) => {
    expect(await isEqual(steps)).toBe(equal);
  });

  test('are not found, however long they are looked for', async () => {
    const equal = [...modelFaults(ferry), ...codeFaults(ferry)].filter((one) => one.equal);
    expect(equal.length).toBeGreaterThanOrEqual(6);
    for (const fault of equal.slice(0, 6)) {
      const [own] = fault.in === 'model' ? await foldersOf(fault.application, ['atom']) : [];
      if (own === undefined) continue;
      const { verdict } = await compareStores(ferry, [own], { ...unlimited, seed: 7, steps: 1500 });
      expect([fault.at, verdict]).toEqual([fault.at, 'same']);
    }
  });
});

test('most planted faults are found, the same ones each time', async () => {
  const find = () =>
    findFaults(ferry, ['atom'], readRuntime, {
      ...unlimited,
      seed: 4,
      steps: 400,
      most: howMany(3, 10),
    });
  const tried = await find();
  expect(tried.length).toBeGreaterThanOrEqual(3);
  const found = tried.filter(({ foundBy }) => foundBy !== undefined);
  expect(found.length / tried.length).toBeGreaterThan(0.5);
  const facts = ({ kind, at, foundBy, steps }: (typeof tried)[number]) => [
    kind,
    at,
    foundBy,
    steps,
  ];
  expect((await find()).map(facts)).toEqual(tried.map(facts));
});

/** The folder of a style with something else in one of its files. */
function changed(style: string, file: string, from: string, to: string): GeneratedFolder {
  const folder = folders.find((one) => one.style === style) as GeneratedFolder;
  const files = folder.files.map(({ path, text }) => {
    if (path === file) expect(text).toContain(from);
    return { path, text: path === file ? text.replace(from, () => to) : text };
  });
  return { ...folder, files };
}

/** `npm run soak` tries more. */
const seeds = someOf([1, 2, 3, 4, 5], 1);

describe('faults that hide', () => {
  test.each(seeds)('in one state that takes six actions are found (seed %i)', async (seed) => {
    // Moored, an officer on watch, some wind, a lane open, the log closed: then a hold is forgotten.
    const six = [
      'stores().berth.value.get() !== 0',
      'stores().desk.officer.get() !== null',
      'stores().wind.speed.get() > 0',
      'stores().log.openLanes.get().length > 0',
      'stores().log.closed.get()',
    ];
    const to = `if (!(${six.join(' && ')})) hold.set(payload)`;
    const folder = changed('atom', 'stores/deck.ts', 'hold.set(payload)', to);
    // As many as there are by default for one style.
    const options = { ...unlimited, seed, steps: 80_000 };
    const { difference } = await compareStores(ferry, [folder], options);
    expect(difference).toMatchObject({ what: 'state', at: '/deck/hold' });
    expect(difference?.script.steps.length).toBeLessThanOrEqual(7);
  });

  test.each(seeds)('in history, seen in no state, are found (seed %i)', async (seed) => {
    // Of changes of the limit with no measurement between them, the fourth is forgotten.
    const folder = changed(
      'atom',
      'stores/wind.ts',
      'limit.set(payload)',
      'inRow += 1; if (inRow % 4 !== 0) limit.set(payload)',
    );
    const more = [
      ['export function createWind({ graph }: Around) {', '$& let inRow = 0;'],
      ['speed.set(payload)', 'inRow = 0; $&'],
    ] as const;
    const files = folder.files.map(({ path, text }) => {
      if (path !== 'stores/wind.ts') return { path, text };
      return {
        path,
        text: more.reduce((now, [from, to]) => {
          expect(now).toContain(from);
          return now.replace(from, to);
        }, text),
      };
    });
    const options = { ...unlimited, seed, steps: 20_000 };
    const { difference } = await compareStores(ferry, [{ ...folder, files }], options);
    expect(difference).toMatchObject({ what: 'state', at: '/wind/limit' });
    expect(difference?.script.steps).toHaveLength(4);
  });
});

/** How many scripts are looked at: npm run soak looks at more. */
const many = howMany(4, 50);

test(`the scripts of ${many} planted faults are as short as can be`, async () => {
  const faults = chooseEvenly(modelFaults(ferry), ({ kind }) => kind, 66, 8);
  let looked = 0;
  for (const [i, fault] of faults.entries()) {
    if (fault.in !== 'model' || looked === many) continue;
    const folders = await foldersOf(fault.application, [styles[i % styles.length] ?? 'atom']);
    const cast = { application: ferry, folders, external: [], classes: undefined };
    const { participants, observed, reached } = await searchingOf(cast);
    const { executor, compared } = await startLocal(cast, unlimited);
    const options = { ...unlimited, seed: 1, steps: 1500 };
    const { difference } = await compareBySearch(compared, executor, options);
    if (difference === undefined) continue;
    looked++;
    const { script } = difference;
    for (const left of script.steps.keys()) {
      const fewer = { ...script, steps: script.steps.toSpliced(left, 1) };
      const again = await replay(fewer, participants, observed, { reached });
      expect([fault.kind, fault.at, left, again.difference]).toContain(undefined);
    }
  }
  expect(looked).toBe(many);
});
