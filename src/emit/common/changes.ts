// Changes to lists and dictionaries that leave the old ones as they are.
import { refuse } from './transaction.js';
import { hasUniqueKeys } from './values.js';

/** The list with one item more, whose key no other has. */
export function withItem<T, K extends keyof T>(
  list: readonly T[],
  key: K,
  item: T,
  at: string,
): readonly T[] {
  if (placeOf(list, key, item[key]) >= 0) refuse('does not fit', at);
  return [...list, item];
}

/** The place of the item that has a key; -1 if there is none. A loop: list methods are slow on frozen lists. */
function placeOf<T, K extends keyof T>(list: readonly T[], key: K, value: T[K]): number {
  for (let i = 0; i < list.length; i++) if ((list[i] as T)[key] === value) return i;
  return -1;
}

/** The list with another item at a place. */
function replaced<T>(list: readonly T[], place: number, item: T): readonly T[] {
  const next = [...list];
  next[place] = item;
  return next;
}

/** A whole number from 0 to `last`; else the action is refused. */
function position(place: number, last: number, at: string): number {
  if (!Number.isInteger(place) || place < 0 || place > last) refuse('does not fit', at);
  return place;
}

/** The list with more items at a place. */
export function insertAt<T>(
  list: readonly T[],
  place: number,
  items: readonly T[],
  at: string,
): readonly T[] {
  const next = [...list];
  next.splice(position(place, list.length, at), 0, ...items);
  return next;
}

/** The list with an item moved; `to` counts after it was taken out. */
export function moved<T>(list: readonly T[], from: number, to: number, at: string): readonly T[] {
  const last = list.length - 1;
  const next = [...list];
  const item = next.splice(position(from, last, at), 1);
  next.splice(position(to, last, at), 0, ...item);
  return next;
}

/** The list with the item that has a key moved; refused where there is none. */
export function movedItem<T, K extends keyof T>(
  list: readonly T[],
  key: K,
  value: T[K],
  to: number,
  at: string,
): readonly T[] {
  const from = placeOf(list, key, value);
  if (from < 0) refuse('nothing stands there', at);
  return moved(list, from, to, at);
}

/** The list without a value that was in it, or with it at the end. */
export function toggled<T>(list: readonly T[], value: T): readonly T[] {
  return list.includes(value) ? list.filter((item) => item !== value) : [...list, value];
}

/** The list with several items put one after the other. */
export function putItems<T, K extends keyof T>(
  list: readonly T[],
  key: K,
  items: readonly T[],
): readonly T[] {
  return items.reduce((before, item) => putItem(before, key, item), list);
}

/** The list with an item in the place of the one with its key, or at the end. */
export function putItem<T, K extends keyof T>(list: readonly T[], key: K, item: T): readonly T[] {
  const place = placeOf(list, key, item[key]);
  return place < 0 ? [...list, item] : replaced(list, place, item);
}

/** The list with the item at a place changed; refused where nothing stands. */
export function changeAt<T>(
  list: readonly T[],
  place: number,
  change: (item: T) => T,
  none: string,
  at: string,
): readonly T[] {
  const item = Number.isInteger(place) && place >= 0 ? list[place] : undefined;
  if (item === undefined) refuse(none, at);
  return replaced(list, place, change(item));
}

/** The list with the item that has a key changed; refused for the reason `none`, if given, where there is none. */
export function changeItem<T, K extends keyof T>(
  list: readonly T[],
  key: K,
  value: T[K],
  change: (item: T) => T,
  none?: string,
  at = '',
): readonly T[] {
  const place = placeOf(list, key, value);
  const item = list[place];
  return item === undefined ? nothingThere(list, none, at) : replaced(list, place, change(item));
}

/** The list without the item that has a key; refused for the reason `none`, if given, where there is none. */
export function withoutItem<T, K extends keyof T>(
  list: readonly T[],
  key: K,
  value: T[K],
  none?: string,
  at = '',
): readonly T[] {
  const place = placeOf(list, key, value);
  if (place < 0) return nothingThere(list, none, at);
  const next = [...list];
  next.splice(place, 1);
  return next;
}

/** The dictionary with the entry of a key changed; refused where there is none. */
export function changeEntry<T>(
  map: Readonly<Record<string, T>>,
  key: string,
  change: (entry: T) => T,
  none: string,
  at: string,
): Readonly<Record<string, T>> {
  if (!Object.hasOwn(map, key)) refuse(none, at);
  return { ...map, [key]: change(map[key] as T) };
}

/** The list, if no two items have the same key; else the action is refused. */
export function requireUnique<T extends object>(
  list: readonly T[],
  key: keyof T & string,
  at: string,
): readonly T[] {
  if (!hasUniqueKeys(list, key)) refuse('does not fit', at);
  return list;
}

/** The list, if some item of it is meant; else the action is refused. */
export function requireItem<T>(
  list: readonly T[],
  isMeant: (item: T) => boolean,
  none: string,
  at: string,
): readonly T[] {
  if (!list.some(isMeant)) refuse(none, at);
  return list;
}

/** The dictionary without an entry; refused for the reason `none`, if given, where there is no such entry. */
export function dropEntry<T>(
  map: Readonly<Record<string, T>>,
  key: string,
  none?: string,
  at = '',
): Readonly<Record<string, T>> {
  if (!Object.hasOwn(map, key)) return nothingThere(map, none, at);
  return Object.fromEntries(Object.entries(map).filter(([name]) => name !== key));
}

/** The object without an optional property; refused for the reason `none`, if given, where it is absent. */
export function dropProperty<T extends object, K extends keyof T>(
  of: T,
  key: K,
  none?: string,
  at = '',
): T | Omit<T, K> {
  if (!Object.hasOwn(of, key)) return nothingThere(of, none, at);
  const rest: Partial<T> = { ...of };
  Reflect.deleteProperty(rest, key);
  return rest as Omit<T, K>;
}

function nothingThere<T>(unchanged: T, none: string | undefined, at: string): T {
  if (none !== undefined) refuse(none, at);
  return unchanged;
}
