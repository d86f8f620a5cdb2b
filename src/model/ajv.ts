import { Ajv2020 } from 'ajv/dist/2020.js';
import addFormats from 'ajv-formats';
import { formats } from './types.js';

/** Ajv with its default settings and the formats that a schema can ask for. */
export function ajvOfTheFormat(): Ajv2020 {
  const ajv = new Ajv2020({ strict: false });
  addFormats.default(ajv, [...formats]);
  return ajv;
}
