import { isObject, type Json } from '../base/json.js';

/** A value as JSON; what JSON cannot say is named: `{ "absent": true }`, `"NaN"`, `"a function"`; a property that is there: `"undefined"`. */
export function namedJson(value: unknown): Json {
  if (value === undefined) return { absent: true };
  if (value === null || typeof value === 'boolean' || typeof value === 'string') return value;
  if (typeof value === 'number') return Number.isFinite(value) ? value : String(value);
  if (Array.isArray(value)) return value.map(namedJson);
  if (isObject(value))
    return Object.fromEntries(
      Object.entries(value).map(([key, part]) => [
        key,
        part === undefined ? 'undefined' : namedJson(part),
      ]),
    );
  return `a ${typeof value}`;
}
