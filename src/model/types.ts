import type { Span } from '../base/source.js';
import type { Json } from '../base/json.js';

/** Bounds of a number, as in JSON Schema. */
export interface NumberBounds {
  readonly minimum?: number;
  readonly maximum?: number;
  readonly exclusiveMinimum?: number;
  readonly exclusiveMaximum?: number;
  readonly multipleOf?: number;
}

/** Bounds of a text, in code points, as in JSON Schema. */
export interface StringBounds {
  readonly minLength?: number;
  readonly maxLength?: number;
  readonly format?: Format;
}

/** The formats that a text may be asked to have. */
export const formats = ['date', 'date-time', 'uuid', 'email', 'uri'] as const;
export type Format = (typeof formats)[number];

/** Bounds of a list, as in JSON Schema. */
export interface ListBounds {
  readonly minItems?: number;
  readonly maxItems?: number;
  readonly uniqueItems?: true;
}

/** The type of a value: what the schema says of state and payloads, and what is inferred of expressions. */
export type Type =
  | { readonly kind: 'string'; readonly bounds: StringBounds }
  | {
      readonly kind: 'number';
      readonly integer: boolean;
      readonly bounds: NumberBounds;
      /** False where arithmetic may have made it NaN or infinite. */
      readonly finite: boolean;
    }
  | { readonly kind: 'boolean' }
  | { readonly kind: 'null' }
  /** The value of an optional property, an absent key or a `find` that finds nothing: no JSON value. */
  | { readonly kind: 'absent' }
  | { readonly kind: 'literal'; readonly value: string | number | boolean }
  | ListType
  /** A list of which each item has a type of its own: the entries of a dictionary. Inferred only. */
  | TupleType
  | { readonly kind: 'map'; readonly value: Type }
  | RecordType
  | { readonly kind: 'union'; readonly members: readonly Type[] }
  | { readonly kind: 'named'; readonly name: string }
  /** No value at all: the items of `[]`. */
  | { readonly kind: 'never' }
  /** Something is wrong with it that has been reported: fits everywhere, to avoid problems that follow. */
  | { readonly kind: 'unknown' };

export interface ListType {
  readonly kind: 'list';
  readonly item: Type;
  /** The property by which its items are told apart. */
  readonly key?: string;
  readonly bounds?: ListBounds;
}

export interface TupleType {
  readonly kind: 'tuple';
  readonly items: readonly Type[];
}

export interface RecordType {
  readonly kind: 'record';
  readonly fields: readonly RecordField[];
}

export interface RecordField {
  readonly name: string;
  readonly type: Type;
  readonly optional: boolean;
  readonly about?: string;
}

/** A type under a name. */
export interface NamedType {
  readonly name: string;
  readonly type: Type;
  readonly about: string | undefined;
  /** True if logs and reports show a number in place of its values. */
  readonly secret?: true;
  readonly span: Span;
}

/** The named types of an application. */
export type TypeTable = ReadonlyMap<string, NamedType>;

export const text: Type = { kind: 'string', bounds: {} };
export const number: Type = { kind: 'number', integer: false, bounds: {}, finite: true };
export const integer: Type = { kind: 'number', integer: true, bounds: {}, finite: true };
/** The type of the result of arithmetic: a number that may be NaN or infinite. */
export const computed: Type = { kind: 'number', integer: false, bounds: {}, finite: false };
export const boolean: Type = { kind: 'boolean' };
export const nothing: Type = { kind: 'null' };
export const absent: Type = { kind: 'absent' };
export const never: Type = { kind: 'never' };
export const unknown: Type = { kind: 'unknown' };
export const literal = (value: string | number | boolean): Type => ({ kind: 'literal', value });
export const list = (item: Type): Type => ({ kind: 'list', item });

/** The type behind a name, and behind the name that it stands for, and so on. */
export function resolve(type: Type, types: TypeTable): Type {
  let here = type;
  for (let hops = 0; here.kind === 'named' && hops <= types.size; hops++) {
    here = types.get(here.name)?.type ?? unknown;
  }
  return here.kind === 'named' ? unknown : here;
}

