// What fits: payloads that come in, and what a transaction leaves behind.
import { isObject, same } from './values.js';

/** What a value must be, in the words of the schema. */
export type ValueType =
  | 'string'
  | 'number'
  | 'integer'
  | 'boolean'
  | 'null'
  | TextType
  | NumberType
  | { readonly const: string | number | boolean }
  | { readonly enum: readonly (string | number | boolean | null)[] }
  | { readonly maybe: ValueType }
  | { readonly oneOf: readonly ValueType[] }
  | ListType
  | { readonly map: ValueType }
  | RecordType
  /** A type that stands further down. */
  | (() => ValueType);

interface TextType {
  readonly type: 'string';
  readonly minLength?: number;
  readonly maxLength?: number;
  readonly format?: (text: string) => boolean;
}

interface NumberType {
  readonly type: 'number' | 'integer';
  readonly minimum?: number;
  readonly maximum?: number;
  readonly exclusiveMinimum?: number;
  readonly exclusiveMaximum?: number;
  readonly multipleOf?: number;
}

export interface ListType {
  readonly list: ValueType;
  /** The property by which items are told apart. */
  readonly by?: string;
  readonly minItems?: number;
  readonly maxItems?: number;
  readonly uniqueItems?: boolean;
}

interface RecordType {
  readonly fields: Readonly<Record<string, ValueType>>;
  readonly optional?: readonly string[];
}

/** What the payload of an action must be. */
export interface PayloadCheck {
  readonly payload?: ValueType;
  /** The payload may come as text, as form fields give it. */
  readonly from?: 'text';
  /** What it is if none is given. */
  readonly default?: unknown;
}

/** What fits the fields of a store, or its one value, and the payloads of its actions. */
export interface StoreChecks {
  readonly state?: ValueType;
  readonly actions?: Readonly<Record<string, PayloadCheck>>;
}

type Test = (value: unknown) => boolean;

/** The type itself, where a name or a late reference stands for it. */
export function resolved(type: ValueType): Exclude<ValueType, () => ValueType> {
  return typeof type === 'function' ? resolved(type()) : type;
}

const scalars = {
  string: (value: unknown) => typeof value === 'string',
  number: (value: unknown) => Number.isFinite(value),
  integer: (value: unknown) => Number.isInteger(value),
  boolean: (value: unknown) => typeof value === 'boolean',
  null: (value: unknown) => value === null,
};

/** Tests are made once for each type. */
const tests = new WeakMap<object, Test>();

/** Whether a value fits a type. */
export function fits(value: unknown, type: ValueType): boolean {
  return testOf(type)(value);
}

function testOf(type: ValueType): Test {
  if (typeof type === 'string') return scalars[type];
  let test = tests.get(type);
  if (test === undefined) {
    // A type may be part of itself.
    tests.set(type, (value) => testOf(type)(value));
    tests.set(type, (test = makeTest(resolved(type))));
  }
  return test;
}

function makeTest(type: Exclude<ValueType, () => ValueType>): Test {
  if (typeof type === 'string') return scalars[type];
  if ('type' in type) return type.type === 'string' ? textTest(type) : numberTest(type);
  if ('const' in type) return (value) => value === type.const;
  if ('enum' in type) return (value) => (type.enum as readonly unknown[]).includes(value);
  if ('maybe' in type) {
    const test = testOf(type.maybe);
    return (value) => value === null || test(value);
  }
  if ('oneOf' in type) {
    const members = type.oneOf.map(testOf);
    return (value) => members.some((test) => test(value));
  }
  if ('list' in type) {
    const test = testOf(type.list);
    return (value) => {
      if (!Array.isArray(value)) return false;
      for (const item of value) if (!test(item)) return false;
      return fitsAsList(value, type) && secondWithKey(value, type.by) < 0;
    };
  }
  return 'map' in type ? mapTest(testOf(type.map)) : recordTest(type);
}

function textTest({ minLength, maxLength, format }: TextType): Test {
  return (value) => {
    if (typeof value !== 'string') return false;
    if (minLength !== undefined && lengthOf(value) < minLength) return false;
    if (maxLength !== undefined && lengthOf(value) > maxLength) return false;
    return format === undefined || format(value);
  };
}

