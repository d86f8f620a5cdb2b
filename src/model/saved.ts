import type { Span } from '../diagnostics/source.js';
import type { Expr } from './expressions.js';

/** What of a store is kept in a storage that outlasts it. */
export interface Saved {
  /** The fields that are kept, in schema order. */
  readonly fields: readonly string[];
  /** The key under which they stand there. */
  readonly key: string;
  /** The version of what is kept; `undefined` if the fields stand there alone. */
  readonly version: number | undefined;
  /** How the present fields are made of those of earlier versions. */
  readonly from: readonly OlderVersion[];
  readonly span: Span;
}

/** An earlier version, and the fields that are not taken from it by their names: its own are readable as `old`. */
export interface OlderVersion {
  readonly version: number;
  readonly fields: readonly { readonly field: string; readonly value: Expr }[];
}
