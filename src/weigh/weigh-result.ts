import type { Size } from './weigh.js';

/** What the stores of a schema weigh in each style. */
export interface Weighing {
  readonly styles: readonly StyleWeight[];
  /** What the old store weighs, if one was named. */
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
  /** What it would weigh with one option changed. */
  readonly variants: Readonly<Record<Variant, Size>>;
  /** Readers for frameworks, each by itself. */
  readonly readers: Readonly<Record<string, Size>>;
}

/** Options that make stores smaller, as they are written on the command line. */
export const variants = ['--checks never', '--guard never'] as const;
export type Variant = (typeof variants)[number];
