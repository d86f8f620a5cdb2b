import { readFileSync } from 'node:fs';
import { afterEach, describe, expect, test } from '@jest/globals';
import { loadModules } from '../../src/participants/load-modules.js';
import { generatedParticipant } from '../../src/participants/generated-participant.js';
import { namesOf } from '../../src/participants/names.js';
import type { EmitOptions } from '../../src/core.js';
import { kindOfStyle, withHeader } from '../../src/model/file-header.js';
import { compareStores } from '../../src/jobs/compare.js';
import { generatedInMemory } from '../../src/jobs/generate.js';
import { promises, quay } from '../contract/promises.js';
import {
  allStyles,
  deckSchema,
  foldersOf,
  modelOf,
  readRuntime,
  root,
  unlimited,
} from '../helpers.js';
import { someOf } from '../sweep.js';
import { startOf } from '../participants.js';

async function quayFiles(style: (typeof allStyles)[number], output: Partial<EmitOptions>) {
  const application = await modelOf(quay);
  const [folder] = await generatedInMemory(application, [style], readRuntime, output);
  return { application, files: folder?.files ?? [] };
}

/** What only judging payloads and stored values can keep. */
const needsJudging = [
  / does not fit$/,
  /a misfit in the second step/,
  /^ids that were asked for/,
  /^a payload belongs to the store/,
  // One of the queued actions is refused for its payload.
  /^an action sent from a watcher/,
];

describe.each(allStyles)('without checks, the %s style', (style) => {
  const kept = promises.filter(({ what }) => !needsJudging.some((one) => one.test(what)));

  test.each(kept)('still keeps: $what', async ({ holds }) => {
    const { application, files } = await quayFiles(style, { checks: 'never' });
    const participant = generatedParticipant(style, style, files, namesOf(application));
    await holds((change) => Promise.resolve(startOf(participant, change)));
  });

  test('takes what its types would not let through', async () => {
    const { application, files } = await quayFiles(style, { checks: 'never' });
    const participant = generatedParticipant(style, style, files, namesOf(application));
    const { running } = startOf(participant);
    expect(running.send('quay', 'setLimit', -5)).toEqual({ status: 'done' });
  });
});

const uncheckedOrigin = {
  version: '0.0.0',
  schema: 'test.stores.yaml',
  kind: kindOfStyle('atom', false),
};

/** Whole schemas, so that all kinds of payloads, answers and stored values come up. */
const schemas = ['optional-parts', 'every-type', 'every-step', 'later', 'loading', 'kept', 'undo'];

test.each(someOf(schemas, 3))(
  'without checks, stores of %s do the same as the reference',
  async (name) => {
    const path = `test/fixtures/${name}.stores.yaml`;
    const application = await modelOf(readFileSync(new URL(path, root), 'utf8'));
    const folders = (await foldersOf(application, allStyles, { checks: 'never' })).map(
      ({ files, ...folder }) => ({
        ...folder,
        // By its first lines a folder on disk is known to be without checks.
        files: files.map((file) => ({ ...file, text: withHeader(file.text, uncheckedOrigin) })),
      }),
    );
    const { verdict, difference, steps } = await compareStores(application, folders, {
      ...unlimited,
      seed: 3,
      steps: 1200,
    });
    expect([verdict, difference]).toEqual(['same', undefined]);
    expect(steps).toBeGreaterThanOrEqual(1000);
  },
);

/** What stands after a spread wins, also over properties that the type of what is spread does not have. */
test.each(allStyles)('the %s style keeps the order of a spread and other keys', async (style) => {
  const application = await modelOf(
    deckSchema({
      types: 'Car: { fields: { id: string, plate: string } }',
      state: 'cars: { list: Car, by: id }',
      actions: `admit:
  payload: { fields: { plate: string } }
  let: { id: "newId()" }
  steps:
    - append: { to: cars, value: { ...: payload, id: "id" } }`,
    }),
  );
  const [folder] = await generatedInMemory(application, [style], readRuntime, { checks: 'never' });
  const participant = generatedParticipant(style, style, folder?.files ?? [], namesOf(application));
  const { running } = startOf(participant, { newId: () => 'made' });
  running.send('deck', 'admit', { plate: 'SK 1', id: 'given' });
  expect(running.read()).toEqual({ deck: { cars: [{ id: 'made', plate: 'SK 1' }] } });
});

describe.each(allStyles)('snapshots of the %s style', (style) => {
  const { NODE_ENV } = process.env;
  afterEach(() => {
    process.env.NODE_ENV = NODE_ENV;
  });

  test.each([
    ['development', 'test', true],
    ['development', 'production', false],
    ['always', 'production', true],
    ['never', 'test', false],
  ] as const)('guard %s, in %s: frozen is %s', async (guard, environment, isFrozen) => {
    const { application, files } = await quayFiles(style, { guard });
    process.env.NODE_ENV = environment;
    const { createStores } = loadModules(files, 'index.ts');
    // The participant of the tests always asks for frozen snapshots; an application need not ask.
    const created = (createStores as () => Record<string, unknown>)();
    const snapshot = (created.snapshot ?? created.state) as
      (() => object) | { get?: () => object; latest?: object };
    const state =
      typeof snapshot === 'function' ? snapshot() : (snapshot.get?.() ?? snapshot.latest ?? {});
    expect(Object.keys(state)).toEqual(application.stores.map(({ name }) => name));
    expect(Object.isFrozen(state)).toBe(isFrozen);
  });
});
