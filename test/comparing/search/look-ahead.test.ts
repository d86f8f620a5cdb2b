import { readFileSync } from 'node:fs';
import { beforeAll, expect, test } from '@jest/globals';
import { observedOf } from '../../../src/comparing/session/observed.js';
import { Reached } from '../../../src/comparing/reached.js';
import type { SendStep } from '../../../src/comparing/script.js';
import { canLookAhead, lookAhead } from '../../../src/comparing/search/look-ahead.js';
import { referenceParticipant } from '../../../src/meaning/reference.js';
import type { Application } from '../../../src/model/application.js';
import { coverableOf } from '../../../src/model/cover-points.js';
import { modelOf, root } from '../../helpers.js';

const textOf = (name: string) =>
  readFileSync(new URL(`test/fixtures/${name}.stores.yaml`, root), 'utf8');

let drill: Application;
beforeAll(async () => {
  drill = await modelOf(textOf('drill'));
});

/** Looks ahead for a point; gives the ways that were found, and what the search knows afterwards. */
function looked(
  id: string,
  names: readonly string[],
  more: Partial<Parameters<typeof lookAhead>[1]>,
) {
  const reached = new Reached(coverableOf(drill));
  const searching = {
    application: drill,
    participants: [referenceParticipant(drill, { reach: reached })],
    observed: observedOf(drill),
    reached,
  };
  const point = reached.points.findIndex((one) => one.id === id);
  const ways = lookAhead(searching, {
    kind: 'look ahead',
    seed: 1,
    point,
    names,
    by: drill.stores.flatMap((store) => store.actions.map(({ name }) => `${store.name}.${name}`)),
    from: [[]],
    inputs: 3000,
    ...more,
  });
  return { ways, reached, point };
}

const arrive = (payload: string): SendStep => ({ send: 'people.arrive', payload });
const ready: readonly SendStep[] = [
  { send: 'bridge.takeWatch', payload: 'Una' },
  { send: 'bridge.sound', payload: 'muster' },
  arrive('a'),
  arrive('b'),
];

test('a way to what was never reached is found, shorter distances first', () => {
  const { ways } = looked('boats.lower done', ['boats.lower'], {});
  const way = ways.findLast((steps) => steps.at(-1)?.send === 'boats.lower') ?? [];
  expect(way.map(({ send }) => send)).toEqual([
    'bridge.takeWatch',
    'bridge.sound',
    'people.arrive',
    'people.arrive',
    'people.arrive',
    'boats.lower',
  ]);
});

test('it goes on from where it is told to', () => {
  const { ways } = looked('boats.lower done', ['boats.lower'], { from: [ready], inputs: 200 });
  const way = ways.findLast((steps) => steps.at(-1)?.send === 'boats.lower') ?? [];
  expect(way.slice(0, 4)).toEqual(ready);
  expect(way).toHaveLength(6);
});

test('what it meets does not count as reached: nobody was compared', () => {
  const { reached, ways } = looked('boats.lower done', ['boats.lower'], {});
  expect(ways.length).toBeGreaterThan(0);
  expect(reached.indices).toEqual([]);
  expect(reached.hasNews).toBe(false);
});

test('it ends after so many inputs', () => {
  const { ways } = looked('boats.recall done', ['boats.recall'], { inputs: 50 });
  // What is refused at once is met, and no more.
  expect(ways.every(({ length }) => length <= 2)).toBe(true);
});

test('it is for stores that can be put back', async () => {
  expect(canLookAhead(drill)).toBe(true);
  for (const name of ['undo', 'kept', 'later', 'loading'])
    expect([name, canLookAhead(await modelOf(textOf(name)))]).toEqual([name, false]);
});
