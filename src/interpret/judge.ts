import type { ValidateFunction } from 'ajv/dist/2020.js';
import { ajvOfTheFormat } from '../model/ajv.js';
import { isDistinct } from '../model/distinct.js';
import { toJsonSchema, typesSchema } from '../model/json-schema.js';
import { misfitIn } from './misfit.js';
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

  /** Where a value does not fit, as a JSON Pointer, if `at` is that of the value; `undefined` if it fits. */
  misfit(value: unknown, type: Type, at: string): string | undefined {
    return misfitIn(value, type, at, this.types, (part, wanted) => this.fits(part, wanted));
  }

  #validator(type: Type): ValidateFunction {
    const known = this.#validators.get(type);
    if (known !== undefined) return known;
    const made = this.#ajv.compile(toJsonSchema(type, 'leeshore:types#/types/'));
    this.#validators.set(type, made);
    return made;
  }
}

/** Validators take long to compile, and many participants can share them: there is one judge for each table of types. */
const judges = new WeakMap<TypeTable, Judge>();

/** The judge of values by the types of an application. */
export function judgeOf(types: TypeTable): Judge {
  let judge = judges.get(types);
  if (judge === undefined) judges.set(types, (judge = new Judge(types)));
  return judge;
}
