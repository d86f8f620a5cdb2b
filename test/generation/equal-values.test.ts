import { describe, expect, test } from '@jest/globals';
import { runInNewContext } from 'node:vm';
import { freeze, same } from '../../src/generation/runtime/values.js';
import { loadModules } from '../../src/participants/load-modules.js';
import { ferryText, foldersOf, modelOf } from '../helpers.js';

class Plate {
  constructor(readonly text: string) {}
}

const plate = new Plate('SK 1');
const frame = (code: string): unknown => runInNewContext(code);

test.each<[string, unknown, unknown, boolean]>([
  ['sets of equal members', new Set(['a', 'b']), new Set(['a', 'b']), true],
  ['sets of other members', new Set(['a', 'b']), new Set(['a', 'c']), false],
  [
    'sets in another order, which a page draws in another order',
    new Set('ab'),
    new Set('ba'),
    false,
  ],
  ['sets of equal objects', new Set([{ lane: 1 }]), new Set([{ lane: 1 }]), true],
  ['a set and a map', new Set(), new Map(), false],
  ['a set and a plain object', new Set(), {}, false],
  ['maps of equal entries', new Map([['a', { m: 1 }]]), new Map([['a', { m: 1 }]]), true],
  ['maps with one value changed', new Map([['a', 1]]), new Map([['a', 2]]), false],
  ['equal dates', new Date(5), new Date(5), true],
  ['other dates', new Date(5), new Date(6), false],
  ['dates that are none', new Date(NaN), new Date(NaN), true],
  ['a date and a set', new Date(5), new Set(), false],
  ['an object of a class and itself', plate, plate, true],
  ['two objects of a class', new Plate('SK 1'), new Plate('SK 1'), false],
  ['an object of a class and a plain one', new Plate('SK 1'), { text: 'SK 1' }, false],
  ['patterns', /a/, /b/, false],
  ['errors', new Error('a'), new Error('b'), false],
  ['promises', Promise.resolve(1), Promise.resolve(2), false],
  ['sets within plain data', [{ of: new Set([1]) }], [{ of: new Set([2]) }], false],
  ['plain objects of another frame', frame('({ a: [1] })'), { a: [1] }, true],
  [
    'plain objects without a prototype',
    Object.assign(Object.create(null), { a: 1 }),
    { a: 1 },
    true,
  ],
])('%s', (_, a, b, areSame) => {
  expect([same(a, b), same(b, a)]).toEqual([areSame, areSame]);
});

test('only lists and plain objects are frozen', () => {
  const given = { of: [{ plate, at: new Date(5) }] };
  freeze(given);
  expect(Object.isFrozen(given.of[0])).toBe(true);
  expect([Object.isFrozen(plate), Object.isFrozen(given.of[0]?.at)]).toEqual([false, false]);
});

interface Watched {
  whenChanged<T>(read: (state: Any) => T, changed: (now: T, before: T) => void): () => void;
}
type Any = { deck: { vehicles: readonly { plate: string }[]; capacityM: number } };

describe.each(['reducer', 'proxy'] as const)('whenChanged of the %s style', (style) => {
  test.each<[string, (deck: Any['deck']) => unknown, number]>([
    ['a set', ({ vehicles }) => new Set(vehicles.map((one) => one.plate)), 1],
    ['a map', ({ vehicles }) => new Map(vehicles.map((one) => [one.plate, one])), 1],
    ['a date', ({ vehicles }) => new Date(vehicles.length), 1],
    ['a list that is made anew', ({ vehicles }) => vehicles.map((one) => one.plate), 1],
    ['an object that is made anew', ({ vehicles }) => ({ count: vehicles.length }), 1],
  ])('calls back for %s when its content has changed', async (_, read, count) => {
    const [folder] = await foldersOf(await modelOf(ferryText), [style]);
    const { createStores } = loadModules(folder?.files ?? [], 'index.ts');
    const app = (createStores as () => unknown)() as Watched & {
      dispatch(action: object): unknown;
      stores: Record<string, Record<string, (payload: unknown) => unknown>>;
    };
    const send = (name: string, payload: unknown) =>
      style === 'reducer'
        ? app.dispatch({ type: `deck.${name}`, payload })
        : app.stores['deck']?.[name]?.(payload);
    let calls = 0;
    app.whenChanged(
      (state) => read(style === 'reducer' ? state.deck : (app.stores['deck'] as never)),
      () => (calls += 1),
    );
    send('setCapacity', 100);
    send('admit', { plate: 'SK 1', lengthM: 4, lane: 'port' });
    send('setCapacity', 200);
    expect(calls).toBe(count);
  });
});
