import type { ValidateFunction } from 'ajv/dist/2020.js';
import { ajvOfTheFormat } from './ajv.js';
import { isDistinct } from './distinct.js';
import { toJsonSchema, typesSchema } from './json-schema.js';
import type { Type, TypeTable } from './types.js';

/** Says which values fit which types: Ajv, and the keys of keyed lists. */
export class FittingValues {
  readonly #ajv = ajvOfTheFormat();
  readonly #validators = new Map<Type, ValidateFunction>();

  constructor(readonly types: TypeTable) {
    this.#ajv.addSchema({ $id: 'leeshore:types', types: typesSchema(types) });
  }

  fits(value: unknown, type: Type): boolean {
    return this.#validator(type)(value) && isDistinct(value, type, this.types);
  }

  #validator(type: Type): ValidateFunction {
    const known = this.#validators.get(type);
    if (known !== undefined) return known;
    const made = this.#ajv.compile(toJsonSchema(type, 'leeshore:types#/types/'));
    this.#validators.set(type, made);
    return made;
  }
}

/** Validators take long to compile, and many can share them: there is one set for each table of types. */
const known = new WeakMap<TypeTable, FittingValues>();

/** A judge of values, by the types of an application. */
export function fittingValuesOf(types: TypeTable): FittingValues {
  let values = known.get(types);
  if (values === undefined) known.set(types, (values = new FittingValues(types)));
  return values;
}
