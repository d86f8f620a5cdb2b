// Equality, sharing and checks of plain JSON data.

/** Equal by value: lists item by item, objects property by property, NaN equal to NaN. */
export function same(a: unknown, b: unknown): boolean {
  if (a === b) return true;
  if (!isObject(a) || !isObject(b)) return a !== a && b !== b;
  if (Array.isArray(a)) return Array.isArray(b) && sameItems(a, b);
  if (Array.isArray(b)) return false;
  const keys = Object.keys(a);
  for (const key of keys) if (!Object.hasOwn(b, key) || !same(a[key], b[key])) return false;
  return keys.length === Object.keys(b).length;
}

function sameItems(a: readonly unknown[], b: readonly unknown[]): boolean {
  if (a.length !== b.length) return false;
  for (let i = 0; i < a.length; i++) if (!same(a[i], b[i])) return false;
  return true;
}

/**
 * What comes after `before`: the very same object if `after` equals it; else `after`, with the parts that
 * equal what had their place in `before` replaced by those very objects, so many levels down. What is new
 * is frozen if wanted.
 */
export function keep<T>(before: T, after: T, guard: boolean, levels?: number): T;
export function keep(before: unknown, after: unknown, guard: boolean, levels = 1): unknown {
  if (before === after) return before;
  if (levels > 0 && isObject(before) && isObject(after)) {
    if (!Array.isArray(after))
      return Array.isArray(before)
        ? guarded(after, guard)
        : keepProperties(before, after, guard, levels - 1);
    if (Array.isArray(before)) return keepItems(before, after, guard, levels - 1);
  }
  return same(before, after) ? before : guarded(after, guard);
}

function keepProperties(
  before: Readonly<Record<string, unknown>>,
  after: Readonly<Record<string, unknown>>,
  guard: boolean,
  levels: number,
): unknown {
  const keys = Object.keys(after);
  let equal = keys.length === Object.keys(before).length;
  let kept = after;
  for (const key of keys) {
    const now = after[key];
    const old = Object.hasOwn(before, key) ? before[key] : undefined;
    if (Object.is(now, old)) continue;
    const part = keep(old, now, guard, levels);
    if (part !== old) equal = false;
    if (!Object.is(part, now)) kept = { ...kept, [key]: part };
  }
  if (equal) return before;
  return guard ? Object.freeze(kept) : kept;
}

function keepItems(
  before: readonly unknown[],
  after: readonly unknown[],
  guard: boolean,
  levels: number,
): unknown {
  let equal = before.length === after.length;
  let kept: unknown[] | undefined;
  for (let i = 0; i < after.length; i++) {
    const now = after[i];
    const old = before[i];
    if (Object.is(now, old)) continue;
    const part = keep(old, now, guard, levels);
    if (part !== old) equal = false;
    if (!Object.is(part, now)) (kept ??= [...after])[i] = part;
  }
  if (equal) return before;
  return guard ? Object.freeze(kept ?? after) : (kept ?? after);
}

const guarded = <T>(value: T, guard: boolean): T => (guard ? freeze(value) : value);

/** Freezes a value through and through. What is frozen already has been frozen like this. */
export function freeze<T>(value: T): T {
  if (!isObject(value) || Object.isFrozen(value)) return value;
  Object.freeze(value);
  if (Array.isArray(value)) for (const item of value) freeze(item);
  else for (const key of Object.keys(value)) freeze(value[key]);
  return value;
}

function isObject(value: unknown): value is Record<string, unknown> {
  return typeof value === 'object' && value !== null;
}

/** An own entry of a dictionary, if both are there. */
export function entry<T>(
  of: Readonly<Record<string, T>> | null | undefined,
  key: string,
): T | undefined {
  return of && Object.hasOwn(of, key) ? of[key] : undefined;
}

/** The sum of the items, or of what is measured of each. */
export function sum(items: readonly number[]): number;
export function sum<T>(items: readonly T[], measure: (item: T, position: number) => number): number;
export function sum(
  items: readonly unknown[],
  measure: (item: never, position: number) => number = (item) => item,
): number {
  let total = 0;
  for (let i = 0; i < items.length; i++) total += measure(items[i] as never, i);
  return total;
}

/** The items in ascending order of what the first function gives, then the next; NaN comes last. */
export function sortBy<T>(
  items: readonly T[],
  ...by: readonly ((item: T) => number | string)[]
): readonly T[] {
  return [...items].sort((a, b) => {
    for (const order of by) {
      const difference = compared(order(a), order(b));
      if (difference !== 0) return difference;
    }
    return 0;
  });
}

function compared(a: number | string, b: number | string): number {
  if (a === b) return 0;
  if (Number.isNaN(a)) return Number.isNaN(b) ? 0 : 1;
  return Number.isNaN(b) || a < b ? -1 : 1;
}

