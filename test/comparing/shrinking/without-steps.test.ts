import { describe, expect, test } from '@jest/globals';
import type { ScriptStep } from '../../../src/comparing/script.js';
import type { ScriptDone } from '../../../src/comparing/session/difference.js';
import { withoutSteps } from '../../../src/comparing/shrinking/without-steps.js';

/** Three vehicles join; the last boards, told by its place, and gets a note, told by its identifier. */
const steps: readonly ScriptStep[] = [
  { send: 'deck.admit', payload: { plate: 'a' } },
  { send: 'deck.admit', payload: { plate: 'b' } },
  { send: 'deck.admit', payload: { plate: 'c' } },
  { send: 'deck.board', payload: 'a', fill: { '': '/deck/vehicles/2/id' } },
  { send: 'deck.remark', payload: { id: 'id-3', note: 'id-3 is late' } },
];
const done: ScriptDone = {
  ids: ['id-1', 'id-2', 'id-3'],
  before: [0, 1, 2, 3, 3],
  byStep: false,
  sent: [undefined, undefined, undefined, 'id-3', undefined],
};

const without = (places: readonly number[], run: Parameters<typeof withoutSteps>[2]) =>
  withoutSteps(steps, (place) => places.includes(place), run);

describe('a script without some of its steps', () => {
  test('takes the same items, by what they are called now; or else by their places', () => {
    expect(without([0], { done })).toEqual([
      [
        steps[1],
        steps[2],
        { send: 'deck.board', payload: 'id-2' },
        { send: 'deck.remark', payload: { id: 'id-2', note: 'id-3 is late' } },
      ],
      steps.slice(1),
    ]);
  });

  test('is the same where nothing that is gone drew anything, or nothing is known', () => {
    expect(without([3], { done })).toEqual([steps.toSpliced(3, 1)]);
    expect(without([0], {})).toEqual([steps.slice(1)]);
  });

  test('names an item that is gone as it was', () => {
    const [named] = without([2], { done });
    expect(named).toEqual(steps.toSpliced(2, 1));
  });

  test('counts steps where identifiers say the number of their step', () => {
    const byStep = { ...done, ids: ['id-1', 'id-2', 'id-3'], byStep: true };
    const later = { ...byStep, ids: ['id-1', 'id-2', 'id-3', 'id-3-2'], before: [0, 1, 2, 4, 4] };
    expect(without([0, 1], { done: later })[0]).toEqual([
      steps[2],
      { send: 'deck.board', payload: 'id-1' },
      { send: 'deck.remark', payload: { id: 'id-1', note: 'id-3 is late' } },
    ]);
  });

  test('answers the calls that are still made, under their new numbers', () => {
    const asked: readonly ScriptStep[] = [
      { start: 'timetable.load' },
      { start: 'timetable.load' },
      { answer: 1, result: 1 },
      { answer: 2, result: 2 },
    ];
    expect(withoutSteps(asked, (place) => place === 0, { calls: [0, 1, 2, 2] })).toEqual([
      [{ start: 'timetable.load' }, { answer: 1, result: 2 }],
    ]);
  });
});
