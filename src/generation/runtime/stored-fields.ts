// Fields that come from outside: from storage, or from the state that an application is given to begin from.
import { Misfit } from './judging.js';
import type { RecordType, StoreChecks, ValueType } from './value-types.js';
import { isObject } from './values.js';

export type Fields = Readonly<Record<string, unknown>>;

/** The types of the fields of a store; one that is one value has one field here, `value`. */
export type FieldTypes = Readonly<Record<string, ValueType | undefined>>;

export function fieldTypes(checks: StoreChecks | undefined, isValue: boolean): FieldTypes {
  const type = checks?.state ?? checks?.kept;
  return isValue ? { value: type } : (type as RecordType).fields;
}

/** The fields that have a type and a value. Throws if a value does not fit. */
export function fittingFields(fields: unknown, types: FieldTypes): Fields {
  if (!isObject(fields)) throw new TypeError('There are no fields.');
  const found = Object.entries(types).flatMap(([field, type]) => {
    const value = Object.hasOwn(fields, field) ? fields[field] : undefined;
    if (type === undefined || value === undefined) return [];
    const taken = type.judge(value, true);
    if (taken instanceof Misfit) throw new TypeError(`'${field}' does not fit.`);
    return [[field, taken] as const];
  });
  return Object.fromEntries(found);
}
