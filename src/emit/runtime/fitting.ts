// What fits: payloads that come in, and what a transaction leaves behind.
import { isObject, same } from './values.js';

/** What a value must be, in the words of the schema. */
export type ValueType =
  | 'string'
  | 'number'
  | 'integer'
  | 'boolean'
  | 'null'
  | BoundedType
  | { readonly const: string | number | boolean }
  | { readonly enum: readonly (string | number | boolean | null)[] }
  | { readonly maybe: ValueType }
  | { readonly oneOf: readonly ValueType[] }
  | ListType
  | { readonly map: ValueType }
  | RecordType
  /** A type that stands further down. */
  | (() => ValueType);

/** A text or a number, and its bounds. */
interface BoundedType {
  readonly type: 'string' | 'number' | 'integer';
  readonly minLength?: number;
  readonly maxLength?: number;
  readonly format?: (text: string) => boolean;
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

export interface RecordType {
  readonly fields: Readonly<Record<string, ValueType>>;
  readonly optional?: readonly string[];
}

/** What the payload of an action must be. */
export interface PayloadCheck {
  readonly payload?: ValueType;
  /** Takes off properties that the type does not have. */
  readonly extra?: (value: unknown, type: ValueType) => unknown;
  /** Converts what comes as text, as form fields give it. */
  readonly from?: (value: unknown, type: ValueType) => unknown;
  /** Where it is not judged: takes off properties that are undefined. */
  readonly tidy?: (value: unknown) => unknown;
  /** What it is if none is given. */
  readonly default?: unknown;
}

// <tasks>
/** What the payload of a task must be, and what comes back. */
export interface TaskCheck extends PayloadCheck {
  readonly result?: ValueType;
  /** What comes one after the other. */
  readonly results?: ValueType;
  /** What a rejection carries. */
  readonly error?: ValueType;
  /** Whether properties that the type does not have are taken off. */
  readonly dropsExtra?: boolean;
}

// </tasks>
/** What fits the fields of a store, or its one value, and the payloads of its actions. */
export interface StoreChecks {
  readonly state?: ValueType;
  readonly actions?: Readonly<Record<string, PayloadCheck>>;
  // <tasks>
  readonly tasks?: Readonly<Record<string, TaskCheck>>;
  // </tasks>
  // <begins>
  /** What fits what it begins with, where nothing else is judged. */
  readonly kept?: ValueType;
  // </begins>
}

/** Whether a value fits a type. */
export const fits = (value: unknown, type: ValueType): boolean => misfit(value, type) === undefined;

/**
 * Where a value does not fit, as the rest of a JSON Pointer: `''` for the value itself; `undefined` if it fits. A value
 * comes before its parts, items go by their places, properties in the order of the type; unknown ones, and second items
 * with a key, come last.
 */
export function misfit(value: unknown, type: ValueType): string | undefined {
  if (typeof type === 'string') return fitsScalar(value, type) ? undefined : '';
  if (typeof type === 'function') return misfit(value, type());
  if ('fields' in type) return misfitInRecord(value, type);
  if ('type' in type) return fitsScalar(value, type.type) && isWithin(value, type) ? undefined : '';
  if ('list' in type) return misfitInList(value, type);
  if ('enum' in type) return (type.enum as readonly unknown[]).includes(value) ? undefined : '';
  if ('maybe' in type) return value === null ? undefined : misfit(value, type.maybe);
  if ('const' in type) return value === type.const ? undefined : '';
  if ('map' in type) return misfitInMap(value, type.map);
  const found = type.oneOf.map((member) => misfit(value, member));
  if (found.includes(undefined)) return undefined;
  // Of several types one may be meant: by the kind of the value, and by properties that are constants.
  const [meant, ...others] = found.filter((_, i) => isMeant(value, type.oneOf[i] as ValueType));
  return others.length > 0 ? '' : (meant ?? '');
}

const within = (name: string | number, rest: string | undefined): string | undefined =>
  rest === undefined
    ? undefined
    : `/${String(name).replaceAll('~', '~0').replaceAll('/', '~1')}${rest}`;

function misfitInRecord(value: unknown, { fields, optional }: RecordType): string | undefined {
  if (!isObject(value)) return '';
  let known = 0;
  for (const name in fields) {
    const part = value[name];
    const isThere = part !== undefined || Object.hasOwn(value, name);
    if (isThere) known += 1;
    if (part !== undefined || optional?.includes(name) !== true) {
      const found = isThere ? misfit(part, fields[name] as ValueType) : '';
      if (found !== undefined) return within(name, found);
    }
  }
  const names = Object.keys(value);
  if (names.length === known) return undefined;
  return within(names.find((name) => !Object.hasOwn(fields, name)) ?? '', '');
}

function misfitInMap(value: unknown, type: ValueType): string | undefined {
  if (!isObject(value)) return '';
  for (const key of Object.keys(value)) {
    const found = key === '__proto__' ? '' : misfit(value[key], type);
    if (found !== undefined) return within(key, found);
  }
  return undefined;
}

function misfitInList(value: unknown, type: ListType): string | undefined {
  if (!Array.isArray(value) || !fitsAsList(value, type)) return '';
  for (let i = 0; i < value.length; i++) {
    const found = misfit(value[i], type.list);
    if (found !== undefined) return within(i, found);
  }
  const second = secondWithKey(value, type.by);
  return second < 0 ? undefined : within(second, '');
}

function fitsScalar(value: unknown, type: string): boolean {
  if (type === 'integer') return Number.isInteger(value);
  if (type === 'null') return value === null;
  return typeof value === type && (type !== 'number' || Number.isFinite(value));
}

function isWithin(value: unknown, type: BoundedType): boolean {
  if (typeof value === 'string') {
    const { minLength = 0, maxLength = Infinity, format } = type;
    const length = minLength > 0 || maxLength < Infinity ? lengthOf(value) : 0;
    return length >= minLength && length <= maxLength && (format === undefined || format(value));
  }
  const number = value as number;
  const { minimum, maximum, exclusiveMinimum, exclusiveMaximum, multipleOf } = type;
  if (minimum !== undefined && number < minimum) return false;
  if (maximum !== undefined && number > maximum) return false;
  if (exclusiveMinimum !== undefined && number <= exclusiveMinimum) return false;
  if (exclusiveMaximum !== undefined && number >= exclusiveMaximum) return false;
  // Without tolerance.
  const times = number / (multipleOf ?? 1);
  return multipleOf === undefined || times === Number.parseInt(String(times), 10);
}

/** The length of a text in code points. */
function lengthOf(text: string): number {
  let length = text.length;
  for (let i = 1; i < text.length; i++)
    if ((text.charCodeAt(i) & 0xfc00) === 0xdc00 && (text.charCodeAt(i - 1) & 0xfc00) === 0xd800)
      length -= 1;
  return length;
}

/** Whether a list, whatever its items, is as long as it must be, and has none twice that it must not. */
export function fitsAsList(
  list: readonly unknown[],
  { minItems = 0, maxItems = Infinity, uniqueItems }: ListType,
): boolean {
  if (list.length < minItems || list.length > maxItems) return false;
  return (
    uniqueItems !== true ||
    list.every((item, i) => !list.slice(0, i).some((other) => same(item, other)))
  );
}

/** The place of the first item whose key another has before it; -1 if there is none. */
export function secondWithKey(list: readonly unknown[], by: string | undefined): number {
  const seen = new Set<unknown>();
  if (by !== undefined)
    for (let i = 0; i < list.length; i++) {
      const item = list[i];
      if (!isObject(item)) continue;
      if (seen.has(item[by])) return i;
      seen.add(item[by]);
    }
  return -1;
}

/** Whether a type is the kind of list or object that a value is; `isText` if constants may still be texts. */
export function isMeant(value: unknown, type: ValueType, isText = false): boolean {
  if (typeof type === 'function') return isMeant(value, type(), isText);
  if (typeof type === 'string') return false;
  if ('maybe' in type) return isMeant(value, type.maybe, isText);
  if ('oneOf' in type) return type.oneOf.some((member) => isMeant(value, member, isText));
  if ('list' in type) return Array.isArray(value);
  if (!isObject(value)) return false;
  return (
    'map' in type ||
    ('fields' in type &&
      Object.entries(type.fields).every(([name, field]) => {
        const isTag =
          typeof field === 'object' && 'const' in field && type.optional?.includes(name) !== true;
        return !isTag || value[name] === field.const || (isText && typeof field.const !== 'string');
      }))
  );
}
