import { fits } from '../model/fit.js';
import type { Expr } from '../model/expressions.js';
import { sameType, type Format, type Type, type TypeTable } from '../model/types.js';
import type { EmitOptions } from './emit-options.js';
import { code, comment, data, id, joined, nothing, property, type Code } from './code.js';
import { Names, pascal } from './identifiers.js';
import { Imports } from './imports.js';
import type { TypeBook } from './type-book.js';

interface Guard {
  readonly name: string;
  readonly type: Type;
  readonly body: Code;
}

/** The type guards that the generated stores use; each type has one, made when first asked for. */
export class Guards {
  readonly #names: Names;
  readonly #guards: Guard[] = [];
  readonly #imports = new Imports();

  constructor(
    readonly types: TypeTable,
    readonly book: Pick<TypeBook, 'type'>,
    readonly checks: EmitOptions['checks'],
    /** What the guards must not be called. */
    taken: readonly string[],
  ) {
    this.#names = new Names(taken);
  }

  /** The guard that an expression's value must pass to fit a type; `undefined` if it always fits, or nothing is judged. */
  neededFor(value: Expr, wanted: Type, suggested: string, imports: Imports): Code | undefined {
    return this.checks === 'never' || fits(value.type, wanted, this.types, 'proof')
      ? undefined
      : this.use(wanted, suggested, imports);
  }

  /** The guard of a type, imported where it is used. */
  use(type: Type, suggested: string, imports: Imports): Code {
    const name = this.#guardOf(type, suggested);
    return imports.value(isPredefined(name) ? 'values' : 'checks', name);
  }

  /** The files that the guards use. */
  get files(): readonly string[] {
    return this.#imports.files;
  }

  /** The file `checks.ts`; nothing if no guard is in use. */
  print(): Code {
    if (this.#guards.length === 0) return nothing;
    const declarations = this.#guards.map(({ name, type, body }) => {
      const fitting = this.book.type(type, this.#imports);
      return code`export const ${id(name)} = (value: unknown): value is ${fitting} => ${body};`;
    });
    return joined(
      [comment('Which values fit which types.'), this.#imports.print(), ...declarations],
      '\n\n',
    );
  }

  #guardOf(type: Type, suggested: string): string {
    const predefined = predefinedGuard(type);
    if (predefined !== undefined) return predefined;
    const known = this.#guards.find((guard) => sameType(guard.type, type));
    if (known !== undefined) return known.name;
    const wanted = type.kind === 'named' ? type.name : suggested;
    const name = this.#names.allocate(`is${pascal(wanted)}`);
    const target = type.kind === 'named' ? (this.types.get(type.name)?.type ?? type) : type;
    const at = this.#guards.length;
    this.#guards.push({ name, type, body: nothing });
    this.#guards[at] = { name, type, body: this.#test(target, id('value'), wanted) };
    return name;
  }

