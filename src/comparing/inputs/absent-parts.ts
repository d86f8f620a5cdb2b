import { isObject, type Json } from '../../base/json.js';
import type { Application } from '../../model/application.js';
import { hasOptionalParts } from '../../model/optional-parts.js';
import type { Type, TypeTable } from '../../model/types.js';

/** Gives a payload of an action, `deck.admit`, with the optional properties that it lacks as undefined. */
export type WithAbsentParts = (action: string, payload: Json) => unknown;

export function absentPartsOf({ stores, types }: Application): WithAbsentParts {
  const typed = new Map<string, Type>();
  for (const store of stores)
    for (const { name, payload } of store.actions)
      if (payload !== undefined && hasOptionalParts(payload, types))
        typed.set(`${store.name}.${name}`, payload);
  return (action, payload) => {
    const type = typed.get(action);
    return type === undefined ? payload : withAbsent(payload, type, types);
  };
}

function withAbsent(value: unknown, type: Type, types: TypeTable): unknown {
  switch (type.kind) {
    case 'named': {
      const own = types.get(type.name)?.type;
      return own === undefined ? value : withAbsent(value, own, types);
    }
    case 'union':
      // Of several objects each may be the one that is meant.
      return type.members.reduce((given, member) => withAbsent(given, member, types), value);
    case 'list':
      return Array.isArray(value) ? value.map((item) => withAbsent(item, type.item, types)) : value;
    case 'map':
      return isObject(value) ? mapped(value, (part) => withAbsent(part, type.value, types)) : value;
    case 'record': {
      const isOfType =
        isObject(value) &&
        type.fields.every(({ name, optional, type: own }) =>
          Object.hasOwn(value, name)
            ? own.kind !== 'literal' || value[name] === own.value
            : optional,
        );
      if (!isOfType) return value;
      const lacking = type.fields.filter(({ name }) => !Object.hasOwn(value, name));
      const partOf = new Map(type.fields.map((field) => [field.name, field.type]));
      const parts = mapped(value, (part, name) => {
        const own = partOf.get(name);
        return own === undefined ? part : withAbsent(part, own, types);
      });
      return { ...Object.fromEntries(lacking.map(({ name }) => [name, undefined])), ...parts };
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
      return value;
  }
}

function mapped(value: object, change: (part: unknown, name: string) => unknown): object {
  return Object.fromEntries(
    Object.entries(value).map(([name, part]) => [name, change(part, name)]),
  );
}
