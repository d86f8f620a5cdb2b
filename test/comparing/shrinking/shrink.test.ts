import { expect, test } from '@jest/globals';
import { shrink } from '../../../src/comparing/shrinking/shrink.js';
import type { Script, ScriptStep, SendStep } from '../../../src/comparing/script.js';

const difference = {
  what: 'state',
  at: '',
  participant: 'odd',
  expected: 1,
  actual: 2,
} as const;

const send = (name: string, payload?: number): SendStep =>
  payload === undefined ? { send: name } : { send: name, payload };

/** Shrinks a script that fails as soon as the steps up to one of them are so. */
async function shrunk(
  steps: readonly ScriptStep[],
  isFailing: (steps: readonly ScriptStep[]) => boolean,
  instead: readonly SendStep[] = [],
): Promise<readonly ScriptStep[]> {
  const fails = (script: Script) => {
    const step = script.steps.findIndex((_, i) => isFailing(script.steps.slice(0, i + 1)));
    return Promise.resolve(step < 0 ? undefined : { ...difference, step });
  };
  const found = await fails({ steps });
  if (found === undefined) throw new Error('the script does not fail');
  const shrunk = await shrink({ script: { steps }, difference: found }, fails, { instead });
  return shrunk.script.steps;
}

const names = (steps: readonly ScriptStep[]) =>
  steps.map((step) => ('send' in step ? step.send : 'watch' in step ? 'watch' : 'stop'));

const count = (steps: readonly ScriptStep[], name: string) =>
  names(steps).filter((other) => other === name).length;

test('no single step can be left out, and nothing of a payload', async () => {
  const steps = [send('a', 7), send('b'), send('a', 40), send('c', 9)];
  const left = await shrunk(
    steps,
    (done) => count(done, 'a') > 0 && done.some((one) => 'send' in one && Number(one.payload) > 8),
  );
  expect(left).toEqual([{ send: 'a', payload: 40 }]);
});

test('two steps are left out that only make sense together', async () => {
  // The lamp has to be on: it was turned on, off, and on again.
  const steps = [send('turn'), send('go'), send('turn'), send('turn'), send('look')];
  const left = await shrunk(
    steps,
    (done) => count(done, 'turn') % 2 === 1 && names(done).at(-1) === 'look',
  );
  expect(names(left)).toEqual(['turn', 'look']);
});

test('one step is done in place of several that lead to the same', async () => {
  // Three are raised one by one, or all of them at once.
  const steps = [send('lamp.raise'), send('lamp.raise'), send('lamp.raise'), send('lamp.look')];
  const isFailing = (done: readonly ScriptStep[]) => {
    const raised = count(done, 'lamp.raise') + 3 * count(done, 'lamp.raiseAll');
    return raised === 3 && names(done).at(-1) === 'lamp.look';
  };
  expect(names(await shrunk(steps, isFailing))).toHaveLength(4);
  const instead = [send('buoy.raiseAll'), send('lamp.raiseAll')];
  expect(names(await shrunk(steps, isFailing, instead))).toEqual(['lamp.raiseAll', 'lamp.look']);
});

test('what is done of other stores, and of other actions, is left out in a few tries', async () => {
  const junk = ['wind.measure', 'wind.measure', 'lamp.dim', 'wind.calm', 'lamp.dim'];
  const many = Array.from({ length: 8 }, () => junk).flat();
  const steps = [...many, 'lamp.raise', ...many, 'lamp.look'].map((name) => send(name));
  let tries = 0;
  const left = await shrunk(steps, (done) => {
    if (done.length === 1) tries += 1;
    return names(done).includes('lamp.raise') && names(done).at(-1) === 'lamp.look';
  });
  expect(names(left)).toEqual(['lamp.raise', 'lamp.look']);
  expect(tries).toBeLessThan(12);
});

test('a step that was done again is done once, at another place', async () => {
  // What counts is to raise after it was locked; it was raised before as well, since that unlocks the rest.
  const steps = [send('raise'), send('lock'), send('open'), send('raise'), send('look')];
  const isFailing = (done: readonly ScriptStep[]) => {
    const all = names(done);
    const wasRaised = all.indexOf('raise') >= 0 && all.indexOf('raise') < all.indexOf('open');
    return wasRaised && all.lastIndexOf('raise') > all.indexOf('lock') && all.at(-1) === 'look';
  };
  const withLock = (done: readonly ScriptStep[]) => names(done).includes('lock') && isFailing(done);
  expect(names(await shrunk(steps, withLock))).toEqual(['lock', 'raise', 'open', 'look']);
});

test('what a watcher sends is sent at once where that does', async () => {
  const steps: ScriptStep[] = [
    { watch: 'deck', as: 'w1', then: send('moor', 3) },
    send('admit'),
    send('look'),
  ];
  const left = await shrunk(steps, (done) => {
    const isMoored = done.some(
      (one) =>
        ('send' in one && one.send === 'moor') ||
        ('watch' in one && typeof one.then === 'object' && count(done, 'admit') > 0),
    );
    return isMoored && names(done).at(-1) === 'look';
  });
  expect(left).toEqual([{ send: 'moor', payload: 0 }, { send: 'look' }]);
});

test('what is taken from an item of a list is taken from an earlier one, if that does', async () => {
  const board = (index: number): SendStep => ({
    send: 'board',
    payload: '',
    fill: { '': `/deck/vehicles/${index}/id` },
  });
  // A vehicle that is there is boarded: the first is as good as the third.
  const isFailing = (done: readonly ScriptStep[]) =>
    done.some(
      (step, i) =>
        'send' in step &&
        step.fill !== undefined &&
        Number(step.fill['']?.split('/')[3]) < count(done.slice(0, i), 'admit'),
    );
  const steps = [send('admit'), send('admit'), send('admit'), board(2)];
  expect(await shrunk(steps, isFailing)).toEqual([send('admit'), board(0)]);
});
