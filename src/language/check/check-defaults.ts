import type { ValidateFunction } from 'ajv/dist/2020.js';
import type { Problems } from '../problems/problem.js';
import { ajvOfTheFormat } from '../../model/ajv.js';
import { isDistinct } from '../../model/distinct.js';
import { toJsonSchema, typesSchema } from '../../model/json-schema.js';
import { typeText } from '../../model/type-text.js';
import type { Type, TypeTable } from '../../model/types.js';
import type { WrittenDefault } from './written-default.js';

/** Holds each default against the JSON Schema of its type. */
export function checkDefaults(
  defaults: readonly WrittenDefault[],
  types: TypeTable,
  problems: Problems,
): void {
  const validatorOf = validators(types);
  for (const { name, type, value, node } of defaults) {
    const validate = validatorOf(type);
    const fits = validate(value);
    if (fits && isDistinct(value, type, types)) continue;
    const detail = fits
      ? 'two of its items are the same'
      : (validate.errors?.[0]?.message ?? 'it does not fit');
    problems.add('default-misfit', node.span, {
      name,
      type: typeText(type, types).replace(/^an? /, ''),
      detail,
    });
  }
}

/** Compiles the JSON Schema of a type; types that are written alike share one. */
function validators(types: TypeTable): (type: Type) => ValidateFunction {
  const ajv = ajvOfTheFormat();
  ajv.addSchema({ $id: 'leeshore:types', types: typesSchema(types) });
  const known = new Map<string, ValidateFunction>();
  return (type) => {
    const schema = toJsonSchema(type, 'leeshore:types#/types/');
    const text = JSON.stringify(schema);
    const validate = known.get(text) ?? ajv.compile(schema);
    known.set(text, validate);
    return validate;
  };
}
