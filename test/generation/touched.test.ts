import { expect, test } from '@jest/globals';
import { Watchers, type Source } from '../../src/generation/runtime/watchers.js';
import { Graph } from '../../src/generation/styles/atom/runtime/atoms.js';

test('a watcher with a source is asked only when that was touched, in the order of all', () => {
  const watchers = new Watchers(() => undefined);
  const source: Source = { touched: new Set() };
  const told: string[] = [];
  let [value, asked] = [0, 0];
  const read = (): number => {
    asked += 1;
    return value;
  };
  const stop = watchers.add('first', read, () => told.push('first'), undefined, source);
  watchers.add(
    'second',
    () => value,
    () => told.push('second'),
  );
  value = 1;
  watchers.round();
  expect([asked, told]).toEqual([1, ['second']]);
  for (const watcher of source.touched) watcher.touch();
  watchers.round();
  watchers.round();
  expect([asked, told]).toEqual([2, ['second', 'first']]);
  stop();
  expect(source.touched.size).toBe(0);
});

test('one that could not be read is asked again in each round, and reported once', () => {
  const problems: unknown[] = [];
  const watchers = new Watchers((problem) => problems.push(problem));
  const source: Source = { touched: new Set() };
  let read = (): number => 1;
  const told: number[] = [];
  watchers.add(
    'deck.metres',
    () => read(),
    (now) => told.push(now),
    undefined,
    source,
  );
  read = () => {
    throw new RangeError('fog');
  };
  for (const watcher of source.touched) watcher.touch();
  watchers.round();
  watchers.round();
  read = () => 2;
  watchers.round();
  expect([problems, told]).toEqual([
    [{ kind: 'derived', at: 'deck.metres', error: new RangeError('fog') }],
    [2],
  ]);
});

test('atoms touch those that watch them, or what is derived from them, and nobody else', () => {
  const graph = new Graph({}, {});
  const speed = graph.atom('wind.speed', 0);
  const berths = Array.from({ length: 50 }, (_, i) => graph.atom(`berths.b${String(i)}`, 0));
  const strong = graph.derived('wind.strong', () => speed.get() > 10);
  const asked: string[] = [];
  for (const node of [speed, ...berths]) {
    const { get } = node;
    node.get = () => {
      asked.push(node.name);
      return get.call(node);
    };
  }
  const told: string[] = [];
  for (const node of [...berths, strong, speed]) node.watch(() => told.push(node.name));
  const measure = graph.action<number>('wind.measure', (now) => {
    speed.set(now);
  });
  asked.length = 0;
  expect(measure(20)).toEqual({ status: 'done' });
  expect(told).toEqual(['wind.strong', 'wind.speed']);
  expect(asked.filter((name) => name.startsWith('berths'))).toEqual([]);
});
