// Equality, sharing and checks of plain JSON data.

/** Equal by value: lists item by item, objects property by property, NaN equal to NaN. */
export function same(a: unknown, b: unknown): boolean {
  if (a === b) return true;
  if (!isObject(a) || !isObject(b)) return a !== a && b !== b;
  if (Array.isArray(a) !== Array.isArray(b)) return false;
  const keys = Object.keys(a);
  return (
    keys.length === Object.keys(b).length &&
    keys.every((key) => Object.hasOwn(b, key) && same(a[key], b[key]))
  );
}

/** `after`, with the parts that equal what had their place in `before` replaced by those very objects. */
export function keep<T>(before: T, after: T): T;
export function keep(before: unknown, after: unknown): unknown {
  if (before === after || !isObject(before) || !isObject(after)) {
    return same(before, after) ? before : after;
  }
  if (Array.isArray(before) && Array.isArray(after)) return keepItems(before, after);
  if (Array.isArray(before) || Array.isArray(after)) return after;
  const keys = Object.keys(after);
  let equal = keys.length === Object.keys(before).length;
  let kept = after;
  for (const key of keys) {
    const there = Object.hasOwn(before, key);
    const part = there ? keep(before[key], after[key]) : after[key];
    if (!there || part !== before[key]) equal = false;
    if (part !== after[key]) {
      if (kept === after) kept = { ...after };
      kept[key] = part;
    }
  }
  return equal ? before : kept;
}

function keepItems(before: readonly unknown[], after: readonly unknown[]): readonly unknown[] {
  let equal = before.length === after.length;
  let kept: unknown[] | undefined;
  for (let i = 0; i < after.length; i++) {
    const [old, now] = [before[i], after[i]];
    if (old === now) continue;
    const part = i < before.length ? keep(old, now) : now;
    if (part !== old) equal = false;
    if (part !== now) (kept ??= [...after])[i] = part;
  }
  return equal ? before : (kept ?? after);
}

/** Freezes a value through and through. */
export function freeze<T>(value: T): T {
  if (isObject(value) && !Object.isFrozen(value)) {
    Object.freeze(value);
    for (const key of Object.keys(value)) freeze(value[key]);
  }
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
  return items.toSorted((a, b) => {
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
export const lengthOf = (text: string): number => Array.from(text).length;

/** Whether a number is a multiple of another, without tolerance. */
export function isMultiple(value: number, of: number): boolean {
  const times = value / of;
  return times === Number.parseInt(String(times), 10);
}

export function isListOf<T>(
  value: unknown,
  fits: (item: unknown) => item is T,
): value is readonly T[] {
  return Array.isArray(value) && value.every(fits);
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

/** Whether a value is an object with these properties and no others. */
export function isRecord(
  value: unknown,
  required: readonly string[],
  optional: readonly string[] = [],
): value is Readonly<Record<string, unknown>> {
  return (
    isObject(value) &&
    !Array.isArray(value) &&
    required.every((key) => Object.hasOwn(value, key)) &&
    Object.keys(value).every((key) => required.includes(key) || optional.includes(key))
  );
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

/** A value that comes in, as plain JSON data without undefined properties; `undefined` if it is none. */
export function takeIn(value: unknown): unknown {
  const taken = plain(value, []);
  return taken === misfit ? undefined : taken;
}

function plain(value: unknown, around: readonly object[]): unknown {
  if (value === null || isText(value) || isBoolean(value) || isNumber(value)) return value;
  if (!isObject(value) || around.includes(value)) return misfit;
  const inner = [...around, value];
  if (Array.isArray(value)) {
    const items = Array.from(value, (item, i) => (i in value ? plain(item, inner) : misfit));
    return items.includes(misfit) ? misfit : items;
  }
  const prototype: unknown = Object.getPrototypeOf(value);
  if (isObject(prototype) && Object.getPrototypeOf(prototype) !== null) return misfit;
  if (Object.getOwnPropertySymbols(value).length > 0) return misfit;
  const entries = Object.entries(value)
    .filter(([, part]) => part !== undefined)
    .map(([key, part]): [string, unknown] => [key, plain(part, inner)]);
  return entries.some(([, part]) => part === misfit) ? misfit : Object.fromEntries(entries);
}
