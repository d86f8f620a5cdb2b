import { membersOf, type Type, type TypeTable } from './types.js';

/** A type as the problems name it: 'a number', "'port' or 'centre'", 'a list of Vehicle'. */
export function typeText(type: Type, types: TypeTable): string {
  switch (type.kind) {
    case 'string':
      return 'text';
    case 'number':
      return type.integer ? 'a whole number' : 'a number';
    case 'boolean':
      return 'true or false';
    case 'null':
      return 'null';
    case 'absent':
      return 'absent';
    case 'literal':
      return typeof type.value === 'string' ? `text '${type.value}'` : String(type.value);
    case 'list':
      return type.item.kind === 'never'
        ? 'an empty list'
        : `a list of ${innerText(type.item, types)}`;
    case 'tuple':
      return `a list [${type.items.map((item) => typeText(item, types)).join(', ')}]`;
    case 'map':
      return `a dictionary of ${innerText(type.value, types)}`;
    case 'record':
      return type.fields.length === 0
        ? 'an empty object'
        : `an object { ${type.fields.map(({ name, optional }) => (optional ? `${name}?` : name)).join(', ')} }`;
    case 'union':
      return membersText(type.members, types);
    case 'named':
      return type.name;
    case 'never':
      return 'nothing';
    case 'unknown':
      return 'something';
  }
}

function innerText(type: Type, types: TypeTable): string {
  return typeText(type, types).replace(/^an? /, '');
}

function membersText(members: readonly Type[], types: TypeTable): string {
  // Where any text may stand, 'port' says nothing more.
  const telling = members.filter(
    (member) =>
      member.kind !== 'literal' || !members.some(({ kind }) => kind === typeof member.value),
  );
  const texts = [...new Set(telling.map((member) => typeText(member, types)))];
  return texts.length < 2
    ? (texts[0] ?? 'nothing')
    : `${texts.slice(0, -1).join(', ')} or ${texts.at(-1)}`;
}

/** 'null', 'absent' or 'absent or null': what is missing from a type's value, if it may be; else `undefined`. */
export function missingText(type: Type, types: TypeTable): string | undefined {
  const kinds = new Set(membersOf(type, types).map(({ kind }) => kind));
  if (kinds.has('absent')) return kinds.has('null') ? 'absent or null' : 'absent';
  return kinds.has('null') ? 'null' : undefined;
}
