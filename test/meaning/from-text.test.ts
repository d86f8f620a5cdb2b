import { describe, expect, test } from '@jest/globals';
import type { Json } from '../../src/base/json.js';
import { participantNames, start } from '../participants.js';

const schema = (type: string) => `leeshore: 1
types:
  Car: { fields: { kind: { const: car }, lengthM: number } }
  Lorry: { fields: { kind: { const: lorry }, axles: integer, name: string } }
stores:
  deck:
    value: { maybe: { fields: { was: ${type} } } }
    actions:
      take:
        payload: ${type}
        accepts: text
        steps:
          - set: { value: { was: "payload" } }
`;

const misfit = 'does not fit';

/** Type, what is given, and what is stored or why not. */
const cases: readonly (readonly [type: string, given: Json, stored: Json])[] = [
  ['number', '12', 12],
  ['number', ' -4.5e1 ', -45],
  ['number', '+.5', 0.5],
  ['number', '5.', 5],
  ['number', 7, 7],
  ['number', '', misfit],
  ['number', '0x10', misfit],
  ['number', '12 m', misfit],
  ['number', 'Infinity', misfit],
  ['number', '1e999', misfit],
  ['integer', '1.5', misfit],
  ['boolean', 'true', true],
  ['boolean', 'false', false],
  ['boolean', 'True', misfit],
  ['{ maybe: number }', '', null],
  ['{ maybe: number }', ' ', misfit],
  ['{ maybe: string }', '', ''],
  ['{ type: [string, number] }', '12', '12'],
  ['{ enum: [1, 2] }', '2', 2],
  ['{ enum: [1, auto] }', '1', misfit],
  ['{ list: number }', ['1', 2], [1, 2]],
  ['{ map: boolean }', { a: 'true' }, { a: true }],
  ['{ oneOf: [Car, Lorry] }', { kind: 'car', lengthM: '4' }, { kind: 'car', lengthM: 4 }],
  [
    '{ oneOf: [Car, Lorry] }',
    { kind: 'lorry', axles: '3', name: '4' },
    { kind: 'lorry', axles: 3, name: '4' },
  ],
  ['{ oneOf: [Car, Lorry] }', { kind: 'bus', lengthM: '4' }, misfit],
];

describe.each(participantNames)('payloads that come as text: %s', (name) => {
  test.each(cases)('%s of %j', async (type, given, stored) => {
    const { running } = await start(schema(type), name);
    const outcome = running.send('deck', 'take', given);
    if (stored === misfit) {
      expect(outcome).toMatchObject({
        status: 'refused',
        reason: misfit,
        at: expect.stringMatching(/^\/payload/),
      });
    } else {
      expect(outcome).toEqual({ status: 'done' });
      expect(running.read().deck).toEqual({ was: stored });
    }
  });
});