  #call(guard: string, value: Code): Code {
    if (isPredefined(guard)) this.#imports.value('values', guard);
    return code`${id(guard)}(${value})`;
  }

  #helper(name: string): Code {
    return this.#imports.value('values', name);
  }

  /** The condition that a value of unknown type fits. */
  #test(type: Type, value: Code, suggested: string): Code {
    const predefined = predefinedGuard(type);
    if (predefined !== undefined) return this.#call(predefined, value);
    switch (type.kind) {
      case 'string':
      case 'number':
        return joined(this.#bounded(type, value), ' && ');
      case 'null':
        return code`${value} === null`;
      case 'absent':
        return code`${value} === undefined`;
      case 'literal':
        return code`${value} === ${data(type.value)}`;
      case 'list': {
        const item = this.#asFunction(type.item, `${suggested}Item`);
        const { key: keyName, bounds: { minItems, maxItems, uniqueItems } = {} } = type;
        const tests = [
          code`${this.#helper('isListOf')}(${value}, ${item})`,
          ...(minItems === undefined ? [] : [code`${value}.length >= ${data(minItems)}`]),
          ...(maxItems === undefined ? [] : [code`${value}.length <= ${data(maxItems)}`]),
          ...(keyName === undefined
            ? []
            : [code`${this.#helper('hasUniqueKeys')}(${value}, ${data(keyName)})`]),
          ...(uniqueItems === undefined ? [] : [code`${this.#helper('isDistinct')}(${value})`]),
        ];
        return joined(tests, ' && ');
      }
      case 'map':
        return code`${this.#helper('isMapOf')}(${value}, ${this.#asFunction(type.value, `${suggested}Entry`)})`;
      case 'record':
        return this.#record(type, value, suggested);
      case 'union':
        return joined(
          type.members.map((member) => code`(${this.#test(member, value, suggested)})`),
          ' || ',
        );
      case 'named':
        return this.#call(this.#guardOf(type, suggested), value);
      default:
        return code`true`;
    }
  }

  #asFunction(type: Type, suggested: string): Code {
    const name = this.#guardOf(type, suggested);
    if (isPredefined(name)) this.#imports.value('values', name);
    return id(name);
  }

  #record(type: Type & { kind: 'record' }, value: Code, suggested: string): Code {
    const names = (optional: boolean) =>
      type.fields.filter((field) => field.optional === optional).map(({ name }) => name);
    const [required, optional] = [names(false), names(true)];
    const shape =
      optional.length === 0 ? data(required) : code`${data(required)}, ${data(optional)}`;
    const parts = type.fields.map((field) => {
      const part = code`${value}${property(field.name)}`;
      const test = this.#test(field.type, part, `${suggested}${pascal(field.name)}`);
      return field.optional ? code`(${part} === undefined || (${test}))` : code`(${test})`;
    });
    return joined([code`${this.#helper('isRecord')}(${value}, ${shape})`, ...parts], ' && ');
  }

  #bounded(type: Type & { kind: 'string' | 'number' }, value: Code): Code[] {
    if (type.kind === 'string') {
      const { minLength, maxLength, format } = type.bounds;
      const length = code`${this.#helper('lengthOf')}(${value})`;
      return [
        this.#call('isText', value),
        ...(minLength === undefined ? [] : [code`${length} >= ${data(minLength)}`]),
        ...(maxLength === undefined ? [] : [code`${length} <= ${data(maxLength)}`]),
        ...(format === undefined
          ? []
          : [code`${this.#imports.value('formats', formatGuards[format])}(${value})`]),
      ];
    }
    const { minimum, maximum, exclusiveMinimum, exclusiveMaximum, multipleOf } = type.bounds;
    return [
      this.#call(type.integer ? 'isInteger' : 'isNumber', value),
      ...(minimum === undefined ? [] : [code`${value} >= ${data(minimum)}`]),
      ...(exclusiveMinimum === undefined ? [] : [code`${value} > ${data(exclusiveMinimum)}`]),
      ...(maximum === undefined ? [] : [code`${value} <= ${data(maximum)}`]),
      ...(exclusiveMaximum === undefined ? [] : [code`${value} < ${data(exclusiveMaximum)}`]),
      ...(multipleOf === undefined
        ? []
        : [code`${this.#helper('isMultiple')}(${value}, ${data(multipleOf)})`]),
    ];
  }
}

const formatGuards: Readonly<Record<Format, string>> = {
  date: 'isDate',
  'date-time': 'isDateTime',
  uuid: 'isUuid',
  email: 'isEmail',
  uri: 'isUri',
};

function predefinedGuard(type: Type): string | undefined {
  if (type.kind === 'boolean') return 'isBoolean';
  if ((type.kind !== 'string' && type.kind !== 'number') || Object.keys(type.bounds).length > 0)
    return undefined;
  if (type.kind === 'string') return 'isText';
  return type.integer ? 'isInteger' : 'isNumber';
}

function isPredefined(name: string): boolean {
  return name === 'isText' || name === 'isNumber' || name === 'isInteger' || name === 'isBoolean';
}
