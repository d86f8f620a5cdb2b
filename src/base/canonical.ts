import { isObject } from './json.js';

/** A text that is the same for equal values, and another for others. */
export function canonicalText(value: unknown): string {
  if (Array.isArray(value)) return `[${value.map(canonicalText).join()}]`;
  if (isObject(value)) {
    const parts = Object.keys(value)
      .sort()
      .map((key) => `${JSON.stringify(key)}:${canonicalText(value[key])}`);
    return `{${parts.join()}}`;
  }
  return typeof value === 'string' ? JSON.stringify(value) : String(value);
}
