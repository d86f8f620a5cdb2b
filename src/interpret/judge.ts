import { Ajv2020, type ValidateFunction } from 'ajv/dist/2020.js';
import { isObject } from '../base/json.js';
import { toJsonSchema, typesSchema } from '../model/json-schema.js';
import { membersOf, type Type, type TypeTable } from '../model/types.js';

/** Says which values fit which types: Ajv, and the keys of keyed lists. */
export class Judge {
  readonly #ajv = new Ajv2020({ strict: false });
  readonly #validators = new Map<Type, ValidateFunction>();

  constructor(readonly types: TypeTable) {
    this.#ajv.addSchema({ $id: 'leeshore:types', types: typesSchema(types) });
  }

  fits(value: unknown, type: Type): boolean {
    return this.#validator(type)(value) && this.hasUniqueKeys(value, type);
  }

  /** Whether every keyed list within the value has each key once. */
  hasUniqueKeys(value: unknown, type: Type): boolean {
    return membersOf(type, this.types).every((member) => this.#uniqueIn(value, member));
  }

  #uniqueIn(value: unknown, type: Type): boolean {
    if (type.kind === 'list' && Array.isArray(value)) {
      const { key, item } = type;
      if (key !== undefined) {
        const keys = value.map((entry) => (entry as Record<string, unknown>)[key]);
        if (new Set(keys).size !== keys.length) return false;
      }
      return value.every((entry) => this.hasUniqueKeys(entry, item));
    }
    if (!isObject(value)) return true;
    if (type.kind === 'map')
      return Object.values(value).every((entry) => this.hasUniqueKeys(entry, type.value));
    if (type.kind !== 'record') return true;
    return type.fields.every(
      ({ name, type: field }) =>
        !Object.hasOwn(value, name) || this.hasUniqueKeys(value[name], field),
    );
  }

  #validator(type: Type): ValidateFunction {
    const known = this.#validators.get(type);
    if (known !== undefined) return known;
    const made = this.#ajv.compile(toJsonSchema(type, 'leeshore:types#/types/'));
    this.#validators.set(type, made);
    return made;
  }
}
