// Payloads that come as text, as form fields give it.
import { isMeant } from './judging-unions.js';
import { takeIn } from './taking-in.js';
import type { ValueType } from './value-types.js';
import { isObject } from './values.js';

/** What may be given for a value: text in the place of numbers, booleans and nothing. */
export type FromText<T> = T extends number | boolean | null
  ? T | string
  : T extends string
    ? T
    : { readonly [K in keyof T]: FromText<T[K]> };

const decimal = /^\s*[+-]?(\d+\.?\d*|\.\d+)(e[+-]?\d+)?\s*$/i;

/** A copy of a value in which texts are replaced by what the type wants in their places. */
export const fromText = (value: unknown, type: ValueType): unknown => meant(takeIn(value), type);

function meant(value: unknown, type: ValueType): unknown {
  if (typeof value === 'string') return meaningOf(value, kindsOf(type));
  if ('later' in type) return meant(value, type.later());
  if ('maybe' in type) return meant(value, type.maybe);
  if ('oneOf' in type) {
    const own = type.oneOf.find((member) => isMeant(value, member, true));
    return own === undefined ? value : meant(value, own);
  }
  if ('list' in type && Array.isArray(value)) return value.map((item) => meant(item, type.list));
  if (!isObject(value)) return value;
  const partOf = (name: string): ValueType | undefined => {
    if ('map' in type) return type.map;
    return 'fields' in type && Object.hasOwn(type.fields, name) ? type.fields[name] : undefined;
  };
  return Object.fromEntries(
    Object.entries(value).map(([name, part]) => {
      const wanted = partOf(name);
      return [name, wanted === undefined ? part : meant(part, wanted)];
    }),
  );
}

/** The kinds of scalars that a type takes. */
function kindsOf(type: ValueType): readonly string[] {
  if ('later' in type) return kindsOf(type.later());
  if ('type' in type) return [type.type];
  if ('maybe' in type) return ['null', ...kindsOf(type.maybe)];
  if ('oneOf' in type) return type.oneOf.flatMap(kindsOf);
  const values = 'enum' in type ? type.enum : 'const' in type ? [type.const] : [];
  return values.map((one) => (one === null ? 'null' : typeof one));
}

function meaningOf(text: string, kinds: readonly string[]): unknown {
  if (kinds.includes('string')) return text;
  if (kinds.includes('null') && text === '') return null;
  const isNumber = kinds.includes('number') || kinds.includes('integer');
  if (isNumber && decimal.test(text) && Number.isFinite(Number(text))) return Number(text);
  return kinds.includes('boolean') && /^(true|false)$/.test(text) ? text === 'true' : text;
}