function numberTest(type: NumberType): Test {
  const isKind = scalars[type.type];
  const { minimum, maximum, exclusiveMinimum, exclusiveMaximum, multipleOf } = type;
  return (value) => {
    if (!isKind(value)) return false;
    const number = value as number;
    if (minimum !== undefined && number < minimum) return false;
    if (maximum !== undefined && number > maximum) return false;
    if (exclusiveMinimum !== undefined && number <= exclusiveMinimum) return false;
    if (exclusiveMaximum !== undefined && number >= exclusiveMaximum) return false;
    return multipleOf === undefined || isMultiple(number, multipleOf);
  };
}

function mapTest(test: Test): Test {
  return (value) => {
    if (!isObject(value)) return false;
    for (const key of Object.keys(value))
      if (key === '__proto__' || !test(value[key])) return false;
    return true;
  };
}

function recordTest({ fields, optional = [] }: RecordType): Test {
  const parts = Object.keys(fields).map((name) => ({
    name,
    test: testOf(fields[name] as ValueType),
    mayMiss: optional.includes(name),
  }));
  return (value) => {
    if (!isObject(value)) return false;
    let left = Object.keys(value).length;
    for (const { name, test, mayMiss } of parts) {
      if (!Object.hasOwn(value, name)) {
        if (!mayMiss) return false;
        continue;
      }
      left -= 1;
      const part = value[name];
      if (!test(part) && !(mayMiss && part === undefined)) return false;
    }
    return left === 0;
  };
}

/** Whether a list, whatever its items, is as long as it must be, and has none twice that it must not. */
export function fitsAsList(
  list: readonly unknown[],
  { minItems, maxItems, uniqueItems }: ListType,
): boolean {
  if (minItems !== undefined && list.length < minItems) return false;
  if (maxItems !== undefined && list.length > maxItems) return false;
  return (
    uniqueItems !== true ||
    list.every((item, i) => !list.slice(0, i).some((other) => same(item, other)))
  );
}

/** The place of the first item whose key another has before it; -1 if there is none. */
export function secondWithKey(list: readonly unknown[], key: string | undefined): number {
  if (key === undefined) return -1;
  const seen = new Set<unknown>();
  for (let i = 0; i < list.length; i++) {
    const item = list[i];
    if (!isObject(item)) continue;
    const own = item[key];
    if (seen.has(own)) return i;
    seen.add(own);
  }
  return -1;
}

/** The length of a text in code points. */
function lengthOf(text: string): number {
  let length = text.length;
  for (let i = 1; i < text.length; i++)
    if ((text.charCodeAt(i) & 0xfc00) === 0xdc00 && (text.charCodeAt(i - 1) & 0xfc00) === 0xd800)
      length -= 1;
  return length;
}

/** Whether a number is a multiple of another, without tolerance. */
function isMultiple(value: number, of: number): boolean {
  const times = value / of;
  return times === Number.parseInt(String(times), 10);
}

/** Where a value does not fit, as a JSON Pointer that begins with `at`, that of the value; `undefined` if it fits. */
export function misfit(value: unknown, type: ValueType, at: string): string | undefined {
  if (fits(value, type)) return undefined;
  const meant = meantBy(value, type);
  const inside = (part: unknown, wanted: ValueType, name: string | number) =>
    misfit(part, wanted, `${at}/${escaped(name)}`);
  if (Array.isArray(value) && meant !== undefined && 'list' in meant && fitsAsList(value, meant)) {
    for (let i = 0; i < value.length; i++) {
      const found = inside(value[i], meant.list, i);
      if (found !== undefined) return found;
    }
    return `${at}/${secondWithKey(value, meant.by)}`;
  }
  if (!isObject(value) || meant === undefined) return at;
  if ('map' in meant) {
    for (const key of Object.keys(value)) {
      const found = key === '__proto__' ? `${at}/${key}` : inside(value[key], meant.map, key);
      if (found !== undefined) return found;
    }
  }
  if (!('fields' in meant)) return at;
  const { fields, optional = [] } = meant;
  for (const name of Object.keys(fields)) {
    const isThere = Object.hasOwn(value, name);
    if (!isThere && optional.includes(name)) continue;
    const found = isThere
      ? inside(value[name], fields[name] as ValueType, name)
      : `${at}/${escaped(name)}`;
    if (found !== undefined) return found;
  }
  const extra = Object.keys(value).find((name) => !Object.hasOwn(fields, name));
  return extra === undefined ? at : `${at}/${escaped(extra)}`;
}

