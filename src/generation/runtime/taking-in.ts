// What comes in belongs to the stores from then on: it is copied, as plain JSON data.
import { isPlain } from './values.js';

/** What stands for a part that is no JSON data: it fits nothing. */
const notJson = Symbol('not JSON data');

const isScalar = (value: unknown): boolean =>
  value === null ||
  typeof value === 'string' ||
  typeof value === 'boolean' ||
  Number.isFinite(value);

/** A copy of a value as plain JSON data, without properties that are undefined, whatever its type. */
export function takeIn(value: unknown, around: readonly unknown[] = []): unknown {
  if (isScalar(value)) return value;
  if (typeof value !== 'object' || around.includes(value)) return notJson;
  const inner = [...around, value];
  if (Array.isArray(value)) return Array.from(value, (item: unknown) => takeIn(item, inner));
  const copy = shallow(value);
  if (copy === undefined) return notJson;
  for (const key of Object.keys(copy)) {
    const part = copy[key];
    if (part !== undefined && key !== '__proto__') copy[key] = takeIn(part, inner);
  }
  return withoutAbsent(copy);
}

/** A copy of an object that is made of its properties alone; `undefined` of anything else. */
export function shallow(value: unknown): Record<string, unknown> | undefined {
  if (typeof value !== 'object' || value === null || Array.isArray(value)) return undefined;
  if (!isPlain(value) || Object.getOwnPropertySymbols(value).length > 0) return undefined;
  return { ...value };
}

/** An object without properties that are undefined; itself if it has none. */
export function withoutAbsent(value: Record<string, unknown>): Record<string, unknown> {
  const entries = Object.entries(value);
  const there = entries.filter(([, part]) => part !== undefined);
  return there.length === entries.length ? value : Object.fromEntries(there);
}
