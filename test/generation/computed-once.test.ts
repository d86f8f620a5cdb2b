import { readFileSync } from 'node:fs';
import { describe, expect, test } from '@jest/globals';
import { root } from '../helpers.js';
import { participantNames, start } from '../participants.js';

const schema = readFileSync(new URL('test/fixtures/computed-keys.stores.yaml', root), 'utf8');

interface Shelf {
  readonly no: number;
  readonly name: string;
  readonly marks: Readonly<Record<string, number>>;
  readonly crates: readonly unknown[];
}

describe.each(participantNames)('%s', (name) => {
  const begin = async () => {
    const { running } = await start(schema, name);
    const shelf = (no: number) =>
      (running.read().hold as { shelves: readonly Shelf[] }).shelves.find((one) => one.no === no);
    return { running, shelf };
  };

  test('two computed keys of one step are two keys', async () => {
    const { running, shelf } = await begin();
    expect(running.send('hold', 'two', { a: 0, b: 1 })).toEqual({ status: 'done' });
    expect([shelf(1)?.name, shelf(2)?.name]).toEqual(['first', 'second']);
  });

  test('so are two of one path', async () => {
    const { running, shelf } = await begin();
    expect(running.send('hold', 'deep', { a: 1, k: ' x ' })).toEqual({ status: 'done' });
    expect([shelf(1)?.marks, shelf(2)?.marks]).toEqual([{ x: 0 }, { x: 5 }]);
  });

  test('names of the schema stay apart from those that stores need themselves', async () => {
    const { running, shelf } = await begin();
    expect(running.send('hold', 'named', 0)).toEqual({ status: 'done' });
    expect(shelf(1)).toMatchObject({ name: 'w', marks: { x: 34 } });
    expect(running.derive?.().hold).toEqual({ get: 16, labels: 'l' });
    expect(running.send('hold', 'isText', { isShelf: 'c2', no: 2 })).toEqual({ status: 'done' });
    expect(shelf(2)?.crates).toEqual([{ id: 'c2', label: 'b', kind: 'wet' }]);
    expect(running.derive?.().hold).toEqual({ get: 0, labels: 'l b' });
    expect(running.send('hold', 'flip', undefined)).toEqual({ status: 'done' });
    expect(running.read().hold).toMatchObject({ isCrate: true });
  });

  test('an action that only names values changes nothing', async () => {
    const { running } = await begin();
    const before = running.read();
    expect(running.send('hold', 'think', undefined)).toEqual({ status: 'done' });
    expect(running.read()).toBe(before);
  });

  test('a condition that is itself a choice', async () => {
    const { running, shelf } = await begin();
    running.send('hold', 'choose', true);
    expect([shelf(1)?.name, shelf(2)?.name]).toEqual(['chosen', 'b']);
    running.send('hold', 'choose', false);
    expect([shelf(1)?.name, shelf(2)?.name]).toEqual(['chosen', 'chosen']);
  });

  test('a position within an action means what it means outside', async () => {
    const { running } = await begin();
    const peeked = [0.5, -1.5, 1, 2, -0.5].map((place) => {
      running.send('hold', 'peek', place);
      return (running.read().hold as { n: number }).n;
    });
    expect(peeked).toEqual([1, 2, 2, 0, 1]);
  });

  test('a field that goes from -0 to 0 has not changed', async () => {
    const { running } = await begin();
    const told: string[] = [];
    for (const target of ['hold.n', 'hold.isCrate'])
      running.watch?.(target, () => told.push(target));
    running.send('hold', 'turn', 1);
    running.send('hold', 'turn', 0);
    running.send('hold', 'back', undefined);
    expect(told).toEqual(['hold.n', 'hold.n', 'hold.isCrate']);
  });
});
