import { beforeAll, describe, expect, test } from '@jest/globals';
import { repeatableEnvironment } from '../../src/comparing/playing/environment.js';
import { generatedParticipant } from '../../src/participants/generated-participant.js';
import { namesOf } from '../../src/participants/names.js';
import type { Application } from '../../src/model/application.js';
import type { Running } from '../../src/model/participant.js';
import { referenceParticipant } from '../../src/meaning/reference.js';
import { inOneFile } from '../../src/generation/arranging/one-file.js';
import { allStyles, ferryText, foldersOf, modelOf } from '../helpers.js';

let ferry: Application;
beforeAll(async () => {
  ferry = await modelOf(ferryText);
});

async function running(style: (typeof allStyles)[number] | 'reference'): Promise<Running> {
  if (style === 'reference') return referenceParticipant(ferry).create(repeatableEnvironment([]));
  const [folder] = await foldersOf(ferry, [style]);
  const participant = generatedParticipant(style, style, folder?.files ?? [], namesOf(ferry));
  return participant.create(repeatableEnvironment([]));
}

const admitted = { plate: 'SK 4', lengthM: 4, lane: 'port' };

describe.each(['reference', ...allStyles] as const)('%s stores', (style) => {
  test('are put into a state that they have shown, and go on from there', async () => {
    const stores = await running(style);
    const start = stores.read();
    stores.send('desk', 'signIn', { name: 'Una', rank: 'mate' });
    stores.send('deck', 'admit', admitted);
    const there = stores.read();
    const derived = structuredClone(stores.derive?.());
    expect(there).not.toEqual(start);

    stores.restore?.(start);
    expect(stores.read()).toEqual(start);
    expect(stores.derive?.()).not.toEqual(derived);
    stores.restore?.(there);
    expect(stores.read()).toEqual(there);
    expect(stores.derive?.()).toEqual(derived);

    expect(stores.send('berth', 'moor', 2)).toEqual({ status: 'done' });
    expect(stores.read().berth).toBe(2);
    expect(there.berth).toBe(0);
  });

  test('take a state that others have shown, one value for a store too', async () => {
    const [one, other] = [await running(style), await running('reference')];
    other.send('berth', 'moor', 3);
    other.send('deck', 'admit', admitted);
    one.restore?.(other.read());
    expect(one.read()).toEqual(other.read());
    expect(one.derive?.()).toEqual(other.derive?.());
  });
});

test('where all is in one file there is no way to restore, and all else works', async () => {
  const [folder] = await foldersOf(ferry, ['atom']);
  const files = inOneFile(folder?.files ?? []);
  const stores = generatedParticipant('atom', 'atom', files, namesOf(ferry)).create(
    repeatableEnvironment([]),
  );
  expect(stores.restore).toBeUndefined();
  expect(stores.send('berth', 'moor', 2)).toEqual({ status: 'done' });
});
