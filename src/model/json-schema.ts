import type { JsonObject, Json } from '../base/json.js';
import type { Type, TypeTable } from './types.js';

/** A type as JSON Schema 2020-12; named types become references: `#/types/NAME`, or after another base. */
export function toJsonSchema(type: Type, base = '#/types/'): JsonObject {
  switch (type.kind) {
    case 'string':
      return { type: 'string', ...type.bounds };
    case 'number':
      return { type: type.integer ? 'integer' : 'number', ...type.bounds };
    case 'boolean':
      return { type: 'boolean' };
    case 'null':
      return { type: 'null' };
    case 'literal':
      return { const: type.value };
    case 'list':
      return { type: 'array', items: toJsonSchema(type.item, base), ...type.bounds };
    case 'tuple':
      return {
        type: 'array',
        prefixItems: type.items.map((item) => toJsonSchema(item, base)),
        minItems: type.items.length,
        maxItems: type.items.length,
      };
    case 'map':
      return {
        type: 'object',
        additionalProperties: toJsonSchema(type.value, base),
        propertyNames: { not: { const: '__proto__' } },
      };
    case 'record':
      return {
        type: 'object',
        properties: Object.fromEntries(
          type.fields.map((field) => [field.name, toJsonSchema(field.type, base)]),
        ),
        required: type.fields.filter(({ optional }) => !optional).map(({ name }) => name),
        additionalProperties: false,
      };
    case 'union':
      return unionSchema(type.members, base);
    case 'named':
      return { $ref: `${base}${type.name}` };
    case 'never':
    case 'absent':
      return { not: {} };
    case 'unknown':
      return {};
  }
}

function unionSchema(members: readonly Type[], base: string): JsonObject {
  const values = members.map((member) =>
    member.kind === 'literal' ? member.value : member.kind === 'null' ? null : undefined,
  );
  const plain = values.filter(
    (value): value is string | number | boolean | null => value !== undefined,
  );
  if (plain.length === members.length) return { enum: plain };
  return { anyOf: members.map((member) => toJsonSchema(member, base)) };
}

/** The named types of an application as a JSON Schema document of its own, each under `types`. */
export function typesDocument({
  title,
  types,
}: {
  readonly title: string | undefined;
  readonly types: TypeTable;
}) {
  return {
    $schema: 'https://json-schema.org/draft/2020-12/schema',
    ...(title === undefined ? {} : { title }),
    types: typesSchema(types),
  };
}

/** All named types as one JSON Schema document, each under `types`. */
export function typesSchema(types: TypeTable): { readonly [name: string]: Json } {
  return Object.fromEntries(
    [...types.values()].map(({ name, type }) => [name, toJsonSchema(type)]),
  );
}
