import { expect, test } from '@jest/globals';
import { passing } from '../../../src/explore/playing/passing.js';

const payload = { plate: 'SK 4', lanes: ['port', 'centre'] };

test('a payload is passed frozen, all of it', () => {
  passing(payload, 'frozen', [], (given) => {
    expect(given).toEqual(payload);
    expect(Object.isFrozen(given)).toBe(true);
    expect(Object.isFrozen((given as typeof payload).lanes)).toBe(true);
    return undefined;
  });
  expect(Object.isFrozen(payload)).toBe(false);
});

test('properties that may be absent are given as undefined', () => {
  const given = passing(payload, 'with undefined', ['note', 'plate'], (one) => one) as object;
  expect(Object.entries(given)).toContainEqual(['note', undefined]);
  expect(given).toMatchObject(payload);
});

test('what the caller holds is changed afterwards, and not the payload of the script', () => {
  let kept: unknown;
  const outcome = passing(payload, 'changed after', [], (given) => {
    kept = given;
    return JSON.stringify(given);
  });
  expect(outcome).toBe(JSON.stringify(payload));
  expect(kept).not.toEqual(payload);
  expect(payload.lanes).toEqual(['port', 'centre']);
});

test('what is no object is passed as it is', () => {
  expect(passing(7, 'frozen', [], (given) => given)).toBe(7);
});
