// Payloads that come as text, as form fields give it.
import { accept, refuse } from './transaction.js';
import { takeIn } from './values.js';

/** What may be given for a value: text in the place of numbers, booleans and nothing. */
export type FromText<T> = T extends number | boolean | null
  ? T | string
  : T extends string
    ? T
    : { readonly [K in keyof T]: FromText<T[K]> };

/** The payload, converted where it is text that stands for something else, if it fits; else the action is refused. */
export function acceptText<T>(
  payload: unknown,
  convert: (value: unknown) => unknown,
  fits: (value: unknown) => value is T,
  action: string,
  otherwise?: T,
): T {
  if (payload === undefined) return accept(payload, fits, action, otherwise);
  const taken = takeIn(payload);
  if (taken === undefined) refuse('does not fit', `${action}.payload`);
  return accept(convert(taken), fits, action);
}

const decimal = /^\s*[+-]?(\d+\.?\d*|\.\d+)(e[+-]?\d+)?\s*$/i;

/** A number in decimal notation. */
export const toNumber = (value: unknown): unknown =>
  typeof value === 'string' && decimal.test(value) && Number.isFinite(Number(value))
    ? Number(value)
    : value;

export const toBoolean = (value: unknown): unknown =>
  value === 'true' ? true : value === 'false' ? false : value;

/** Nothing for an empty text. */
export const toNull = (value: unknown): unknown => (value === '' ? null : value);

export const eachItem = (value: unknown, convert: (item: unknown) => unknown): unknown =>
  Array.isArray(value) ? value.map((item: unknown) => convert(item)) : value;

export const eachEntry = (value: unknown, convert: (entry: unknown) => unknown): unknown =>
  isPlain(value)
    ? Object.fromEntries(Object.entries(value).map(([key, entry]) => [key, convert(entry)]))
    : value;

/** Converts some properties of an object, if others are what they are for it. */
export function eachField(
  value: unknown,
  converts: Readonly<Record<string, (part: unknown) => unknown>>,
  constants: Readonly<Record<string, unknown>> = {},
): unknown {
  if (!isPlain(value)) return value;
  if (Object.entries(constants).some(([key, constant]) => value[key] !== constant)) return value;
  const entries = Object.entries(value).map(([key, part]) => {
    const convert = Object.hasOwn(converts, key) ? converts[key] : undefined;
    return [key, convert === undefined ? part : convert(part)] as const;
  });
  return Object.fromEntries(entries);
}

function isPlain(value: unknown): value is Readonly<Record<string, unknown>> {
  return typeof value === 'object' && value !== null && !Array.isArray(value);
}
