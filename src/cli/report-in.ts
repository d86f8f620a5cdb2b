import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { Ajv2020 } from 'ajv/dist/2020.js';
import { packageRoot } from '../library/package-files.js';

/** What keeps a value from being the result of a comparison, if something does. */
export function reportProblem(value: unknown): string | undefined {
  const path = join(packageRoot(), 'schema/comparison-1.schema.json');
  const schema = JSON.parse(readFileSync(path, 'utf8')) as object;
  const ajv = new Ajv2020({ formats: { 'json-pointer': true } });
  if (ajv.validate(schema, value)) return undefined;
  const [error] = ajv.errors ?? [];
  return `${error?.instancePath || 'it'} ${error?.message ?? 'does not fit'}`;
}
