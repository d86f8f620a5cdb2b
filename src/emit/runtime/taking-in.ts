// What comes in belongs to the stores from then on: it is copied, as plain JSON data.
import { isObject } from './values.js';

/** What stands for a part that is no JSON data: it fits nothing. */
const notJson = Symbol('not JSON data');

const isScalar = (value: unknown): boolean =>
  value === null ||
  typeof value === 'string' ||
  typeof value === 'boolean' ||
  Number.isFinite(value);

/** A copy of a value as plain JSON data, without properties that are undefined. */
export function takeIn(value: unknown, around: readonly unknown[] = []): unknown {
  if (isScalar(value)) return value;
  if (typeof value !== 'object' || around.includes(value)) return notJson;
  const inner = [...around, value];
  if (Array.isArray(value)) {
    const items: unknown[] = [];
    // A loop: holes are no JSON data, and list methods pass them over.
    for (let i = 0; i < value.length; i++)
      items.push(isScalar(value[i]) ? value[i] : takeIn(value[i], inner));
    return items;
  }
  const prototype: unknown = Object.getPrototypeOf(value);
  if (isObject(prototype) && Object.getPrototypeOf(prototype) !== null) return notJson;
  if (Object.getOwnPropertySymbols(value).length > 0) return notJson;
  const copy: Record<string, unknown> = { ...value };
  let isPartial = false;
  for (const key of Object.keys(copy)) {
    const part = copy[key];
    if (part === undefined) isPartial = true;
    else if (!isScalar(part) && key !== '__proto__') copy[key] = takeIn(part, inner);
  }
  return isPartial ? withoutAbsent(copy) : copy;
}

const withoutAbsent = (value: object): object =>
  Object.fromEntries(Object.entries(value).filter(([, part]) => part !== undefined));
