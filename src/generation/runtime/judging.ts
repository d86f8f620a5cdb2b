// What fits: judges of scalars, and what all judges have in common. A judge of what comes in copies it in the same walk.
import type {
  ConstantType,
  EnumType,
  LaterType,
  MaybeType,
  ScalarType,
  ValueType,
} from './value-types.js';

/** Where a value does not fit, as the rest of a JSON Pointer: `''` for the value itself. */
export class Misfit {
  readonly at: string;

  constructor(at: string) {
    this.at = at;
  }

  /** The same, seen from what the value is a part of. */
  within(name: string | number): Misfit {
    const part = String(name).replaceAll('~', '~0').replaceAll('/', '~1');
    return new Misfit(`/${part}${this.at}`);
  }
}

/** The value itself does not fit. */
export const here = new Misfit('');

/** Where a value does not fit; `undefined` if it fits. */
export function misfit(value: unknown, type: ValueType): string | undefined {
  const judged = type.judge(value, false);
  return judged instanceof Misfit ? judged.at : undefined;
}

/** True if a value fits a type. */
export const fits = (value: unknown, type: ValueType): boolean => misfit(value, type) === undefined;

export const string: ScalarType = {
  type: 'string',
  judge: (value) => (typeof value === 'string' ? value : here),
};
export const number: ScalarType = {
  type: 'number',
  judge: (value) => (Number.isFinite(value) ? value : here),
};
export const integer: ScalarType = {
  type: 'integer',
  judge: (value) => (Number.isInteger(value) ? value : here),
};
export const boolean: ScalarType = {
  type: 'boolean',
  judge: (value) => (typeof value === 'boolean' ? value : here),
};
export const nothing: ScalarType = {
  type: 'null',
  judge: (value) => (value === null ? null : here),
};

export const constant = (value: ConstantType['const']): ConstantType => ({
  const: value,
  judge: (given) => (given === value ? given : here),
});

export const choice = (...values: EnumType['enum']): EnumType => ({
  enum: values,
  judge: (value) => ((values as readonly unknown[]).includes(value) ? value : here),
});

export const maybe = (type: ValueType): MaybeType => ({
  maybe: type,
  judge: (value, isGiven) => (value === null ? null : type.judge(value, isGiven)),
});

/** A type that stands further down. */
export const later = (typeOf: () => ValueType): LaterType => ({
  later: typeOf,
  judge: (value, isGiven) => typeOf().judge(value, isGiven),
});

/** A type that may be part of itself: a value that is within itself does not fit. */
export function nesting(type: ValueType): ValueType {
  const around: unknown[] = [];
  const judge = (value: unknown, isGiven: boolean): unknown => {
    if (around.includes(value) && typeof value === 'object') return here;
    around.push(value);
    try {
      return type.judge(value, isGiven);
    } finally {
      around.pop();
    }
  };
  return { ...type, judge };
}
