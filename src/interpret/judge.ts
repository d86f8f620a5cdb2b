import type { ValidateFunction } from 'ajv/dist/2020.js';
import { ajvOfTheFormat } from '../model/ajv.js';
import { isDistinct } from '../model/distinct.js';
import { toJsonSchema, typesSchema } from '../model/json-schema.js';
import type { Type, TypeTable } from '../model/types.js';

/** Says which values fit which types: Ajv, and the keys of keyed lists. */
export class Judge {
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
