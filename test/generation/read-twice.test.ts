import { expect, test } from '@jest/globals';
import { participantNames, start } from '../participants.js';

const schema = `
leeshore: 1
stores:
  deck:
    state:
      hold: { maybe: string }
      heard: { list: string }
    derived:
      mood: "hold === null ? 'open' : hold"
    actions:
      holdTwice:
        payload: string
        steps:
          - append: { to: heard, value: "mood" }
          - set: { hold: "payload" }
          - append: { to: heard, value: "mood" }
          - set: { hold: null }
          - append: { to: heard, value: "mood" }
          - set: { hold: "payload" }
          - append: { to: heard, value: "mood" }
          - set: { hold: null }
`;

test.each(participantNames)(
  '%s: an action sees each change in a derived value that was read before it, and between two changes',
  async (name) => {
    const { running } = await start(schema, name);
    const outcomes = ['gale', 'fog'].map((reason) => {
      const derived = running.derive?.();
      return [derived, running.send('deck', 'holdTwice', reason)];
    });
    const open = { deck: { mood: 'open' } };
    expect(outcomes).toEqual([open, open].map((derived) => [derived, { status: 'done' }]));
    expect(running.read()).toEqual({
      deck: { hold: null, heard: ['open', 'gale', 'open', 'gale', 'open', 'fog', 'open', 'fog'] },
    });
  },
);
