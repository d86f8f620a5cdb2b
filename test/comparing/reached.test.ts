import { beforeEach, expect, test } from '@jest/globals';
import { Reached } from '../../src/comparing/reached.js';
import { coverableOf } from '../../src/model/cover-points.js';
import { deckSchema, modelOf } from '../helpers.js';

const schema = deckSchema({
  state: 'ramp: { type: integer, default: 0 }',
  actions: 'raise:\n  - set: { ramp: "ramp + 1" }\nlower:\n  - reset: [ramp]',
});

let reached: Reached;
let [raised, lowered] = [-1, -1];
beforeEach(async () => {
  reached = new Reached(coverableOf(await modelOf(schema)));
  [raised, lowered] = ['deck.raise done', 'deck.lower done'].map((wanted) =>
    reached.points.findIndex(({ id }) => id === wanted),
  ) as [number, number];
});

test('what was noted counts once it is kept, and how often', () => {
  reached.point('deck.raise', 'done');
  expect(reached.news).toEqual([raised]);
  expect(reached.indices).toEqual([]);
  reached.keep();
  reached.point('deck.raise', 'done');
  expect(reached.news).toEqual([]);
  reached.keep();
  reached.point('deck.lower', 'done');
  reached.drop();
  expect(reached.indices).toEqual([raised]);
  expect(reached.hits).toEqual([[raised, 2]]);
  expect([reached.countOf(raised), reached.countOf(lowered)]).toEqual([2, 0]);
  reached.restart([raised]);
  expect([reached.indices, reached.hits]).toEqual([[raised], []]);
});

test('what comes nearer than ever is told, until the point is reached', () => {
  const near = (far: number) => {
    reached.near('deck.raise', 'done', () => far);
  };
  for (const far of [2, 3, 1]) near(far);
  expect(reached.nearer).toEqual([
    [raised, 2],
    [raised, 1],
  ]);
  reached.restart([], [], [[raised, 1.5]]);
  for (const far of [2, 1]) near(far);
  expect(reached.nearer).toEqual([[raised, 1]]);
  reached.point('deck.raise', 'done');
  reached.keep();
  near(0.5);
  expect(reached.nearer).toEqual([[raised, 1]]);
});

test('whoever listens hears every distance', () => {
  const heard: (readonly [number, number])[] = [];
  reached.listen((point, far) => heard.push([point, far]));
  for (const far of [1, 2]) reached.near('deck.lower', 'done', () => far);
  reached.listen(undefined);
  reached.near('deck.lower', 'done', () => 0.5);
  expect(heard).toEqual([
    [lowered, 1],
    [lowered, 2],
  ]);
});

test('what is evaluated for a distance is not reached', () => {
  reached.near('deck.raise', 'done', () => {
    reached.point('deck.lower', 'done');
    return 1;
  });
  expect(reached.news).toEqual([]);
});
