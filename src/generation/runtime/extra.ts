// What comes from outside may have more than the types of the schema say.
import { isMeant } from './judging-unions.js';
import { takeIn } from './taking-in.js';
import type { ValueType } from './value-types.js';
import { isObject } from './values.js';

/** A copy of a value without the properties that its type does not have, at every depth. */
export const withoutExtra = (value: unknown, type: ValueType): unknown =>
  without(takeIn(value), type);

function without(value: unknown, type: ValueType): unknown {
  if ('later' in type) return without(value, type.later());
  if (typeof value !== 'object' || value === null) return value;
  if ('maybe' in type) return without(value, type.maybe);
  if ('oneOf' in type) {
    const meant = type.oneOf.find((member) => isMeant(value, member));
    return meant === undefined ? value : without(value, meant);
  }
  if ('list' in type)
    return Array.isArray(value) ? value.map((item) => without(item, type.list)) : value;
  if (!isObject(value)) return value;
  const typeOf =
    'map' in type
      ? () => type.map
      : 'fields' in type
        ? (name: string) => (Object.hasOwn(type.fields, name) ? type.fields[name] : undefined)
        : undefined;
  if (typeOf === undefined) return value;
  return Object.fromEntries(
    Object.entries(value).flatMap(([name, part]) => {
      const own = typeOf(name);
      return own === undefined ? [] : [[name, without(part, own)]];
    }),
  );
}
