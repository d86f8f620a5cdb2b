import { meaningsOf } from '../model/from-text.js';
import { constantOf } from '../model/tags.js';
import {
  isStructured,
  membersOf,
  type RecordType,
  type Type,
  type TypeTable,
} from '../model/types.js';
import { code, comment, data, id, joined, key, nothing, type Code } from './code.js';
import { Names, pascal } from './identifiers.js';
import { Imports } from './imports.js';

/** The functions that replace texts in payloads by what they stand for; each named type has one. */
export class Conversions {
  readonly #names: Names;
  readonly #named = new Map<string, string>();
  readonly #functions: { readonly name: string; body: Code }[] = [];
  readonly #imports = new Imports();

  /** `taken`: what the functions must not be called. */
  constructor(
    readonly types: TypeTable,
    taken: readonly string[],
  ) {
    this.#names = new Names(taken);
  }

  /** The function that converts a payload, imported where it is used. */
  use(type: Type, suggested: string, imports: Imports): Code {
    return imports.value('conversions', this.#function(type, suggested));
  }

  get files(): readonly string[] {
    return this.#imports.files;
  }

  /** The file `conversions.ts`; nothing if no conversion is in use. */
  print(): Code {
    if (this.#functions.length === 0) return nothing;
    const declarations = this.#functions.map(
      ({ name, body }) => code`export const ${id(name)} = (value: unknown): unknown => ${body};`,
    );
    return joined(
      [comment('What texts in payloads stand for.'), this.#imports.print(), ...declarations],
      '\n\n',
    );
  }

  #function(type: Type, suggested: string): string {
    const known = type.kind === 'named' ? this.#named.get(type.name) : undefined;
    if (known !== undefined) return known;
    const name = this.#names.allocate(
      `convert${pascal(type.kind === 'named' ? type.name : suggested)}`,
    );
    if (type.kind === 'named') this.#named.set(type.name, name);
    const made = { name, body: nothing };
    this.#functions.push(made);
    made.body = this.#convert(type, id('value'));
    return name;
  }

  /** The expression that converts a value of unknown type. */
  #convert(type: Type, value: Code): Code {
    const meanings = meaningsOf(type, this.types);
    let result = value;
    for (const member of this.#structuredIn(type)) result = this.#part(member, result);
    if (meanings.boolean) result = this.#call('toBoolean', result);
    if (meanings.number) result = this.#call('toNumber', result);
    return meanings.null ? this.#call('toNull', result) : result;
  }

  /** The lists, dictionaries and objects that a type may be; those under a name of their own stay names. */
  #structuredIn(type: Type): readonly Type[] {
    const open = type.kind === 'named' ? (this.types.get(type.name)?.type ?? type) : type;
    const members = open.kind === 'union' ? open.members : [open];
    return members.filter((member) => isStructured(member, this.types));
  }

  #part(member: Type, value: Code): Code {
    if (member.kind === 'named') return code`${id(this.#function(member, member.name))}(${value})`;
    if (member.kind === 'list') {
      const inner = this.#arrow(member.item);
      return inner === undefined ? value : this.#call('eachItem', code`${value}, ${inner}`);
    }
    if (member.kind === 'map') {
      const inner = this.#arrow(member.value);
      return inner === undefined ? value : this.#call('eachEntry', code`${value}, ${inner}`);
    }
    if (member.kind !== 'record') return value;
    const parts = member.fields.flatMap(({ name, type }) => {
      const inner = this.#arrow(type);
      return inner === undefined ? [] : [code`${key(name)}: ${inner}`];
    });
    if (parts.length === 0) return value;
    const constants = constantsOf(member);
    const told = constants.length === 0 ? code`` : code`, ${data(Object.fromEntries(constants))}`;
    return this.#call('eachField', code`${value}, { ${joined(parts, ', ')} }${told}`);
  }

  /** The function that converts a part; `undefined` if there is nothing to convert. */
  #arrow(type: Type): Code | undefined {
    if (type.kind === 'named') return this.#arrowOfNamed(type);
    const body = this.#convert(type, id('part'));
    return body.text === 'part' ? undefined : code`(part) => ${body}`;
  }

  #arrowOfNamed(type: Type & { kind: 'named' }): Code | undefined {
    const isText = membersOf(type, this.types).every(
      (member) => member.kind === 'string' || typeof literalOf(member) === 'string',
    );
    return isText ? undefined : id(this.#function(type, type.name));
  }

  #call(helper: string, args: Code): Code {
    return code`${this.#imports.value('from-text', helper)}(${args})`;
  }
}

function literalOf(type: Type): unknown {
  return type.kind === 'literal' ? type.value : undefined;
}

/** The properties of an object that are always the same text. */
function constantsOf(record: RecordType): [string, string][] {
  return record.fields.flatMap(({ name }): [string, string][] => {
    const constant = constantOf(record, name);
    return typeof constant === 'string' ? [[name, constant]] : [];
  });
}
