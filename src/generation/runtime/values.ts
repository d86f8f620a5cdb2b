// Values as plain JSON data: equality, freezing, and what expressions compute with.

/** True if a value is an object that is neither `null` nor a list. */
export function isObject(value: unknown): value is Record<string, unknown> {
  return typeof value === 'object' && value !== null && !Array.isArray(value);
}

/** True if an object, from whatever page or frame, is made of its properties alone. */
export function isPlain(value: object): boolean {
  const prototype: unknown = Object.getPrototypeOf(value);
  if (prototype === Object.prototype || prototype === null) return true;
  return isObject(prototype) && Object.getPrototypeOf(prototype) === null;
}

/**
 * Equal by value: lists item by item, plain objects property by property, NaN equal to NaN; sets, maps and dates by what
 * is in them, in their order. Other objects are equal to themselves only.
 */
export function same(a: unknown, b: unknown): boolean {
  if (a === b) return true;
  if (typeof a !== 'object' || typeof b !== 'object' || a === null || b === null)
    return a !== a && b !== b;
  if (Array.isArray(a)) return Array.isArray(b) && sameItems(a, b);
  if (Array.isArray(b)) return false;
  if (!isPlain(a) || !isPlain(b)) return sameContent(a, b);
  const keys = Object.keys(a);
  for (const key of keys)
    if (!Object.hasOwn(b, key) || !same(a[key as keyof object], b[key as keyof object]))
      return false;
  return keys.length === Object.keys(b).length;
}

function sameItems(a: readonly unknown[], b: readonly unknown[]): boolean {
  if (a.length !== b.length) return false;
  for (let i = 0; i < a.length; i++) if (!same(a[i], b[i])) return false;
  return true;
}

function sameContent(a: object, b: object): boolean {
  for (const type of [Set, Map])
    if (a instanceof type) return b instanceof type && sameItems([...a], [...b]);
  return a instanceof Date && b instanceof Date && same(a.getTime(), b.getTime());
}

/** Gives a value that is equal to the one before as that same object. */
export function keeper<T>(): (value: T) => T {
  let last: { readonly value: T } | undefined;
  return (value) => {
    if (last === undefined || !same(last.value, value)) last = { value };
    return last.value;
  };
}

/** Freezes lists and plain objects through and through. What is frozen already has been frozen like this. */
export function freeze<T>(value: T): T {
  if (typeof value !== 'object' || value === null || Object.isFrozen(value)) return value;
  if (!Array.isArray(value) && !isPlain(value)) return value;
  Object.freeze(value);
  for (const part of Object.values(value)) freeze(part);
  return value;
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

/** A dictionary of what a function gives for each item; of several with one key the last counts. */
export function toMap<T, const V>(
  items: readonly T[],
  keyOf: (item: T) => string,
  valueOf: (item: T) => V,
): Readonly<Record<string, V>> {
  return Object.fromEntries(items.map((item) => [keyOf(item), valueOf(item)]));
}

/** A time in milliseconds since 1970 as ISO 8601 in UTC; no text outside what a date can be. */
export function isoTime(ms: number): string {
  const time = new Date(ms);
  return Number.isNaN(time.getTime()) ? '' : time.toISOString();
}

/** The day of a time in UTC, as ISO 8601. */
export function isoDay(ms: number): string {
  return isoTime(ms).replace(/T.*/, '');
}
