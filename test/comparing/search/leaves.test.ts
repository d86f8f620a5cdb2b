import { expect, test } from '@jest/globals';
import { leavesOf, withMore } from '../../../src/comparing/search/leaves.js';
import type { ScriptStep } from '../../../src/comparing/script.js';

const more = (step: ScriptStep, by: number) => leavesOf(step).map((leaf) => withMore(leaf, by));

test('each number of a payload is another by so much, and each text longer', () => {
  expect(more({ send: 'pier.land', payload: { kg: 4, tags: ['wet'], at: 0.5 } }, 2)).toEqual([
    { send: 'pier.land', payload: { kg: 6, tags: ['wet'], at: 0.5 } },
    { send: 'pier.land', payload: { kg: 4, tags: ['wetqq'], at: 0.5 } },
    { send: 'pier.land', payload: { kg: 4, tags: ['wet'], at: 2.5 } },
  ]);
});

test('a number as a form field gives it stays a text, a whole number whole', () => {
  expect(more({ send: 'pier.land', payload: { kg: '4' } }, -1)).toEqual([
    { send: 'pier.land', payload: { kg: '3' } },
  ]);
  expect(more({ send: 'pier.weigh', payload: 4 }, 2.4)).toEqual([
    { send: 'pier.weigh', payload: 6 },
  ]);
});

test('a text becomes shorter by whole characters', () => {
  expect(more({ send: 'pier.note', payload: '⛴🚢' }, -1)).toEqual([
    { send: 'pier.note', payload: '⛴' },
  ]);
  expect(more({ send: 'pier.note', payload: 'a' }, -5)).toEqual([
    { send: 'pier.note', payload: '' },
  ]);
});

test('what stands in the state stays as it is', () => {
  const step: ScriptStep = {
    send: 'pier.move',
    payload: { id: 'id-1', to: 3 },
    fill: { '/id': '/pier/crates/0/id' },
  };
  expect(more(step, 1)).toEqual([{ ...step, payload: { id: 'id-1', to: 4 } }]);
});

test('answers, errors and the time that passes have leaves too', () => {
  expect(more({ answer: 2, error: { status: 503 } }, -3)).toEqual([
    { answer: 2, error: { status: 500 } },
  ]);
  expect(more({ value: 1, result: 7 }, 1)).toEqual([{ value: 1, result: 8 }]);
  expect(more({ pass: 300 }, -400)).toEqual([{ pass: 0 }]);
  expect(leavesOf({ pass: 'next' })).toEqual([]);
  expect(leavesOf({ answer: 1, nothing: true })).toEqual([]);
});

test('a number stays as JSON can write it', () => {
  expect(more({ send: 'pier.weigh', payload: 1.5e308 }, 1.5e308)).toEqual([
    { send: 'pier.weigh', payload: 1.5e308 },
  ]);
  expect(more({ send: 'pier.weigh', payload: 3 }, -Infinity)).toEqual([
    { send: 'pier.weigh', payload: 3 },
  ]);
  const [none] = more({ send: 'pier.weigh', payload: 3 }, -3.2);
  expect(Object.is((none as { payload: number }).payload, 0)).toBe(true);
});
