import { membersOf, text, union, type Type, type TypeTable } from './types.js';

/** True if text may stand for something within values of a type, so that {@link textual} is another type. */
export function isTextual(type: Type, types: TypeTable, seen: readonly string[] = []): boolean {
  switch (type.kind) {
    case 'number':
    case 'boolean':
      return true;
    case 'literal':
      return typeof type.value !== 'string';
    case 'list':
      return isTextual(type.item, types, seen);
    case 'map':
      return isTextual(type.value, types, seen);
    case 'record':
      return type.fields.some((field) => isTextual(field.type, types, seen));
    case 'named': {
      const own = types.get(type.name)?.type;
      return own !== undefined && !seen.includes(type.name)
        ? isTextual(own, types, [...seen, type.name])
        : false;
    }
    case 'union':
      return takesEmptyText(type, types) || type.members.some((one) => isTextual(one, types, seen));
    case 'string':
    case 'null':
    case 'absent':
    case 'tuple':
    case 'never':
    case 'unknown':
      return false;
  }
}

/** True if an empty field stands for `null`: where no text may stand. */
function takesEmptyText(type: Type, types: TypeTable): boolean {
  const members = membersOf(type, types);
  const isText = (member: Type) =>
    member.kind === 'string' || (member.kind === 'literal' && typeof member.value === 'string');
  return members.some(({ kind }) => kind === 'null') && !members.some(isText);
}

/**
 * The type of a payload before its text is converted: where a number, `true`, `false` or an empty field may stand, text
 * may too. Types that contain themselves stay as they are.
 */
export function textual(type: Type, types: TypeTable, seen: readonly string[] = []): Type {
  if (!isTextual(type, types)) return type;
  switch (type.kind) {
    case 'number':
    case 'boolean':
    case 'literal':
      return union([type, text]);
    case 'list':
      return { ...type, item: textual(type.item, types, seen) };
    case 'map':
      return { ...type, value: textual(type.value, types, seen) };
    case 'record':
      return {
        ...type,
        fields: type.fields.map((field) => ({ ...field, type: textual(field.type, types, seen) })),
      };
    case 'named': {
      const own = types.get(type.name)?.type;
      return own === undefined || seen.includes(type.name)
        ? type
        : textual(own, types, [...seen, type.name]);
    }
    case 'union': {
      const empty = takesEmptyText(type, types) ? [text] : [];
      return union([...type.members.map((member) => textual(member, types, seen)), ...empty]);
    }
    case 'string':
    case 'null':
    case 'absent':
    case 'tuple':
    case 'never':
    case 'unknown':
      return type;
  }
}
