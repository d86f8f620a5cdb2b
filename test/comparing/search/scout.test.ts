import { readFileSync } from 'node:fs';
import { beforeAll, describe, expect, test } from '@jest/globals';
import { observedOf } from '../../../src/comparing/session/observed.js';
import { Reached } from '../../../src/comparing/reached.js';
import type { ScriptStep } from '../../../src/comparing/script.js';
import { scout } from '../../../src/comparing/search/scout.js';
import { shorten } from '../../../src/comparing/search/shorten.js';
import { Traits } from '../../../src/comparing/search/traits.js';
import type { Searching } from '../../../src/comparing/searching.js';
import { referenceParticipant } from '../../../src/meaning/reference.js';
import type { Application } from '../../../src/model/application.js';
import { changedMeanwhile } from '../../../src/model/changed-meanwhile.js';
import { coverableOf } from '../../../src/model/cover-points.js';
import type { Participant } from '../../../src/model/participant.js';
import { modelOf, root } from '../../helpers.js';

const text = readFileSync(new URL('test/fixtures/loading.stores.yaml', root), 'utf8');

let loading: Application;
beforeAll(async () => {
  loading = await modelOf(text);
});

/** Nobody but the first is to be asked. */
const never: Participant = {
  name: 'never',
  create: () => {
    throw new Error('is not to be made');
  },
};

function searchingFor(id: string): { searching: Searching; point: number } {
  const reached = new Reached(coverableOf(loading));
  const searching = {
    application: loading,
    participants: [referenceParticipant(loading, { reach: reached }), never],
    observed: observedOf(loading),
    reached,
  };
  return { searching, point: reached.points.findIndex((one) => one.id === id) };
}

const sailing = { id: 'a', to: 'Skerry', cars: 4 };
const load = (day: string): ScriptStep => ({ start: 'timetable.loadSailings', payload: day });

describe('a script that reaches a point', () => {
  const long: readonly ScriptStep[] = [
    { send: 'timetable.leave' },
    load('today'),
    { answer: 2, result: [] },
    load('tomorrow'),
    { send: 'timetable.drop', payload: 'a' },
    { answer: 3, result: [sailing, { ...sailing, id: 'b' }] },
    { send: 'timetable.leave' },
    { start: 'timetable.rename', payload: { id: 'a', to: 'Sound' } },
    { send: 'timetable.drop', payload: 'b' },
    { answer: 4, nothing: true },
  ];

  test('keeps what the point needs, with its calls numbered anew', async () => {
    const { searching, point } = searchingFor('timetable.rename.finish done');
    const { steps } = await shorten(searching, { steps: long, reaches: [] }, point);
    expect(steps).toMatchObject([
      { start: 'timetable.loadSailings' },
      { answer: 2, result: [{ id: 'a' }] },
      { start: 'timetable.rename', payload: { id: 'a' } },
      { answer: 3, nothing: true },
    ]);
  });

  test('stays as it is if the first does not reach the point by it', async () => {
    const { searching, point } = searchingFor('timetable.book.finish done');
    const { steps } = await shorten(searching, { steps: long, reaches: [] }, point);
    expect(steps).toEqual(long);
  });
});

test('scripts are tried with the first alone until the point is reached, in few steps then', async () => {
  const { searching, point } = searchingFor('timetable.loadSailings.finish done');
  const scripts = Array.from({ length: 8 }, (_, number) => ({
    number,
    length: 30,
    varied: [],
    aim: { name: 'timetable.loadSailings', by: [], point: undefined },
  }));
  const found = await scout(
    searching,
    { kind: 'scout', seed: 1, point, scripts },
    new Traits(loading, []),
  );
  expect(found.at(-1)?.steps).toMatchObject([
    { start: 'timetable.loadSailings' },
    { answer: 2, result: [] },
  ]);
});

describe('what has changed while a run went on', () => {
  const fieldsOf = (store: string, task: string) => {
    const owner = loading.stores.find(({ name }) => name === store);
    const found = owner?.tasks.find(({ name }) => name === task);
    if (owner === undefined || found === undefined) throw new Error('no such task');
    return changedMeanwhile(loading, owner, found).map(({ field }) => field);
  };

  test('is what it works with, at its end or between its calls, and others store, too', () => {
    expect(fieldsOf('timetable', 'rename')).toEqual(['sailings']);
    // What it only stores is none of that.
    expect(fieldsOf('timetable', 'loadSailings')).toEqual(['day']);
  });

  test('is a point, reached if it has', async () => {
    const id = 'timetable.rename.finish changed-meanwhile';
    const rename: ScriptStep = { start: 'timetable.rename', payload: { id: 'a', to: 'Sound' } };
    const steps: readonly ScriptStep[] = [
      load('today'),
      { answer: 2, result: [sailing] },
      rename,
      load('tomorrow'),
      { answer: 4, result: [{ ...sailing, cars: 5 }] },
      { answer: 3, nothing: true },
    ];
    const { searching, point } = searchingFor(id);
    const reaches = async (script: readonly ScriptStep[]) => {
      const before = searching.reached.countOf(point);
      await shorten(searching, { steps: script, reaches: [] }, point);
      return searching.reached.countOf(point) > before;
    };
    expect(await reaches(steps)).toBe(true);
    expect(
      await reaches([
        load('today'),
        { answer: 2, result: [sailing] },
        rename,
        { answer: 3, nothing: true },
      ]),
    ).toBe(false);
  });
});
