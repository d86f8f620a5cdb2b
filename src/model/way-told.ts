/** Of which kind a way is that code can go: what is so if it is gone. */
export const wayKinds = [
  'function',
  'condition true',
  'condition false',
  'left true',
  'left false',
  'value given',
  'value missing',
  'case',
  'loop',
  'catch',
] as const;
export type WayKind = (typeof wayKinds)[number];

/** A way that code of a participant can go, where it stands. */
export interface WayTold {
  /** Its number in a search. */
  readonly way: number;
  readonly participant: string;
  readonly kind: WayKind;
  readonly file: string;
  /** From 1, as the column. */
  readonly line: number;
  readonly column: number;
  /** The ways around it: if one of these was never gone, it says nothing more that this was not either. */
  readonly within: readonly number[];
  /** True if it was gone when the code was loaded. */
  readonly isGone: boolean;
}
