// Values that are computed for each combination of arguments.
import { same } from './values.js';

/** A function that computes once for equal arguments. */
export function perArguments<A extends readonly unknown[], T>(
  compute: (...args: A) => T,
): (...args: A) => T {
  const known = new Map<string, { readonly value: T }>();
  return (...args) => {
    const text = textOf(args);
    const found = known.get(text) ?? { value: compute(...args) };
    known.set(text, found);
    return found.value;
  };
}

/** Gives out the same object for equal arguments again, as long as what there is to give out is equal. */
export function answering<A extends readonly unknown[], T>(): (args: A, value: T) => T {
  const last = new Map<string, T>();
  return (args, value) => {
    const text = textOf(args);
    const before = last.get(text);
    if (before !== undefined && same(before, value)) return before;
    last.set(text, value);
    return value;
  };
}

/** A text that is the same for equal values. */
function textOf(value: unknown): string {
  if (Array.isArray(value)) return `[${value.map(textOf).join()}]`;
  if (typeof value === 'string') return JSON.stringify(value);
  if (typeof value !== 'object' || value === null) return String(value);
  const parts = Object.entries(value).map(
    ([key, part]) => `${JSON.stringify(key)}:${textOf(part)}`,
  );
  return `{${parts.sort().join()}}`;
}
