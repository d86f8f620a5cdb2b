import { expect, test } from '@jest/globals';
import { observedOf } from '../../../src/comparing/session/observed.js';
import { PossibleSteps } from '../../../src/comparing/session/possible-steps.js';
import type { ScriptStep } from '../../../src/comparing/script.js';
import type { Abilities, Participant } from '../../../src/model/participant.js';
import { modelOf } from '../../helpers.js';
import { savedBoard } from '../saved-board.js';

const create = () => {
  throw new Error('is not to be made');
};
const whole: Participant = { name: 'atom', create };
const old: Participant = {
  name: 'old',
  create,
  has: { reopens: true, classes: new Set(['storage']) } as unknown as Abilities,
};

const steps: readonly ScriptStep[] = [
  { storage: { key: 'board', text: '{' } },
  { send: 'board.expect' },
  { storage: 'full' },
  { send: 'board.expect' },
  { reopen: true },
  { send: 'board.expect' },
];

async function possible(participants: readonly Participant[]): Promise<readonly boolean[]> {
  const all = new PossibleSteps(participants, observedOf(await modelOf(savedBoard)));
  return steps.map((step) => all.has(step, undefined, () => undefined));
}

test('what was put into the storage is read before old code does anything: it may write when it likes', async () => {
  expect(await possible([whole, old])).toEqual([true, false, true, false, true, true]);
});

test('generated stores go on without reading it', async () => {
  expect(await possible([whole, whole])).toEqual([true, true, true, true, true, true]);
});
