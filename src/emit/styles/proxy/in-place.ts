// Finding what an action changes in place.
import { refuse } from '../../common/transaction.js';
import { hasUniqueKeys } from '../../common/values.js';

/** The place of the item that has a key; refused where there is none. */
export function placeOf<T, K extends keyof T>(
  list: readonly T[],
  key: K,
  value: T[K],
  none: string,
  at: string,
): number {
  const place = list.findIndex((item) => item[key] === value);
  if (place < 0) refuse(none, at);
  return place;
}

/** A position in a list where something stands; else refused. */
export function placeIn(list: readonly unknown[], place: number, none: string, at: string): number {
  if (!Number.isInteger(place) || place < 0 || place >= list.length) refuse(none, at);
  return place;
}

/** The item that has a key; refused where there is none. */
export function itemOf<T extends object, K extends keyof T>(
  list: readonly T[],
  key: K,
  value: T[K],
  none: string,
  at: string,
): T {
  const item = list.find((other) => other[key] === value);
  if (item === undefined) refuse(none, at);
  return item;
}

/** The item at a position; refused where nothing stands. */
export function itemIn<T>(list: readonly T[], place: number, none: string, at: string): T {
  const item = list[placeIn(list, place, none, at)];
  if (item === undefined) refuse(none, at);
  return item;
}

/** The entry of a dictionary; refused where there is none. */
export function entryIn<T>(
  map: Readonly<Record<string, T>>,
  key: string,
  none: string,
  at: string,
): T {
  const entry = map[entryKey(map, key, none, at)];
  if (entry === undefined) refuse(none, at);
  return entry;
}

/** A key of a dictionary under which something stands; else refused. */
export function entryKey(map: object, key: string, none: string, at: string): string {
  if (!Object.hasOwn(map, key)) refuse(none, at);
  return key;
}

/** Adds an item whose key no other has. */
export function addItem<T, K extends keyof T>(list: T[], key: K, item: T, at: string): void {
  if (list.some((other) => other[key] === item[key])) refuse('does not fit', at);
  list.push(item);
}

/** Adds several items at the end. */
export function addItems<T>(list: T[], items: readonly T[]): void {
  for (const item of [...items]) list.push(item);
}

/** Adds items at a place. */
export function insertItems<T>(list: T[], place: number, items: readonly T[], at: string): void {
  list.splice(positionIn(place, list.length, at), 0, ...items);
}

/** A whole number from 0 to `last`; else the action is refused. */
function positionIn(place: number, last: number, at: string): number {
  if (!Number.isInteger(place) || place < 0 || place > last) refuse('does not fit', at);
  return place;
}

/** Moves an item; `to` counts after it was taken out. */
export function moveItem<T>(list: T[], from: number, to: number, at: string): void {
  const last = list.length - 1;
  positionIn(from, last, at);
  list.splice(positionIn(to, last, at), 0, ...list.splice(from, 1));
}

/** Moves the item that has a key; refused where there is none. */
export function moveKeyed<T, K extends keyof T>(
  list: T[],
  key: K,
  value: T[K],
  to: number,
  at: string,
): void {
  moveItem(list, placeOf(list, key, value, 'nothing stands there', at), to, at);
}

/** Takes a value out of a list if it is in, else adds it. */
export function toggleItem<T>(list: T[], value: T): void {
  if (!list.includes(value)) list.push(value);
  else for (let i = list.indexOf(value); i >= 0; i = list.indexOf(value)) list.splice(i, 1);
}

/** Puts several items one after the other. */
export function putItems<T, K extends keyof T>(list: T[], key: K, items: readonly T[]): void {
  for (const item of [...items]) putItem(list, key, item);
}

/** Puts an item in the place of the one with its key, or at the end. */
export function putItem<T, K extends keyof T>(list: T[], key: K, item: T): void {
  const place = list.findIndex((other) => other[key] === item[key]);
  if (place < 0) list.push(item);
  else list[place] = item;
}

/** Refuses a list in which two items have one key. */
export function requireUnique(list: readonly object[], key: string, at: string): void {
  if (!hasUniqueKeys(list, key)) refuse('does not fit', at);
}
