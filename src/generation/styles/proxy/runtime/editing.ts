// Finding what an action changes in place, and changing lists.
import { missing, refuse } from '../../../runtime/transaction.js';
import { keepOnly } from './working-copies.js';

/** What was found; refused if that is nothing. */
export function found<T>(thing: T | undefined, otherwise: string = missing): T {
  return thing ?? refuse(otherwise);
}

/** A position in a list where something stands; else refused. */
export function placeIn(list: readonly unknown[], place: number, otherwise = missing): number {
  if (!Number.isInteger(place) || place < 0 || place >= list.length) refuse(otherwise);
  return place;
}

/** The place of the first item of that key; refused where there is none. */
export function placeOf<T, K extends keyof T>(
  list: readonly T[],
  by: K,
  key: T[K],
  otherwise: string = missing,
): number {
  const place = list.findIndex((item) => item[by] === key);
  return place < 0 ? refuse(otherwise) : place;
}

/** A key of a dictionary under which something stands; else refused. */
export function keyIn(map: object, key: string, otherwise: string = missing): string {
  return Object.hasOwn(map, key) ? key : refuse(otherwise);
}

/** A key under which a dictionary can have an entry; else refused. */
export function entryKey(key: string): string {
  return key === '__proto__' ? refuse('does not fit') : key;
}

/** A whole number from 0 to `last`; else refused. */
function position(place: number, last: number): number {
  if (!Number.isInteger(place) || place < 0 || place > last) refuse('out of range');
  return place;
}

/** Adds items at a place. */
export function insertAt<T>(list: T[], place: number, items: readonly T[]): void {
  list.splice(position(place, list.length), 0, ...items);
}

/** Moves the item at a place; `to` counts after it was taken out. */
export function moveAt<T>(list: T[], from: number, to: number): void {
  const last = list.length - 1;
  position(from, last);
  list.splice(position(to, last), 0, ...list.splice(from, 1));
}

/** Moves the first item of that key; refused where there is none. */
export function moveItem<T, K extends keyof T>(list: T[], by: K, key: T[K], to: number): void {
  moveAt(list, placeOf(list, by, key), to);
}

/** Takes a value out of a list if it is in, else adds it. */
export function toggle<T>(list: T[], value: T): void {
  if (!keepOnly(list, (item) => item !== value)) list.push(value);
}

/** Puts an item in the place of the one with its key, or at the end. */
export function putItem<T, K extends keyof T>(list: T[], by: K, item: T): void {
  const place = list.findIndex((other) => other[by] === item[by]);
  if (place < 0) list.push(item);
  else list[place] = item;
}

/** Puts several items one after the other. */
export function putItems<T, K extends keyof T>(list: T[], by: K, items: readonly T[]): void {
  for (const item of [...items]) putItem(list, by, item);
}

/** Takes out the first item of that key; without a reason nothing happens if there is none. */
export function removeItem<T, K extends keyof T>(
  list: T[],
  by: K,
  key: T[K],
  otherwise?: string,
): void {
  const place = list.findIndex((item) => item[by] === key);
  if (place >= 0) list.splice(place, 1);
  else if (otherwise !== undefined) refuse(otherwise);
}

/** Takes out the items that are meant; refused where none is. */
export function removeItems<T>(list: T[], isMeant: (item: T) => unknown, otherwise: string): void {
  if (!keepOnly(list, (item) => !isMeant(item))) refuse(otherwise);
}

/** Changes the items that are meant: all is computed before any is changed. */
export function changeItems<T extends object>(
  list: T[],
  isMeant: (item: T) => unknown,
  change: (item: T) => Partial<T>,
  otherwise?: string,
): void {
  const changes = list.filter(isMeant).map((item) => ({ item, now: change(item) }));
  if (changes.length === 0 && otherwise !== undefined) refuse(otherwise);
  for (const { item, now } of changes) Object.assign(item, now);
}

/** Takes an entry out of a dictionary, or an optional property off an object; refused where there is none. */
export function drop(from: object, key: string, otherwise: string): void {
  Reflect.deleteProperty(from, keyIn(from, key, otherwise));
}

/** Changes what a dictionary holds where it is meant: all is computed before any is changed. */
export function changeEntries<T extends object>(
  map: Record<string, T>,
  isMeant: (key: string, value: T) => unknown,
  change: (key: string, value: T) => Partial<T>,
): void {
  const meant = Object.entries(map).filter(([key, value]) => isMeant(key, value));
  const changes = meant.map(([key, value]) => ({ value, now: change(key, value) }));
  for (const { value, now } of changes) Object.assign(value, now);
}

/** Takes out of a dictionary what is meant. */
export function removeEntries<T>(
  map: Record<string, T>,
  isMeant: (key: string, value: T) => unknown,
): void {
  const meant = Object.entries(map).filter(([key, value]) => isMeant(key, value));
  for (const [key] of meant) Reflect.deleteProperty(map, key);
}
