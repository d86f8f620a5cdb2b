import { expect, test } from '@jest/globals';
import type { Json } from '../../src/base/json.js';
import { repeatableEnvironment } from '../../src/comparing/playing/environment.js';
import { referenceParticipant } from '../../src/meaning/reference.js';
import { modelOf } from '../helpers.js';

const text = `
leeshore: 1
stores:
  lock:
    state:
      level: { type: number, default: 0 }
      gate: { enum: [shut, open], default: shut }
      keeper: { type: [string, 'null'], default: null }
    derived:
      high: "level > 4"
    actions:
      fill: { payload: number, steps: [{ set: { level: "payload" } }] }
      turn: { payload: { enum: [shut, open] }, steps: [{ set: { gate: "payload" } }] }
      call: { payload: string, steps: [{ set: { keeper: "payload" } }] }
      reach: { requires: [{ that: "level >= 10", otherwise: low }], steps: [{ set: { level: "0" } }] }
      both: { requires: [{ that: "gate === 'open' && level === 3", otherwise: no }], steps: [{ set: { level: "0" } }] }
      either: { requires: [{ that: "level < -1 || gate !== 'shut'", otherwise: no }], steps: [{ set: { level: "0" } }] }
      derive: { requires: [{ that: "!(high || level > 8)", otherwise: no }], steps: [{ set: { level: "0" } }] }
      named: { requires: [{ that: "keeper !== null && keeper.length > 2", otherwise: no }], steps: [{ set: { level: "0" } }] }
      two:
        requires: [{ that: "gate === 'open'", otherwise: no }, { that: "level <= -2", otherwise: no }]
        steps: [{ when: "level > 6", then: [{ set: { gate: "'shut'" } }] }]
      plain: [{ when: "level > 6", then: [{ set: { gate: "'shut'" } }] }]
`;

/** How far it is told that an action was from being done, after others. */
async function farOf(action: string, ...before: readonly (readonly [string, Json])[]) {
  const application = await modelOf(text);
  const told: [string, string, number][] = [];
  const reach = {
    point: () => undefined,
    decided: () => undefined,
    right: () => undefined,
    compared: () => undefined,
    picked: () => undefined,
    stored: () => undefined,
    near: (at: string, what: string, distance: () => number) => {
      told.push([at, what, distance()]);
    },
  };
  const running = referenceParticipant(application, { reach }).create(
    repeatableEnvironment([], false),
  );
  for (const [name, payload] of before) running.send('lock', name, payload);
  told.length = 0;
  running.send('lock', action, undefined);
  return told;
}

test('numbers are the nearer, the less lies between them', async () => {
  expect(await farOf('reach', ['fill', 9])).toEqual([['lock.reach', 'done', 1 / 2]]);
  expect(await farOf('reach', ['fill', 7])).toEqual([['lock.reach', 'done', 3 / 4]]);
  expect(await farOf('reach', ['fill', 10])).toEqual([]);
});

test('of two conditions the second counts once the first is met', async () => {
  expect(await farOf('both', ['fill', 3])).toEqual([['lock.both', 'done', 2]]);
  expect(await farOf('both', ['turn', 'open'])).toEqual([['lock.both', 'done', 3 / 4]]);
  expect(await farOf('named')).toEqual([['lock.named', 'done', 2]]);
  expect(await farOf('named', ['call', 'ab'])).toEqual([['lock.named', 'done', 1 / 2]]);
});

test('of two of which one is enough the nearer counts', async () => {
  expect(await farOf('either', ['fill', 1])).toEqual([['lock.either', 'done', 3 / 4]]);
  expect(await farOf('either', ['fill', 3])).toEqual([['lock.either', 'done', 5 / 6]]);
});

test('a derived value counts by what it is computed from', async () => {
  expect(await farOf('derive', ['fill', 6])).toEqual([['lock.derive', 'done', 2 / 3 + 1]]);
});

test('requirements that come later count one each', async () => {
  expect(await farOf('two')).toEqual([['lock.two', 'done', 2]]);
  expect(await farOf('two', ['turn', 'open'])).toEqual([['lock.two', 'done', 2 / 3]]);
});

test('the branch of a step that was not taken has a distance too', async () => {
  expect(await farOf('plain', ['fill', 5])).toEqual([['lock.plain.steps[0]', 'then', 2 / 3]]);
  expect(await farOf('plain', ['fill', 8])).toEqual([['lock.plain.steps[0]', 'else', 2 / 3]]);
});
