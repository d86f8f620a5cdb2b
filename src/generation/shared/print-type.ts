import type { Type } from '../../model/types.js';
import { code, data, doc, joined, key, nothing, word, type Code } from '../build/code.js';
import { roughText } from '../build/print.js';

/** What a named type is called where it is written. */
export type NameOf = (name: string) => Code;

/** A type as TypeScript; lists, dictionaries and objects are read-only. */
export function printType(type: Type, nameOf: NameOf): Code {
  const print = (part: Type) => printType(part, nameOf);
  switch (type.kind) {
    case 'string':
      return word('string');
    case 'number':
      return word('number');
    case 'boolean':
      return word('boolean');
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
      return code`{\n${type.fields.map(
        (field) =>
          code`${doc(field.about)}readonly ${key(field.name)}${field.optional ? code`?` : nothing}: ${print(field.type)};`,
      )}\n}`;
    case 'union':
      return printUnion(type.members, print);
    case 'named':
      return nameOf(type.name);
    case 'never':
      return word('never');
    case 'unknown':
      return word('unknown');
  }
}

function itemOf(item: Type, print: (part: Type) => Code): Code {
  const printed = print(item);
  const isUnion = item.kind === 'union' && roughText(printed).includes(' | ');
  const isOneWord = !isUnion && item.kind !== 'list' && item.kind !== 'tuple';
  return isOneWord ? printed : code`(${printed})`;
}

/** A number and a whole number, for one, are written alike, and once. */
function printUnion(members: readonly Type[], print: (part: Type) => Code): Code {
  const printed = new Map(
    withoutCovered(members).map((member) => {
      const piece = print(member);
      return [roughText(piece), piece] as const;
    }),
  );
  return joined([...printed.values()], ' | ');
}

/** Members that another one covers say nothing: 'port' where any text may stand. */
function withoutCovered(members: readonly Type[]): readonly Type[] {
  return members.filter(
    (member) =>
      member.kind !== 'literal' || !members.some(({ kind }) => kind === typeof member.value),
  );
}
