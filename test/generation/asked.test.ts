import { readFileSync } from 'node:fs';
import { describe, expect, test } from '@jest/globals';
import { Remembered } from '../../src/generation/runtime/arguments.js';
import { Graph, type Atom } from '../../src/generation/styles/atom/runtime/atoms.js';
import { compareStores } from '../../src/jobs/compare.js';
import type { GeneratedFolder } from '../../src/participants/generated-participant.js';
import { foldersOf, modelOf, problemsOf, deckSchema, root, unlimited } from '../helpers.js';
import { participantNames, start } from '../participants.js';

const schema = readFileSync(new URL('test/fixtures/asked.stores.yaml', root), 'utf8');

describe.each(participantNames)('derived values with parameters: %s', (name) => {
  test('each combination of arguments has its value, and keeps it as long as it is equal', async () => {
    const { running } = await start(schema, name);
    running.send('deck', 'add', { id: 'a', lane: 'port', lengthM: 5 });
    const port = running.ask?.('deck', 'waitingIn', ['port']);
    expect(port).toEqual([{ id: 'a', lane: 'port', lengthM: 5 }]);
    expect(running.ask?.('deck', 'waitingIn', ['centre'])).toEqual([]);
    running.send('deck', 'add', { id: 'b', lane: 'centre', lengthM: 4 });
    expect(running.ask?.('deck', 'waitingIn', ['port'])).toBe(port);
    expect(running.ask?.('deck', 'metresIn', ['centre', 2])).toBe(6);
    running.send('wind', 'measure', 3);
    running.send('deck', 'setHold', 'fog');
    expect(running.ask?.('deck', 'note', [1])).toBe('fog 10');
    expect(running.ask?.('deck', 'note', [null])).toBeNull();
  });

  test('actions read them as they stand in the transaction', async () => {
    const { running } = await start(schema, name);
    for (const id of ['a', 'b', 'c']) running.send('deck', 'add', { id, lane: 'port', lengthM: 5 });
    expect(running.read().deck).toMatchObject({ hold: 'full' });
    expect(running.send('deck', 'add', { id: 'd', lane: 'port', lengthM: 6 })).toMatchObject({
      status: 'refused',
      reason: 'No room.',
    });
    running.send('deck', 'leaveAndShrink', 'a');
    expect(running.read().deck).toMatchObject({ capM: 12 });
  });
});

describe('what has been asked for is forgotten in the end', () => {
  test('the last thousand are kept, and no more than twice as many', () => {
    const known = new Remembered<number>();
    const keys = Array.from({ length: 1000 }, (_, n) => String(n));
    keys.forEach((key, n) => {
      known.set(key, n);
    });
    expect(keys.every((key, n) => known.get(key) === n)).toBe(true);
    for (let n = 1000; n < 2500; n++) known.set(String(n), n);
    // The first is forgotten; what is asked again and again is not.
    expect(known.get('0')).toBeUndefined();
    known.set('often', -1);
    for (let n = 2500; n < 9000; n++) {
      known.set(String(n), n);
      if (n % 500 === 0) known.get('often');
    }
    expect(known.get('often')).toBe(-1);
  });

  test.each(participantNames)('an answer that is asked for again is of now: %s', async (name) => {
    const { running } = await start(schema, name);
    for (let m = 0; m < 2100; m++) running.ask?.('deck', 'metresIn', ['port', m]);
    running.send('deck', 'add', { id: 'a', lane: 'port', lengthM: 5 });
    expect(running.ask?.('deck', 'metresIn', ['port', 0])).toBe(5);
    expect(running.ask?.('deck', 'metresIn', ['port', 2099])).toBe(2104);
  });

  test('what nobody reads any more is not held by what it was computed from', () => {
    const graph = new Graph({}, {});
    const level: Atom<number> = graph.atom('tide.level', 1);
    const doubles = Array.from({ length: 5 }, () => graph.derived('double', () => 2 * level.get()));
    expect(doubles.map((double) => double.get())).toEqual([2, 2, 2, 2, 2]);
    graph.action('tide.rise', () => {
      level.set(2);
    })();
    expect(level.readers.size).toBe(0);
    expect(doubles[0]?.get()).toBe(4);
    expect(level.readers.size).toBe(1);
  });
});

describe('a fault in one is found', () => {
  test.each(['reducer', 'atom', 'proxy', 'observable'])('%s', async (style) => {
    const application = await modelOf(schema);
    const folders = await foldersOf(application);
    const changed = folders.map((folder): GeneratedFolder => {
      if (folder.style !== style) return folder;
      const files = folder.files.map(({ path, text }) => ({
        path,
        text: text.replace('v.lane === lane', "v.lane === 'port'"),
      }));
      expect(files).not.toEqual(folder.files);
      return { ...folder, files };
    });
    const comparison = await compareStores(application, changed, {
      ...unlimited,
      seed: 1,
      steps: 500,
    });
    expect(comparison.difference).toMatchObject({ participant: style, what: 'derived' });
  });
});

describe('what is refused', () => {
  test.each([
    [
      'one that is not called',
      deckSchema({
        derived: 'over: { given: { m: number }, value: "capacityM > m" }\nfull: "over"',
      }),
      "8:14 wrong-arguments 'over' takes m.",
    ],
    [
      'too many arguments',
      deckSchema({
        derived: 'over: { given: { m: number }, value: "capacityM > m" }\nfull: "over(1, 2)"',
      }),
      "8:14 wrong-arguments 'over' takes m.",
    ],
    [
      'an argument of another type',
      deckSchema({
        derived: `over: { given: { m: number }, value: "capacityM > m" }\nfull: "over('9')"`,
      }),
      "8:19 type-mismatch 'over' takes a number, but this is text '9'.",
    ],
    [
      'a parameter that hides a field',
      deckSchema({ derived: 'over: { given: { capacityM: number }, value: "capacityM > 1" }' }),
      "7:24 name-taken 'capacityM' is already the name of something in the store 'deck'.",
    ],
    [
      'a ring',
      deckSchema({ derived: 'over: { given: { m: number }, value: "over(m - 1)" }' }),
      '7:45 circular-value deck.over depends on itself: deck.over -> deck.over.',
    ],
    [
      'an asserted type that is another',
      deckSchema({ derived: 'twice: { type: string, value: "capacityM * 2" }' }),
      "7:38 type-mismatch 'twice' takes text, but this is a number.",
    ],
  ])('%s', async (_name, text, problem) => {
    expect(await problemsOf(text)).toEqual([expect.stringContaining(problem)]);
  });
});
