import { beforeAll, describe, expect, test } from '@jest/globals';
import { observedOf } from '../../../src/comparing/session/observed.js';
import type { Script, WayToFollow } from '../../../src/comparing/script.js';
import { replay } from '../../../src/comparing/shrinking/replay.js';
import { referenceParticipant } from '../../../src/meaning/reference.js';
import type { Application } from '../../../src/model/application.js';
import type { Followed, Participant, Running } from '../../../src/model/participant.js';
import { deckSchema, modelOf } from '../../helpers.js';

let deck: Application;
beforeAll(async () => {
  deck = await modelOf(
    deckSchema({
      state: 'hold: { type: number, default: 0 }',
      actions: 'load: { payload: number, steps: [{ set: { hold: "hold + payload" } }] }',
    }),
  );
});

/** What can be followed like the values that somebody pushes; the first `missed` of them are not told. */
function followedLike(running: Running, missed: number): Followed {
  const values: unknown[] = [];
  const waiting: (() => void)[] = [];
  const tell: ((value: unknown) => void)[] = [];
  let left = missed;
  running.watch?.('deck.hold', (now) => {
    if (left-- > 0) return;
    values.push(now);
    for (const one of tell) one(now);
    waiting.shift()?.();
  });
  return {
    subscribe: ({ next }) => {
      tell.push(next);
      return { unsubscribe: () => void tell.splice(tell.indexOf(next), 1) };
    },
    async *[Symbol.asyncIterator]() {
      for (;;) {
        while (values.length > 0) yield values.shift();
        await new Promise<void>((resolve) => waiting.push(resolve));
      }
    },
  };
}

/** The reference once more, with what is given in place of its own. */
function other(change: (running: Running) => Partial<Running>): Participant {
  const reference = referenceParticipant(deck);
  return {
    name: 'other',
    create(environment) {
      const running = reference.create(environment);
      const parts: Running = {
        send: (store, action, payload) => running.send(store, action, payload),
        read: () => running.read(),
        derive: () => running.derive?.() ?? {},
        watch: (target, changed) => running.watch?.(target, changed) ?? (() => undefined),
      };
      return { ...parts, ...change(running) };
    },
  };
}

const loaded = (by: WayToFollow, isStopped = false): Script => ({
  steps: [
    { watch: 'deck.hold', as: 'w1', by },
    { send: 'deck.load', payload: 1 },
    { send: 'deck.load', payload: 2 },
    ...(isStopped ? [{ stop: 'w1' }, { send: 'deck.load', payload: 3 }] : []),
  ],
});

async function differenceWith(script: Script, change: (running: Running) => Partial<Running>) {
  const participants = [referenceParticipant(deck), other(change)];
  return (await replay(script, participants, observedOf(deck))).difference;
}

describe.each(['observer', 'iteration'] as const)('who follows as %s', (by) => {
  const follow = (missed: number) => (running: Running) => ({
    follow: () => followedLike(running, missed),
  });

  test('is told of each new value, in order', async () => {
    expect(await differenceWith(loaded(by), follow(0))).toBeUndefined();
  });

  test('and one that is not told is found', async () => {
    expect(await differenceWith(loaded(by), follow(1))).toMatchObject({ what: 'notices' });
  });

  test('who has nothing of the kind is watched', async () => {
    expect(await differenceWith(loaded(by), () => ({}))).toBeUndefined();
  });
});

test('an observer who has stopped is told no more', async () => {
  const stopping = (running: Running) => ({ follow: () => followedLike(running, 0) });
  const deaf = (running: Running) => ({
    follow: () => {
      const source = followedLike(running, 0);
      const subscribe: Followed['subscribe'] = (observer) => {
        source.subscribe(observer);
        return { unsubscribe: () => undefined };
      };
      return { ...source, subscribe };
    },
  });
  expect(await differenceWith(loaded('observer', true), stopping)).toBeUndefined();
  expect(await differenceWith(loaded('observer', true), deaf)).toMatchObject({ what: 'notices' });
});

test('a source that cannot be iterated over is a difference, told with the watcher', async () => {
  const broken = (running: Running) => ({
    follow: () => ({
      ...followedLike(running, 0),
      [Symbol.asyncIterator]: () => {
        throw new Error('adrift');
      },
    }),
  });
  expect(await differenceWith(loaded('iteration'), broken)).toMatchObject({
    what: 'notices',
    at: '/iterated/w1',
    expected: [1, 3],
    actual: [{ threw: 'Error: adrift' }],
  });
});

test('the state as JSON text is held against the state', async () => {
  const script: Script = { steps: [{ send: 'deck.load', payload: 1 }] };
  const json = (text: string) => () => ({ json: () => text });
  expect(await differenceWith(script, json('{"deck":{"hold":1}}'))).toBeUndefined();
  expect(await differenceWith(script, json('{"deck":{}}'))).toMatchObject({
    what: 'state',
    at: '/as JSON/deck/hold',
  });
});
