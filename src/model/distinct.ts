import { isObject } from '../base/json.js';
import { same } from '../base/same.js';
import { hasWithin, membersOf, type Type, type TypeTable } from './types.js';

/** True if every keyed list within a value has each key once, and every list of unique items each item. */
export function isDistinct(value: unknown, type: Type, types: TypeTable): boolean {
  if (!matters(type, types)) return true;
  return membersOf(type, types).every((member) => isDistinctMember(value, member, types));
}

/** Types, with whether there are lists in them that must be distinct: most have none. */
const known = new WeakMap<Type, boolean>();

function matters(type: Type, types: TypeTable): boolean {
  let answer = known.get(type);
  if (answer === undefined) known.set(type, (answer = hasWithin(type, types, mustBeDistinct)));
  return answer;
}

const mustBeDistinct = (type: Type): boolean =>
  type.kind === 'list' && (type.key !== undefined || type.bounds?.uniqueItems === true);

function isDistinctMember(value: unknown, type: Type, types: TypeTable): boolean {
  if (type.kind === 'list' && Array.isArray(value)) {
    const { key, item, bounds } = type;
    if (key !== undefined && !allDistinct(value.map((entry) => isObject(entry) && entry[key])))
      return false;
    if (bounds?.uniqueItems === true && !allDistinct(value)) return false;
    return value.every((entry) => isDistinct(entry, item, types));
  }
  if (!isObject(value)) return true;
  if (type.kind === 'map')
    return Object.values(value).every((entry) => isDistinct(entry, type.value, types));
  if (type.kind !== 'record') return true;
  return type.fields.every(
    ({ name, type: field }) => !Object.hasOwn(value, name) || isDistinct(value[name], field, types),
  );
}

function allDistinct(values: readonly unknown[]): boolean {
  if (new Set(values).size < values.length) return false;
  const structured = values.filter((value) => isObject(value) || Array.isArray(value));
  return structured.every((one, i) => !structured.slice(0, i).some((other) => same(one, other)));
}