/** The members of a type, names and unions opened: one for what is no union. */
export function membersOf(type: Type, types: TypeTable): readonly Type[] {
  const open = resolve(type, types);
  if (open.kind === 'union') return open.members.flatMap((member) => membersOf(member, types));
  return open.kind === 'never' ? [] : [open];
}

/** The type of what is one of these; doubles are dropped, one member stands for itself. */
export function union(members: readonly Type[]): Type {
  const flat = members.flatMap((member) =>
    member.kind === 'union' ? member.members : member.kind === 'never' ? [] : [member],
  );
  const kept: Type[] = [];
  for (const member of flat) {
    if (member.kind === 'unknown') return unknown;
    if (!kept.some((other) => sameType(other, member))) kept.push(member);
  }
  if (kept.length === 0) return never;
  return kept.length === 1 ? (kept[0] as Type) : { kind: 'union', members: kept };
}

/** True if two types are written alike. */
export function sameType(a: Type, b: Type): boolean {
  return a === b || JSON.stringify(a) === JSON.stringify(b);
}

/** The type without some of its members; a name that has none of them stays a name. */
export function without(type: Type, types: TypeTable, drop: (member: Type) => boolean): Type {
  if (type.kind === 'union')
    return union(type.members.map((member) => without(member, types, drop)));
  const members = membersOf(type, types);
  if (!members.some(drop)) return type;
  return union(members.filter((member) => !drop(member)));
}

/** True if some member of the type is like that. */
export function some(type: Type, types: TypeTable, test: (member: Type) => boolean): boolean {
  return membersOf(type, types).some(test);
}

const structured: ReadonlySet<Type['kind']> = new Set(['list', 'tuple', 'map', 'record']);

/** True if a type has lists, dictionaries or objects among its members. */
export function isStructured(type: Type, types: TypeTable): boolean {
  return some(type, types, ({ kind }) => structured.has(kind));
}

/** The value of a field of this type if nothing is said: `[]`, `{}`, `null`; `undefined` where it must be said. */
export function impliedDefault(type: Type, types: TypeTable): Json | undefined {
  const members = membersOf(type, types);
  if (members.some(({ kind }) => kind === 'null')) return null;
  const [only] = members;
  if (members.length !== 1 || only === undefined) return undefined;
  if (only.kind === 'list') return (only.bounds?.minItems ?? 0) > 0 ? undefined : [];
  return only.kind === 'map' ? {} : undefined;
}

/** The types that a type is made of; a named one says no more than its name. */
export function partsOfType(type: Type): readonly Type[] {
  switch (type.kind) {
    case 'list':
      return [type.item];
    case 'tuple':
      return type.items;
    case 'map':
      return [type.value];
    case 'record':
      return type.fields.map((field) => field.type);
    case 'union':
      return type.members;
    case 'named':
    case 'string':
    case 'number':
    case 'boolean':
    case 'null':
    case 'absent':
    case 'literal':
    case 'never':
    case 'unknown':
      return [];
  }
}

/** True if a type, or one that it is made of at any depth, is such a one; named types are gone into. */
export function hasWithin(
  type: Type,
  types: TypeTable,
  isOne: (type: Type) => boolean,
  seen: readonly string[] = [],
): boolean {
  if (isOne(type)) return true;
  if (type.kind !== 'named')
    return partsOfType(type).some((part) => hasWithin(part, types, isOne, seen));
  const target = types.get(type.name)?.type;
  const isNew = target !== undefined && !seen.includes(type.name);
  return isNew && hasWithin(target, types, isOne, [...seen, type.name]);
}

/** The named types that a type mentions, in the order of their places. */
export const namesIn = (type: Type): readonly string[] =>
  type.kind === 'named' ? [type.name] : partsOfType(type).flatMap(namesIn);

/** True if a value of this type has lists in it. */
export const hasLists = (type: Type, types: TypeTable): boolean =>
  hasWithin(type, types, ({ kind }) => kind === 'list' || kind === 'tuple');
