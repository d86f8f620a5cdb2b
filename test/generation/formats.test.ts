import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import * as own from '../../src/generation/runtime/formats.js';
import { ajvOfTheFormat } from '../../src/model/ajv.js';

const checks = {
  date: own.isDate,
  'date-time': own.isDateTime,
  uuid: own.isUuid,
  email: own.isEmail,
  uri: own.isUri,
};

const pieces = [
  '2026-11-23',
  '2024-02-29',
  '2023-02-29',
  '2026-13-01',
  '1900-02-29',
  '2000-02-29',
  'T',
  't',
  ' ',
  '10:45:00',
  '23:59:60',
  '23:59:61',
  '24:00:00',
  '00:59:60',
  '.5',
  'Z',
  'z',
  '+01:00',
  '-00:01',
  '+2400',
  '+01',
  '8c2f1d3e-7a1b-4c5d-9e0f-112233445566',
  'urn:uuid:',
  'G',
  'mate',
  '@',
  'skerry',
  '.',
  'example',
  '-',
  'a.b',
  '..',
  'https:',
  '//',
  '/',
  '?',
  '#',
  '%20',
  '%2',
  '[::1]',
  ':80',
  'user@',
  'é',
];

/** Generated stores decide as Ajv does, whatever the text. */
describe.each(Object.entries(checks))('%s', (format, check) => {
  test('as Ajv decides', () => {
    const validate = ajvOfTheFormat().compile({ type: 'string', format });
    const text = fc.oneof(
      fc
        .tuple(
          fc.constantFrom('2026-11-23', '2016-12-31', '2026-02-30'),
          fc.constantFrom('T', 't', ' ', ''),
          fc.constantFrom('10:45:00', '23:59:60', '00:59:60.5', '24:00:00', '22:58:60'),
          fc.constantFrom('Z', '+01:00', '-00:01', '+0101', '+25', ''),
        )
        .map((parts) => parts.join('')),
      fc.array(fc.constantFrom(...pieces), { maxLength: 6 }).map((parts) => parts.join('')),
      fc.string({ maxLength: 12 }),
    );
    const seen = new Set<boolean>();
    fc.assert(
      fc.property(text, (value) => {
        seen.add(check(value));
        return check(value) === validate(value);
      }),
      { numRuns: 6000, seed: 7 },
    );
    expect(seen.size).toBe(2);
  });
});
