import type { Type } from '../model/types.js';
import { code, data, doc, id, joined, key, type Code } from './code.js';

/** A type as TypeScript; lists, dictionaries and objects are read-only. */
export function printType(type: Type): Code {
  switch (type.kind) {
    case 'string':
      return id('string');
    case 'number':
      return id('number');
    case 'boolean':
      return id('boolean');
    case 'null':
      return code`null`;
    case 'absent':
      return code`undefined`;
    case 'literal':
      return data(type.value);
    case 'list':
      return code`readonly ${itemOf(type.item)}[]`;
    case 'tuple':
      return code`readonly [${joined(type.items.map(printType), ', ')}]`;
    case 'map':
      return code`{ readonly [key: string]: ${printType(type.value)} }`;
    case 'record':
      return code`{ ${type.fields.map(
        (field) =>
          code`${doc(field.about)}readonly ${key(field.name)}${field.optional ? code`?` : code``}: ${printType(field.type)};`,
      )} }`;
    case 'union':
      return joined(withoutCovered(type.members).map(printType), ' | ');
    case 'named':
      return id(type.name);
    case 'never':
      return id('never');
    case 'unknown':
      return id('unknown');
  }
}

function itemOf(item: Type): Code {
  const isOneWord = item.kind !== 'union' && item.kind !== 'list' && item.kind !== 'tuple';
  return isOneWord ? printType(item) : code`(${printType(item)})`;
}

/** Members that another one covers say nothing: 'port' where any text may stand. */
function withoutCovered(members: readonly Type[]): readonly Type[] {
  return members.filter(
    (member) =>
      member.kind !== 'literal' || !members.some(({ kind }) => kind === typeof member.value),
  );
}

/** The named types that a type mentions. */
export function namesIn(type: Type): readonly string[] {
  switch (type.kind) {
    case 'named':
      return [type.name];
    case 'list':
      return namesIn(type.item);
    case 'tuple':
      return type.items.flatMap(namesIn);
    case 'map':
      return namesIn(type.value);
    case 'record':
      return type.fields.flatMap((field) => namesIn(field.type));
    case 'union':
      return type.members.flatMap(namesIn);
    default:
      return [];
  }
}
