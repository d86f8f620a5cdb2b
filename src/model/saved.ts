import { isObject } from '../base/json.js';
import type { Span } from '../base/source.js';
import type { Expr } from './expressions.js';

/** The part of a store that is kept in a storage that outlasts it. */
export interface Saved {
  /** The fields that are kept, in schema order. */
  readonly fields: readonly string[];
  /** The key under which they stand there. */
  readonly key: string;
  /** The version of what is kept; `undefined` if the fields stand there alone. */
  readonly version: number | undefined;
  /** The present fields, made of those of earlier versions. */
  readonly from: readonly OlderVersion[];
  /** The data that the application kept before it had a schema; not given if nothing is said of it, so that logs know the schema. */
  readonly old?: OldSaved;
  readonly span: Span;
}

/** Data of an earlier application: its keys, each with a name, and the fields that are made of it; it is readable as `old`. */
export interface OldSaved {
  readonly keys: readonly OldKey[];
  readonly fields: OlderVersion['fields'];
}

/** A key under which something was kept: JSON data, or a text as it is. */
export interface OldKey {
  readonly name: string;
  readonly key: string;
  readonly isText: boolean;
}

/** An earlier version, and the fields that are not taken from it by their names: its own are readable as `old`. */
export interface OlderVersion {
  readonly version: number;
  readonly fields: readonly { readonly field: string; readonly value: Expr }[];
}

/** The version that data is of, 0 if it says none, and its fields. */
export function savedVersion(
  { version, fields }: Pick<Saved, 'version' | 'fields'>,
  data: unknown,
): readonly [version: number, fields: unknown] {
  // Fields of a store without a version may look like what is saved with one.
  const isAlike = version === undefined && fields.includes('version') && fields.includes('fields');
  return hasVersion(data) && !isAlike ? [data.version, data.fields] : [0, data];
}

export const hasVersion = (
  data: unknown,
): data is { readonly version: number; readonly fields: object } =>
  isObject(data) && Number.isInteger(data.version) && isObject(data.fields);

/** True if a text is of a later version than what is saved now: the application was put back to an earlier one. */
export function isLaterVersion(saved: Saved, text: string): boolean {
  try {
    const [version] = savedVersion(saved, JSON.parse(text));
    return version > (saved.version ?? 0);
  } catch {
    return false;
  }
}

/** The expressions that make fields of what was kept before: of earlier versions, and of what was there before a schema. */
export const madeOf = ({ from, old }: Saved): readonly Expr[] =>
  [...from, ...(old === undefined ? [] : [old])].flatMap(({ fields }) =>
    fields.map(({ value }) => value),
  );
