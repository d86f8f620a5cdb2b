// Changes to lists and dictionaries that leave the old ones as they are.
import { missing, refuse } from './transaction.js';

type Map<T> = Readonly<Record<string, T>>;

/** The place of the first item that has a key; -1 if there is none. A loop: list methods are slow on frozen lists. */
function placeOf<T, K extends keyof T>(list: readonly T[], by: K, key: T[K]): number {
  for (let i = 0; i < list.length; i++) if ((list[i] as T)[by] === key) return i;
  return -1;
}

/** The list with another item at a place. */
function replaced<T>(list: readonly T[], place: number, item: T): readonly T[] {
  const next = [...list];
  next[place] = item;
  return next;
}

/** The list with the first item of that key changed; without a reason it stays as it is if there is none. */
export function withItem<T, K extends keyof T>(
  list: readonly T[],
  by: K,
  key: T[K],
  change: (item: T) => T,
  otherwise?: string,
): readonly T[] {
  const place = placeOf(list, by, key);
  if (place >= 0) return replaced(list, place, change(list[place] as T));
  return otherwise === undefined ? list : refuse(otherwise);
}

/** The list with the item at a place changed; refused where there is none. */
export function withItemAt<T>(
  list: readonly T[],
  place: number,
  change: (item: T) => T,
  otherwise: string = missing,
): readonly T[] {
  const isPlace = Number.isInteger(place) && place >= 0 && place < list.length;
  return isPlace ? replaced(list, place, change(list[place] as T)) : refuse(otherwise);
}

/** The list without the first item of that key; without a reason it stays as it is if there is none. */
export function withoutItem<T, K extends keyof T>(
  list: readonly T[],
  by: K,
  key: T[K],
  otherwise?: string,
): readonly T[] {
  const place = placeOf(list, by, key);
  if (place >= 0) return [...list.slice(0, place), ...list.slice(place + 1)];
  return otherwise === undefined ? list : refuse(otherwise);
}

/** The list with each item that is meant changed; refused for a reason, if one is given, where none is. */
export function withItems<T>(
  list: readonly T[],
  isMeant: (item: T) => unknown,
  change: (item: T) => T,
  otherwise?: string,
): readonly T[] {
  let isAny = false;
  const next = list.map((item) => {
    if (!isMeant(item)) return item;
    isAny = true;
    return change(item);
  });
  if (isAny) return next;
  return otherwise === undefined ? list : refuse(otherwise);
}

/** The list without the items that are meant; refused for a reason where none is. */
export function withoutItems<T>(
  list: readonly T[],
  isMeant: (item: T) => unknown,
  otherwise: string,
): readonly T[] {
  const next = list.filter((item) => !isMeant(item));
  return next.length < list.length ? next : refuse(otherwise);
}

/** The list with an item in the place of the one with its key, or at the end. */
export function putItem<T, K extends keyof T>(list: readonly T[], by: K, item: T): readonly T[] {
  const place = placeOf(list, by, item[by]);
  return place < 0 ? [...list, item] : replaced(list, place, item);
}

/** The list with several items put one after the other. */
export function putItems<T, K extends keyof T>(
  list: readonly T[],
  by: K,
  items: readonly T[],
): readonly T[] {
  return items.reduce((before, item) => putItem(before, by, item), list);
}

/** Refuses the action if a place is no whole number from 0 to `last`. */
function position(place: number, last: number): void {
  if (!Number.isInteger(place) || place < 0 || place > last) refuse('out of range');
}

/** The list with more items at a place. */
export function insertAt<T>(list: readonly T[], place: number, items: readonly T[]): readonly T[] {
  position(place, list.length);
  return [...list.slice(0, place), ...items, ...list.slice(place)];
}

/** The list with the item at a place moved; `to` counts after it was taken out. */
export function moveAt<T>(list: readonly T[], from: number, to: number): readonly T[] {
  const last = list.length - 1;
  position(from, last);
  position(to, last);
  const next = [...list];
  next.splice(to, 0, ...next.splice(from, 1));
  return next;
}

/** The list with the first item of that key moved; refused where there is none. */
export function moveItem<T, K extends keyof T>(
  list: readonly T[],
  by: K,
  key: T[K],
  to: number,
): readonly T[] {
  const from = placeOf(list, by, key);
  return from < 0 ? refuse(missing) : moveAt(list, from, to);
}

/** The list without a value that was in it, or with it at the end. */
export function toggled<T>(list: readonly T[], value: T): readonly T[] {
  return list.includes(value) ? list.filter((item) => item !== value) : [...list, value];
}

/** A key under which a dictionary can have an entry; else the action is refused. */
export function entryKey(key: string): string {
  if (key === '__proto__') refuse('does not fit');
  return key;
}

/** The dictionary with the entry of a key changed; refused where there is none. */
export function withEntry<T>(
  map: Map<T>,
  key: string,
  change: (entry: T) => T,
  otherwise: string = missing,
): Map<T> {
  return Object.hasOwn(map, key) ? { ...map, [key]: change(map[key] as T) } : refuse(otherwise);
}

/** The dictionary without an entry; without a reason it stays as it is if there is none. */
export function withoutEntry<T>(map: Map<T>, key: string, otherwise?: string): Map<T> {
  if (Object.hasOwn(map, key))
    return Object.fromEntries(Object.entries(map).filter(([name]) => name !== key));
  return otherwise === undefined ? map : refuse(otherwise);
}

/** The object without an optional property; without a reason it stays as it is if it has none. */
export function withoutProperty<T extends object, K extends keyof T>(
  of: T,
  name: K,
  otherwise?: string,
): T {
  if (!Object.hasOwn(of, name)) return otherwise === undefined ? of : refuse(otherwise);
  const rest = { ...of };
  Reflect.deleteProperty(rest, name);
  return rest;
}

/** The dictionary with what is meant changed. */
export function withEntries<T>(
  map: Readonly<Record<string, T>>,
  isMeant: (key: string, value: T) => unknown,
  change: (key: string, value: T) => T,
): Readonly<Record<string, T>> {
  return Object.fromEntries(
    Object.entries(map).map(([key, value]) => [
      key,
      isMeant(key, value) ? change(key, value) : value,
    ]),
  );
}

/** The dictionary without what is meant. */
export function withoutEntries<T>(
  map: Readonly<Record<string, T>>,
  isMeant: (key: string, value: T) => unknown,
): Readonly<Record<string, T>> {
  return Object.fromEntries(Object.entries(map).filter(([key, value]) => !isMeant(key, value)));
}
