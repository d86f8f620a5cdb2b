/** Where what a participant did is not what the log says. */
export interface Mismatch {
  readonly participant: string;
  /** The line in the file, from 1. */
  readonly line: number;
  readonly turn: number | undefined;
  /** What the line is about: `deck.admit`. */
  readonly do: string;
  readonly kind: string;
  readonly what: 'outcome' | 'state' | 'calls';
  /** JSON Pointer into the state; empty for the others. */
  readonly at: string;
  readonly logged: unknown;
  readonly shown: unknown;
  /** How many other places of the state differ too. */
  readonly otherPlaces: number;
}

/** Mismatches of one cause: the first, and where it shows again. */
export interface MismatchFound {
  readonly first: Mismatch;
  /** The fewest lines that show the first, done from the state before them; `undefined` if that was not found. */
  readonly window: { readonly from: number; readonly to: number } | undefined;
  /** How often it showed in all. */
  readonly times: number;
  /** The lines where it showed again, the first few. */
  readonly lines: readonly number[];
}

/** What tells causes apart: the action, and the place without positions and keys of lists. */
export const causeOf = ({ do: action, kind, what, at }: Mismatch): string =>
  [action, kind, what, at.replace(/\/\d+(?=\/|$)/g, '/*')].join(' ');
