import type { Type, TypeTable } from './types.js';

/** Whether values of a type may have properties that are absent, at any depth. */
export function hasOptionalParts(
  type: Type,
  types: TypeTable,
  seen: ReadonlySet<string> = new Set(),
): boolean {
  const isIn = (part: Type) => hasOptionalParts(part, types, seen);
  switch (type.kind) {
    case 'list':
      return isIn(type.item);
    case 'map':
      return isIn(type.value);
    case 'record':
      return type.fields.some((field) => field.optional || isIn(field.type));
    case 'union':
      return type.members.some(isIn);
    case 'named': {
      const own = types.get(type.name)?.type;
      if (own === undefined || seen.has(type.name)) return false;
      return hasOptionalParts(own, types, new Set([...seen, type.name]));
    }
    case 'string':
    case 'number':
    case 'boolean':
    case 'null':
    case 'absent':
    case 'literal':
    case 'tuple':
    case 'never':
    case 'unknown':
      return false;
  }
}
