// What fits: payloads that come in, and what a transaction leaves behind.
import type { BoundedType, ListType, RecordType, ValueType } from './value-types.js';
import { isObject, same } from './values.js';

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

/** Lists that came in and were judged, with the type of their items: those are not judged again when they are stored. */
const judgedLists = new WeakMap<object, ValueType>();

/** Notes the lists of a value that fits: the value itself, or properties of it. */
export function noteJudged(value: unknown, type: ValueType): void {
  if (typeof type !== 'object' || typeof value !== 'object' || value === null) return;
  if ('list' in type) judgedLists.set(value, type.list);
  if (!('fields' in type)) return;
  for (const [name, part] of Object.entries(value)) {
    const own = type.fields[name];
    if (typeof own === 'object' && 'list' in own) judgedLists.set(part as object, own.list);
  }
}

/** Whether the items of a list were judged by this type when it came in. */
export const wasJudged = (list: object, item: ValueType): boolean => judgedLists.get(list) === item;

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
