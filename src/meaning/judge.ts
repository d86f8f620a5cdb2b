import { fittingValuesOf, type FittingValues } from '../model/fitting-values.js';
import { misfitIn } from './misfit.js';
import type { Type, TypeTable } from '../model/types.js';

/** Says which values fit which types, and where one does not. */
export class Judge {
  readonly #values: FittingValues;

  constructor(readonly types: TypeTable) {
    this.#values = fittingValuesOf(types);
  }

  fits(value: unknown, type: Type): boolean {
    return this.#values.fits(value, type);
  }

  /** Where a value does not fit, as a JSON Pointer, if `at` is that of the value; `undefined` if it fits. */
  misfit(value: unknown, type: Type, at: string): string | undefined {
    return misfitIn(value, type, at, this.types, (part, wanted) => this.fits(part, wanted));
  }
}

const judges = new WeakMap<TypeTable, Judge>();

/** The judge of values by the types of an application; there is one for each table of types. */
export function judgeOf(types: TypeTable): Judge {
  let judge = judges.get(types);
  if (judge === undefined) judges.set(types, (judge = new Judge(types)));
  return judge;
}
