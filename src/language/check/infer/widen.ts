import {
  boolean,
  computed,
  membersOf,
  number,
  text,
  union,
  type Type,
  type TypeTable,
} from '../../../model/types.js';

/** The type with single values replaced by what they are one of: 'port' by text, 0 by a number. */
export function widen(type: Type, types: TypeTable): Type {
  const members = membersOf(type, types);
  if (!members.some(({ kind }) => kind === 'literal')) {
    return members.some((member) => member.kind === 'number')
      ? union(members.map(plainNumber))
      : type;
  }
  return union(
    members.map((member) => plainNumber(member.kind === 'literal' ? wide(member.value) : member)),
  );
}

function wide(value: string | number | boolean): Type {
  return typeof value === 'string' ? text : typeof value === 'number' ? number : boolean;
}

function plainNumber(type: Type): Type {
  return type.kind === 'number' ? computed : type;
}
