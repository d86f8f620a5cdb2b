import { Ajv2020 } from 'ajv/dist/2020.js';
import addFormats from 'ajv-formats';
import { formats } from './types.js';

/** Ajv with the formats that a schema can ask for; numbers are finite, as in JSON. */
export function ajvOfTheFormat(): Ajv2020 {
  const ajv = new Ajv2020({ strict: false, strictNumbers: true });
  addFormats.default(ajv, [...formats]);
  return ajv;
}
