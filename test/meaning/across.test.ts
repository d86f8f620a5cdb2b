import { readFileSync } from 'node:fs';
import { describe, expect, test } from '@jest/globals';
import { problemsOf, root } from '../helpers.js';
import { participantNames, start } from '../participants.js';

const across = readFileSync(new URL('test/fixtures/across.stores.yaml', root), 'utf8');

/** What actions that run others, reactions and resets of several stores do, worked out by hand. */
describe.each(participantNames)('across stores: %s', (name) => {
  test('a reaction follows its action and sets off what it runs, before the next reaction', async () => {
    const { running } = await start(across, name);
    expect(running.send('wind', 'measure', 25)).toEqual({ status: 'done' });
    const { deck, log, wind } = running.read() as Record<string, Record<string, unknown>>;
    expect(wind).toEqual({ speed: 25, gusts: [25] });
    expect(deck).toMatchObject({ hold: 'wind 25 m/s' });
    expect(log?.heard).toEqual(['wind 25 m/s', 'held: wind 25 m/s']);
  });

  test('a reaction reads the let of the action', async () => {
    const { running } = await start(across, name, { newId: () => 'call-7' });
    running.send('deck', 'load', 5);
    const { log } = running.read() as { log: { calls: unknown } };
    expect(log.calls).toEqual([{ id: 'call-7', what: 'load 5', force: 5 }]);
  });

  test('one of several actions is enough', async () => {
    const { running } = await start(across, name);
    running.send('deck', 'holdFor', undefined);
    running.send('berth', 'moor', 3);
    expect(running.read().log).toMatchObject({ heard: ['gale', '3'] });
    running.send('log', 'clear', undefined);
    expect(running.read().deck).toMatchObject({ hold: null });
  });

  test('a refusal within refuses all of it', async () => {
    const { running } = await start(across, name);
    const before = running.read();
    expect(running.send('deck', 'loadTwo', 'much')).toEqual({
      status: 'refused',
      reason: 'does not fit',
      at: '/payload',
    });
    expect(running.read()).toEqual(before);
    running.send('deck', 'holdFor', 'fog');
    expect(running.send('deck', 'loadTwo', 3)).toEqual({
      status: 'refused',
      reason: 'Boarding is on hold.',
    });
    expect(running.send('wind', 'everything', [1])).toMatchObject({ reason: 'does not fit' });
    expect(running.read().wind).toEqual({ speed: 0, gusts: [] });
  });

  test('watchers see one change, whatever was set off', async () => {
    const { running } = await start(across, name);
    const seen: unknown[] = [];
    running.watch?.('log.heard', (now) => seen.push(now));
    running.send('deck', 'storm', 30);
    expect(seen).toEqual([['wind 30 m/s', 'held: wind 30 m/s']]);
  });

  test('all stores but one are reset', async () => {
    const { running } = await start(across, name);
    running.send('wind', 'measure', 9);
    running.send('berth', 'moor', 2);
    running.send('deck', 'newDay', undefined);
    expect(running.read()).toMatchObject({
      deck: { hold: null, lengths: [], closed: false },
      wind: { speed: 0, gusts: [] },
      berth: 0,
      log: { heard: ['open', '2'] },
    });
  });
});

const twoStores = (deck: string, wind: string) => `leeshore: 1
stores:
  deck:
    state: { hold: { maybe: string } }
${deck}
  wind:
    state: { speed: { type: number, default: 0 } }
${wind}`;

describe('what is refused', () => {
  test.each([
    [
      'an action that runs itself',
      twoStores('    actions:\n      stop:\n        - run: stop', ''),
      '6:7 circular-action deck.stop could set itself off: deck.stop -> deck.stop.',
    ],
    [
      'a ring through a reaction',
      twoStores(
        '    actions:\n      stop:\n        - run: wind.calm\n    reacts:\n      - to: wind.calm\n        steps:\n          - run: stop',
        '    actions:\n      calm:\n        - reset: all',
      ),
      '6:7 circular-action deck.stop could set itself off: deck.stop -> wind.calm -> deck.reacts[0] -> deck.stop.',
    ],
    [
      'an unknown action',
      twoStores(
        '    actions:\n      stop:\n        - run: wind.calmm',
        '    actions:\n      calm:\n        - reset: all',
      ),
      "7:16 unknown-name There is nothing named 'wind.calmm' here.",
    ],
    [
      'a payload that is missing',
      twoStores(
        '    actions:\n      stop:\n        - run: wind.measure',
        '    actions:\n      measure: { payload: number, steps: [] }',
      ),
      "7:11 wrong-structure 'wind.measure' takes a payload: a number.",
    ],
    [
      'a payload too many',
      twoStores(
        '    actions:\n      stop:\n        - { run: wind.calm, payload: 1 }',
        '    actions:\n      calm:\n        - reset: all',
      ),
      "7:29 wrong-structure 'wind.calm' takes no payload.",
    ],
    [
      'a payload of another shape',
      twoStores(
        '    actions:\n      stop:\n        - { run: wind.measure, payload: "\'9\'" }',
        '    actions:\n      measure: { payload: number, steps: [] }',
      ),
      "7:42 type-mismatch 'wind.measure' takes a number, but this is text '9'.",
    ],
    [
      'a reaction to the store itself',
      twoStores(
        '    actions:\n      stop:\n        - reset: all\n    reacts:\n      - { to: deck.stop, steps: [] }',
        '',
      ),
      '9:15 wrong-structure A store reacts to the actions of other stores.',
    ],
    [
      'a let that would hide a field of the store that reacts',
      twoStores(
        '    reacts:\n      - to: wind.calm\n        steps:\n          - set: { hold: null }',
        '    actions:\n      calm:\n        let: { hold: "1" }\n        steps:\n          - set: { speed: "hold" }',
      ),
      "6:13 name-taken 'hold' is already the name of something in the store 'deck'.",
    ],
    [
      'a reset of a store that there is not',
      twoStores('    actions:\n      stop:\n        - reset: { stores: [wnd] }', ''),
      "7:29 unknown-name There is nothing named 'wnd' here.",
    ],
    [
      'a payload that only one of two actions has',
      twoStores(
        '    reacts:\n      - to: [wind.measure, wind.calm]\n        steps:\n          - set: { hold: "`${payload}`" }',
        '    actions:\n      calm:\n        - reset: all\n      measure: { payload: number, steps: [] }',
      ),
      "8:30 unknown-name There is nothing named 'payload' here.",
    ],
  ])('%s', async (_name, schema, problem) => {
    expect(await problemsOf(schema)).toEqual([expect.stringContaining(problem)]);
  });
});