/** The items by what a function gives for each, in the order in which the keys come. */
export function groupBy<T>(
  items: readonly T[],
  keyOf: (item: T) => string,
): Readonly<Record<string, readonly T[]>> {
  const groups = new Map<string, T[]>();
  for (const item of items) {
    const key = keyOf(item);
    const group = groups.get(key);
    if (group === undefined) groups.set(key, [item]);
    else group.push(item);
  }
  return Object.fromEntries(groups);
}

/** Whether a value passes a check. */
export const passes = (value: unknown, check: (value: unknown) => boolean): boolean => check(value);

export const isText = (value: unknown): value is string => typeof value === 'string';
export const isNumber = (value: unknown): value is number => Number.isFinite(value);
export const isInteger = (value: unknown): value is number => Number.isInteger(value);
export const isBoolean = (value: unknown): value is boolean => typeof value === 'boolean';

/** The length of a text in code points. */
export function lengthOf(text: string): number {
  let length = text.length;
  for (let i = 1; i < text.length; i++) if (isPair(text, i)) length -= 1;
  return length;
}

/** Whether a character of two code units ends there. */
const isPair = (text: string, at: number): boolean =>
  (text.charCodeAt(at) & 0xfc00) === 0xdc00 && (text.charCodeAt(at - 1) & 0xfc00) === 0xd800;

/** Whether a number is a multiple of another, without tolerance. */
export function isMultiple(value: number, of: number): boolean {
  const times = value / of;
  return times === Number.parseInt(String(times), 10);
}

export function isListOf<T>(
  value: unknown,
  fits: (item: unknown) => item is T,
): value is readonly T[] {
  if (!Array.isArray(value)) return false;
  for (const item of value) if (!fits(item)) return false;
  return true;
}

export function isMapOf<T>(
  value: unknown,
  fits: (entry: unknown) => entry is T,
): value is Readonly<Record<string, T>> {
  return (
    isObject(value) &&
    !Array.isArray(value) &&
    Object.keys(value).every((key) => isEntryKey(key) && fits(value[key]))
  );
}

/** An object that has some properties, and may have others, of any type. */
type WithProperties<Required extends string, Optional extends string> = {
  readonly [Name in Required]: unknown;
} & { readonly [Name in Optional]?: unknown };

/** Whether a value is an object with these properties and no others. */
export function isRecord<Required extends string, Optional extends string = never>(
  value: unknown,
  required: readonly Required[],
  optional: readonly Optional[] = [],
): value is WithProperties<Required, Optional> {
  if (!isObject(value) || Array.isArray(value)) return false;
  for (const key of required) if (!Object.hasOwn(value, key)) return false;
  let known = required.length;
  for (const key of optional) if (Object.hasOwn(value, key)) known += 1;
  return Object.keys(value).length === known;
}

/** Whether a text can be a key of a dictionary. */
export const isEntryKey = (key: unknown): boolean => key !== '__proto__';

/** Whether no two items have the same key. */
export function hasUniqueKeys(items: readonly object[], key: string): boolean {
  return new Set(items.map((item) => isObject(item) && item[key])).size === items.length;
}

/** Whether no two items are equal. */
export function isDistinct(items: readonly unknown[]): boolean {
  return items.every((item, i) => !items.slice(0, i).some((other) => same(item, other)));
}

const misfit = Symbol('no JSON data');

/**
 * A value that comes in, as plain JSON data without undefined properties; `undefined` if it is none. Lists
 * and objects are copied: who gave them may go on changing them.
 */
export function takeIn(value: unknown): unknown {
  const taken = plain(value, nothing);
  return taken === misfit ? undefined : taken;
}

const nothing: readonly object[] = [];

function plain(value: unknown, around: readonly object[]): unknown {
  if (!isObject(value)) return isScalar(value) ? value : misfit;
  if (around.includes(value)) return misfit;
  if (Array.isArray(value)) {
    const items: unknown[] = [];
    for (const item of value as readonly unknown[]) {
      const taken = isScalar(item) ? item : plain(item, [...around, value]);
      if (taken === misfit) return misfit;
      items.push(taken);
    }
    return items;
  }
  const prototype: unknown = Object.getPrototypeOf(value);
  if (isObject(prototype) && Object.getPrototypeOf(prototype) !== null) return misfit;
  if (Object.getOwnPropertySymbols(value).length > 0) return misfit;
  const copy = { ...value };
  for (const key of Object.keys(copy)) {
    const part = copy[key];
    if (isScalar(part)) continue;
    if (part === undefined) return plain(withoutAbsent(copy), around);
    copy[key] = plain(part, [...around, value]);
    if (copy[key] === misfit) return misfit;
  }
  return copy;
}

const isScalar = (value: unknown): boolean =>
  value === null || isText(value) || isBoolean(value) || isNumber(value);

const withoutAbsent = (value: object): object =>
  Object.fromEntries(Object.entries(value).filter(([, part]) => part !== undefined));
