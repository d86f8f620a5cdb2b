import { expect, test } from '@jest/globals';
import type { Json } from '../../../src/base/json.js';
import { absentPartsOf } from '../../../src/comparing/inputs/absent-parts.js';
import { passing } from '../../../src/comparing/playing/passing.js';
import { deckSchema, modelOf } from '../../helpers.js';

const asIs = (given: unknown) => given;
const payload = { plate: 'SK 4', lanes: ['port', 'centre'] };

test('a payload is passed frozen, all of it', () => {
  passing(payload, 'frozen', asIs, (given) => {
    expect(given).toEqual(payload);
    expect(Object.isFrozen(given)).toBe(true);
    expect(Object.isFrozen((given as typeof payload).lanes)).toBe(true);
    return undefined;
  });
  expect(Object.isFrozen(payload)).toBe(false);
});

test('optional properties that are absent are given as undefined', async () => {
  const application = await modelOf(
    deckSchema({
      types: `Lane: { enum: [port, centre] }
Tag: { fields: { of: string, by: string }, optional: [by] }
Note: { fields: { kind: { const: note }, text: string, lane: Lane }, optional: [text, lane] }
Car: { fields: { kind: { const: car }, tags: { list: Tag }, more: { map: Note } } }`,
      actions: `put: { payload: { oneOf: [Note, Car] }, steps: [] }
hold: { payload: { fields: { plate: string } }, steps: [] }`,
    }),
  );
  const withAbsent = absentPartsOf(application);
  const sent = (action: string, given: Json) => {
    const passed: unknown[] = [];
    passing(
      given,
      'with undefined',
      (own) => withAbsent(action, own),
      (own) => passed.push(own),
    );
    return passed[0];
  };
  const note = { kind: 'note', lane: 'port' };
  expect(sent('deck.put', note)).toStrictEqual({ ...note, text: undefined });
  expect(
    sent('deck.put', { kind: 'car', tags: [{ of: 'a' }], more: { one: { kind: 'note' } } }),
  ).toStrictEqual({
    kind: 'car',
    tags: [{ of: 'a', by: undefined }],
    more: { one: { kind: 'note', text: undefined, lane: undefined } },
  });
  expect(sent('deck.hold', { plate: 'SK 1' })).toStrictEqual({ plate: 'SK 1' });
});

test('what the caller holds is changed afterwards, and not the payload of the script', () => {
  let kept: unknown;
  const outcome = passing(payload, 'changed after', asIs, (given) => {
    kept = given;
    return JSON.stringify(given);
  });
  expect(outcome).toBe(JSON.stringify(payload));
  expect(kept).not.toEqual(payload);
  expect(payload.lanes).toEqual(['port', 'centre']);
});

test('what is no object is passed as it is', () => {
  expect(passing(7, 'frozen', asIs, (given) => given)).toBe(7);
});
