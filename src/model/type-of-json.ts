import type { Json } from '../base/json.js';
import { list, literal, never, nothing, union, type Type } from './types.js';

/** The type of a value that never changes; the items of a list are of one type. */
export function typeOfJson(value: Json): Type {
  return typeOf(value, (items) => list(items.length === 0 ? never : union(items)));
}

/** The type that a value alone has: each item of a list has its own. */
export function exactTypeOfJson(value: Json): Type {
  return typeOf(value, (items) => ({ kind: 'tuple', items }));
}

function typeOf(value: Json, listOf: (items: readonly Type[]) => Type): Type {
  if (value === null) return nothing;
  if (typeof value !== 'object') return literal(value);
  if (Array.isArray(value))
    return listOf((value as readonly Json[]).map((item) => typeOf(item, listOf)));
  const fields = Object.entries(value as { readonly [key: string]: Json });
  return {
    kind: 'record',
    fields: fields.map(([name, part]) => ({ name, type: typeOf(part, listOf), optional: false })),
  };
}
