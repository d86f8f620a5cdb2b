import type { Size } from './weigh.js';

/** The sizes of a schema's stores in each style. */
export interface Weighing {
  readonly styles: readonly StyleWeight[];
  /** The size of the old store, if one was named. */
  readonly against: (Size & { readonly path: string }) | null;
}

export interface StyleWeight extends Size {
  readonly style: string;
  /** Lines of all files, as they are generated. */
  readonly lines: number;
  /** Minified bytes of the run time. */
  readonly runtime: number;
  /** Minified bytes of each store, with what fits it. */
  readonly stores: Readonly<Record<string, number>>;
  /** The sizes with one option changed. */
  readonly variants: Readonly<Record<Variant, Size>>;
  /** Readers for frameworks, each by itself. */
  readonly readers: Readonly<Record<string, Size>>;
}

/** Options that make stores smaller, as they are written on the command line. */
export const variants = ['--checks never', '--guard never'] as const;
export type Variant = (typeof variants)[number];
