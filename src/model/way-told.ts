/** A way that code of a participant can go, where it stands. */
export interface WayTold {
  /** Its number in a search. */
  readonly way: number;
  readonly participant: string;
  readonly file: string;
  /** From 1, as the column. */
  readonly line: number;
  readonly column: number;
  /** What is so if the way is gone: `the condition holds`. */
  readonly says: string;
  /** The ways around it: if one of these was never gone, it says nothing more that this was not either. */
  readonly within: readonly number[];
}
