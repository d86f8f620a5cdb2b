import type { Type } from '../model/types.js';
import { code, data, doc, id, joined, key, type Code } from './code.js';

/** What a named type is called where it is written. */
export type NameOf = (name: string) => Code;

/** A type as TypeScript; lists, dictionaries and objects are read-only. */
export function printType(type: Type, nameOf: NameOf = id): Code {
  const print = (part: Type) => printType(part, nameOf);
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
      return code`readonly ${itemOf(type.item, print)}[]`;
    case 'tuple':
      return code`readonly [${joined(type.items.map(print), ', ')}]`;
    case 'map':
      return code`{ readonly [key: string]: ${print(type.value)} }`;
    case 'record':
      return code`{ ${type.fields.map(
        (field) =>
          code`${doc(field.about)}readonly ${key(field.name)}${field.optional ? code`?` : code``}: ${print(field.type)};`,
      )} }`;
    case 'union':
      return printUnion(type.members, print);
    case 'named':
      return nameOf(type.name);
    case 'never':
      return id('never');
    case 'unknown':
      return id('unknown');
  }
}

function itemOf(item: Type, print: (part: Type) => Code): Code {
  const printed = print(item);
  const isUnion = item.kind === 'union' && printed.text.includes(' | ');
  const isOneWord = !isUnion && item.kind !== 'list' && item.kind !== 'tuple';
  return isOneWord ? printed : code`(${printed})`;
}

/** A number and a whole number, for one, are written alike, and once. */
function printUnion(members: readonly Type[], print: (part: Type) => Code): Code {
  const printed = withoutCovered(members).map(print);
  return joined(
    printed.filter(({ text }, i) => printed.findIndex((other) => other.text === text) === i),
    ' | ',
  );
}

/** Members that another one covers say nothing: 'port' where any text may stand. */
function withoutCovered(members: readonly Type[]): readonly Type[] {
  return members.filter(
    (member) =>
      member.kind !== 'literal' || !members.some(({ kind }) => kind === typeof member.value),
  );
}
