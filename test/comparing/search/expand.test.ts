import { beforeAll, describe, expect, test } from '@jest/globals';
import { observedOf } from '../../../src/comparing/session/observed.js';
import type { ExpandItem } from '../../../src/comparing/search/expansion.js';
import { Reached } from '../../../src/comparing/reached.js';
import { expand } from '../../../src/comparing/search/expand.js';
import { referenceParticipant } from '../../../src/meaning/reference.js';
import type { Application } from '../../../src/model/application.js';
import { coverableOf } from '../../../src/model/cover-points.js';
import type { Participant, Running } from '../../../src/model/participant.js';
import { deckSchema, modelOf } from '../../helpers.js';

const schema = deckSchema({
  state: 'ramp: { type: integer, default: 0 }\nnote: { maybe: string }',
  derived: 'high: "ramp > 1"',
  actions: [
    'raise:',
    '  requires:',
    '    - { that: "ramp < 3", otherwise: It is up. }',
    '  steps:',
    '    - set: { ramp: "ramp + 1" }',
    'lower:',
    '  - reset: [ramp]',
  ].join('\n'),
});

let application: Application;
beforeAll(async () => {
  application = await modelOf(schema);
});

const raise = { send: 'deck.raise' };
const lower = { send: 'deck.lower' };

/** The reference under another name, of which parts can be replaced. */
function other(change: (running: Running) => Partial<Running>): Participant {
  const reference = referenceParticipant(application);
  return {
    name: 'other',
    create(environment) {
      const running = reference.create(environment);
      const parts: Running = {
        send: (...args) => running.send(...args),
        read: () => running.read(),
        derive: () => running.derive?.() ?? {},
        restore: (state) => running.restore?.(state),
      };
      return { ...parts, ...change(running) };
    },
  };
}

async function probe(participant: Participant, item: Partial<ExpandItem> = {}) {
  const searching = {
    application,
    participants: [referenceParticipant(application), participant],
    observed: observedOf(application),
    reached: new Reached(coverableOf(application)),
  };
  const whole: ExpandItem = {
    kind: 'expansion',
    by: 'state',
    store: undefined,
    base: 0,
    states: [{ path: [raise, raise], tried: 0 }],
    steps: 100,
    ...item,
  };
  return expand(searching, whole, () => Promise.resolve(false));
}

describe('a probe', () => {
  test('tries every input where a way leads, and tells what changed something', async () => {
    const { transitions, expanded, found } = await probe(other(() => ({})));
    expect(found).toBeUndefined();
    expect(transitions).toBe(2);
    expect(expanded).toMatchObject([
      { tried: 2, isDone: true, nextStates: [{ input: raise }, { input: lower }] },
    ]);
  });

  test('stops when its steps are used up, and says where to go on', async () => {
    const { expanded } = await probe(
      other(() => ({})),
      { steps: 1 },
    );
    expect(expanded).toMatchObject([{ tried: 1, isDone: false }]);
    const rest = await probe(
      other(() => ({})),
      {
        states: [{ path: [raise, raise], tried: 1 }],
      },
    );
    expect(rest.expanded).toMatchObject([
      { tried: 2, isDone: true, nextStates: [{ input: lower }] },
    ]);
  });

  test('finds what differs, with a script that begins at the start', async () => {
    // The third time it is raised nothing happens.
    const lazy = other((running) => ({
      send: (store, action, payload) =>
        action === 'raise' && (running.read().deck as { ramp: number }).ramp === 2
          ? { status: 'done' }
          : running.send(store, action, payload),
    }));
    const { found } = await probe(lazy);
    expect(found?.script.steps).toEqual([raise, raise, raise]);
    expect(found?.difference).toMatchObject({ step: 2, what: 'state', participant: 'other' });
  });

  test('passes over what shows only where a store was put', async () => {
    // Restoring goes wrong, everything else does not.
    const odd = other((running) => ({
      restore: () => running.restore?.({ deck: { ramp: 3, note: null } }),
    }));
    const { found, transitions } = await probe(odd);
    expect([found, transitions]).toEqual([undefined, 2]);
  });

  test('leads those who cannot be put back, and where sequences count', async () => {
    let [made, restored] = [0, 0];
    const counted = (canRestore: boolean) => ({
      ...other((running) => {
        made += 1;
        const restore = (state: Readonly<Record<string, unknown>>) => {
          restored += 1;
          running.restore?.(state);
        };
        return { restore: canRestore ? restore : undefined } as Partial<Running>;
      }),
    });
    await probe(counted(true));
    const whenPut = [made, restored];
    [made, restored] = [0, 0];
    await probe(counted(false));
    const whenLed = [made, restored];
    [made, restored] = [0, 0];
    await probe(counted(true), { by: 'sequence' });
    expect(whenPut[0]).toBe(1);
    expect(whenPut[1]).toBeGreaterThan(1);
    // Once to see what it has, and once for each input that changes something.
    expect(whenLed).toEqual([3, 0]);
    expect([made, restored]).toEqual([3, 0]);
  });

  test('looks at derived values that are out of date', async () => {
    const stale = other((running) => {
      const first = running.derive?.() ?? {};
      return { derive: () => first };
    });
    const { found } = await probe(stale, { states: [{ path: [raise], tried: 0 }] });
    expect(found?.difference).toMatchObject({ what: 'derived', at: '/deck/high' });
    expect(found?.script.steps).toEqual([raise, raise]);
  });
});
