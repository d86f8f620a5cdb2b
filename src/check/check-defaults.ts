import { Ajv2020 } from 'ajv/dist/2020.js';
import type { Problems } from '../diagnostics/problem.js';
import { toJsonSchema, typesSchema } from '../model/json-schema.js';
import { typeText } from '../model/type-text.js';
import type { TypeTable } from '../model/types.js';
import type { WrittenDefault } from './written-default.js';

/** Holds each default against the JSON Schema of its type. */
export function checkDefaults(
  defaults: readonly WrittenDefault[],
  types: TypeTable,
  problems: Problems,
): void {
  const ajv = new Ajv2020({ strict: false });
  const document = typesSchema(types);
  for (const { name, type, value, node } of defaults) {
    const validate = ajv.compile({ ...toJsonSchema(type), types: document });
    if (validate(value)) continue;
    const detail = validate.errors?.[0]?.message ?? 'it does not fit';
    problems.add('default-misfit', node.span, {
      name,
      type: typeText(type, types).replace(/^an? /, ''),
      detail,
    });
  }
}
