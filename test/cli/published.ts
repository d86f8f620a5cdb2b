import { readFileSync } from 'node:fs';
import { Ajv2020 } from 'ajv/dist/2020.js';
import { expect } from '@jest/globals';
import { root } from '../helpers.js';

/** Expects that what a command prints fits its published schema. */
export function expectValid(name: string, text: string): void {
  const path = new URL(`schema/${name}-1.schema.json`, root);
  const schema = JSON.parse(readFileSync(path, 'utf8')) as object;
  const ajv = new Ajv2020({ formats: { 'json-pointer': true }, strictTypes: false });
  expect([ajv.validate(schema, JSON.parse(text)), ajv.errors]).toEqual([true, null]);
}
