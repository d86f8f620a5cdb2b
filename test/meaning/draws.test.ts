import { describe, expect, test } from '@jest/globals';
import { problemsOf } from '../helpers.js';
import { participantNames, start } from '../participants.js';

const schema = `leeshore: 1
stores:
  deck:
    state:
      drawn: { list: number }
      ids: { list: string }
      moments: { list: number }
      tries: { type: integer, minimum: 0, maximum: 2, default: 0 }
    actions:
      draw:
        let: { first: "random()" }
        steps:
          - append: { to: drawn, values: "[first, first, random()]" }
      mix:
        - set: { drawn: "['a', 'b', 'c'].map(one => random())", ids: "['a', 'b'].map(one => newId())" }
      moment:
        - append: { to: moments, values: "[now(), now()]" }
      fail:
        let: { spent: "random()" }
        steps:
          - append: { to: drawn, value: "spent" }
          - set: { tries: "tries + 5" }
      far:
        - run: draw
        - run: log.note
  log:
    state: { chances: { list: number } }
    actions:
      note:
        - append: { to: chances, value: "random()" }
`;

/** What is asked of the environment: ids and chances at each evaluation, the time once. */
describe.each(participantNames)('drawing: %s', (name) => {
  const counting = () => {
    const asked = { ids: 0, chances: 0, moments: 0 };
    return {
      asked,
      newId: () => `id-${(asked.ids += 1)}`,
      random: () => (asked.chances += 1) / 100,
      now: () => (asked.moments += 1),
    };
  };

  test('a let draws once, an expression at each evaluation', async () => {
    const { asked, ...environment } = counting();
    const { running } = await start(schema, name, environment);
    running.send('deck', 'draw', undefined);
    expect(running.read().deck).toMatchObject({ drawn: [0.01, 0.01, 0.02] });
    running.send('deck', 'mix', undefined);
    expect(running.read().deck).toMatchObject({ drawn: [0.03, 0.04, 0.05], ids: ['id-1', 'id-2'] });
    expect(asked).toEqual({ ids: 2, chances: 5, moments: 0 });
  });

  test('the time is asked for once in a transaction', async () => {
    const { asked, ...environment } = counting();
    const { running } = await start(schema, name, environment);
    running.send('deck', 'moment', undefined);
    running.send('deck', 'moment', undefined);
    expect(running.read().deck).toMatchObject({ moments: [1, 1, 2, 2] });
    expect(asked.moments).toBe(2);
  });

  test('what was drawn is spent even if the action is refused', async () => {
    const { running } = await start(schema, name, counting());
    expect(running.send('deck', 'fail', undefined)).toMatchObject({ reason: 'does not fit' });
    running.send('deck', 'draw', undefined);
    expect(running.read().deck).toMatchObject({ drawn: [0.02, 0.02, 0.03], tries: 0 });
  });

  test('actions that are run draw from the same source, in turn', async () => {
    const { running } = await start(schema, name, counting());
    running.send('deck', 'far', undefined);
    expect(running.read()).toMatchObject({
      deck: { drawn: [0.01, 0.01, 0.02] },
      log: { chances: [0.03] },
    });
  });
});

test.each(['derived:\n      x: "random()"', 'derived:\n      x: "newId()"'])(
  'a derived value draws nothing: %s',
  async (section) => {
    const text = `leeshore: 1\nstores:\n  deck:\n    state: {}\n    ${section}\n`;
    expect(await problemsOf(text)).toEqual([expect.stringContaining('only-in-steps')]);
  },
);
