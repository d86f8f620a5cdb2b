/**
 * What a participant file exports by default: stores that are there already, such as those of an application
 * that is being ported, so that `leeshore compare --with FILE` can hold them against the schema.
 *
 * The tables say what is where: the names are those of the schema, the functions reach into the old code. What
 * is left out of a table is not compared, and the report says so.
 */
export interface BroughtParticipant {
  /** What the report calls it. */
  readonly name: string;
  /**
   * Whether it refuses what does not fit its type, payloads and values to be stored, as the schema does. If not,
   * actions that the schema refuses for that are not sent.
   */
  readonly refusesMisfits?: boolean;
  /** Whether parts that do not change stay the same objects; compared only if so. */
  readonly keepsIdentity?: boolean;
  /**
   * Whether what was read earlier stays as it was; true if not given. A store that changes its data in place says
   * false: then old snapshots are not compared.
   */
  readonly keepsSnapshots?: boolean;
  /**
   * Actions with `accepts: text` that take text and nothing else, as the handler of a form field does:
   * `['deck.stretch']`. They are sent no numbers, booleans or nulls.
   */
  readonly textOnly?: readonly string[];
  /** Makes the stores, each time anew: nothing of an earlier run may be left in them. */
  readonly create: (environment: BroughtEnvironment) => BroughtStores;
}

/** Where generated names, time and chance come from: the same for all that are compared. */
export interface BroughtEnvironment {
  readonly newId: () => string;
  /** Milliseconds since 1970. */
  readonly now: () => number;
  /** A fraction in [0, 1). */
  readonly random: () => number;
}

/** What became of an action: nothing is said, it was done, or it was refused (with the reason as the schema has it). */
export type BroughtOutcome =
  undefined | boolean | 'done' | 'refused' | { readonly refused: string };

/** Running stores, as tables of functions by store and name. */
export interface BroughtStores {
  /** What an action returns that is no outcome, counts as nothing said. */
  readonly actions: Readonly<Record<string, Readonly<Record<string, (payload: never) => unknown>>>>;
  /** Reads each field, as JSON data; a store that is one value has a function in place of a table. */
  readonly state: Readonly<
    Record<string, (() => unknown) | Readonly<Record<string, () => unknown>>>
  >;
  /** Computes each derived value; those with parameters take them. */
  readonly derived?: Readonly<
    Record<string, Readonly<Record<string, (...args: never[]) => unknown>>>
  >;
  /**
   * Watches a field or derived value (`'deck.freeM'`), a store (`'deck'`) or everything (`'*'`): `changed` is
   * to be called once after each action that changed it. Returns what stops it.
   */
  readonly watch?: Readonly<Record<string, (changed: BroughtChanged) => () => void>>;
  /** The run is over. */
  readonly close?: () => void;
}

export type BroughtChanged = (now: unknown, before: unknown) => void;
