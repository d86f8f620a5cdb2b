import { Ajv2020 } from 'ajv/dist/2020.js';
import addFormats from 'ajv-formats';
import { formats } from './types.js';

/**
 * Ajv with the formats that a schema can ask for; numbers are finite, as in JSON. The JSON Schemas that it is given are
 * made here: they are not validated, which would take longer than all else.
 */
export function ajvOfTheFormat(): Ajv2020 {
  const ajv = new Ajv2020({
    strict: false,
    strictNumbers: true,
    meta: false,
    validateSchema: false,
  });
  addFormats.default(ajv, [...formats]);
  return ajv;
}
