// What comes from outside may have more than the types of the schema say.
import { isMeant } from './fitting.js';
import type { ValueType } from './value-types.js';
import { isObject } from './values.js';

/** A value without the properties that its type does not have, at every depth. */
export function withoutExtra(value: unknown, type: ValueType): unknown {
  if (typeof type === 'function') return withoutExtra(value, type());
  if (typeof type === 'string' || typeof value !== 'object' || value === null) return value;
  if ('maybe' in type) return withoutExtra(value, type.maybe);
  if ('oneOf' in type) {
    const meant = type.oneOf.find((member) => isMeant(value, member));
    return meant === undefined ? value : withoutExtra(value, meant);
  }
  if ('list' in type)
    return Array.isArray(value) ? value.map((item) => withoutExtra(item, type.list)) : value;
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
      return own === undefined ? [] : [[name, withoutExtra(part, own)]];
    }),
  );
}