const escaped = (name: string | number): string =>
  String(name).replaceAll('~', '~0').replaceAll('/', '~1');

type Structure = ListType | RecordType | { readonly map: ValueType };

/** The one type of several that a value is meant to be of, by its kind and by properties that are constants. */
function meantBy(value: unknown, type: ValueType): Structure | undefined {
  const candidates = membersOf(type).filter((member): member is Structure => {
    if (typeof member === 'string') return false;
    if ('list' in member) return Array.isArray(value);
    if (!isObject(value)) return false;
    return 'map' in member || ('fields' in member && hasConstants(value, member, true));
  });
  return candidates.length === 1 ? candidates[0] : undefined;
}

type Member = Exclude<ValueType, (() => ValueType) | { maybe: unknown } | { oneOf: unknown }>;

function membersOf(type: ValueType): readonly Member[] {
  const open = resolved(type);
  if (typeof open === 'string') return [open];
  if ('maybe' in open) return [...membersOf(open.maybe), 'null'];
  return 'oneOf' in open ? open.oneOf.flatMap(membersOf) : [open];
}

/** Whether the constant properties of a type are those of a value; all, or those that are texts. */
function hasConstants(
  value: Readonly<Record<string, unknown>>,
  { fields, optional = [] }: RecordType,
  all: boolean,
): boolean {
  return Object.keys(fields).every((name) => {
    const type = fields[name] as ValueType;
    if (typeof type !== 'object' || !('const' in type) || optional.includes(name)) return true;
    return (!all && typeof type.const !== 'string') || value[name] === type.const;
  });
}

/** What may be given for a value: text in the place of numbers, booleans and nothing. */
export type FromText<T> = T extends number | boolean | null
  ? T | string
  : T extends string
    ? T
    : { readonly [K in keyof T]: FromText<T[K]> };

const decimal = /^\s*[+-]?(\d+\.?\d*|\.\d+)(e[+-]?\d+)?\s*$/i;

/** A value in which texts are replaced by what the type wants in their places. */
export function fromText(value: unknown, type: ValueType): unknown {
  const members = membersOf(type);
  if (typeof value === 'string') return meaningOf(value, new Set(members.flatMap(kindsOf)));
  for (const member of members) {
    if (typeof member === 'string') continue;
    if ('list' in member && Array.isArray(value))
      return value.map((item) => fromText(item, member.list));
  }
  if (!isObject(value)) return value;
  let map: ValueType | undefined;
  let fields: Readonly<Record<string, ValueType>> | undefined;
  for (const member of members) {
    if (typeof member === 'string') continue;
    if ('map' in member) map ??= member.map;
    if ('fields' in member && fields === undefined && hasConstants(value, member, false))
      fields = member.fields;
  }
  const partOf = (name: string): ValueType | undefined =>
    fields === undefined ? map : Object.hasOwn(fields, name) ? fields[name] : undefined;
  const entries = Object.entries(value).map(([name, part]) => {
    const wanted = partOf(name);
    return [name, wanted === undefined ? part : fromText(part, wanted)] as const;
  });
  return Object.fromEntries(entries);
}

/** The kinds of scalars that a type takes. */
function kindsOf(member: Member): readonly string[] {
  if (typeof member === 'string') return [member];
  if ('type' in member) return [member.type];
  if ('const' in member) return [typeof member.const];
  if ('enum' in member) return member.enum.map((value) => (value === null ? 'null' : typeof value));
  return [];
}

function meaningOf(text: string, kinds: ReadonlySet<string>): unknown {
  if (kinds.has('string')) return text;
  if (kinds.has('null') && text === '') return null;
  const isNumber = kinds.has('number') || kinds.has('integer');
  if (isNumber && decimal.test(text) && Number.isFinite(Number(text))) return Number(text);
  if (kinds.has('boolean') && (text === 'true' || text === 'false')) return text === 'true';
  return text;
}
