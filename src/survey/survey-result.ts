/** What a place does with a member. */
export const useKinds = ['read', 'write', 'call', 'type', 'whole'] as const;
export type UseKind = (typeof useKinds)[number];

/** What can go wrong where the new stores are used. */
export type SlipKind =
  'unknown-name' | 'wrong-payload' | 'copied-out' | 'changed-outside' | 'never-stopped';

/** A file that could not be read, and why. */
export interface NotRead {
  readonly path: string;
  readonly reason: string;
  /** The framework whose compiler is not installed; not given for any other reason. */
  readonly framework?: string;
}

/** What is surveyed; all paths are absolute. */
export interface SurveyRequest {
  /** The modules of the application. */
  readonly modules: readonly string[];
  /** What is known by now not to be readable. */
  readonly notRead?: readonly NotRead[] | undefined;
  /** The modules of the old store. */
  readonly old: readonly string[];
  /** The file `index` of the generated stores. */
  readonly newIndex?: string | undefined;
  /** The participant file, for what old names mean in the schema. */
  readonly participant?: string | undefined;
  /** Told of each module before it is looked at. */
  readonly begin?: ((module: string, number: number) => void) | undefined;
  /** The folder that the paths of the result are relative to. */
  readonly folder: string;
}

/** A place in a module: line and column count from 1. */
export interface SurveyPlace {
  readonly module: string;
  readonly line: number;
  readonly column: number;
}

/** A place that still uses the old store. */
export interface PlaceLeft extends SurveyPlace {
  /** `Terminal.arrive`. */
  readonly member: string;
  readonly kind: UseKind;
  /** The line, without the space around it. */
  readonly text: string;
  /** What to write, if the participant file says what the member is in the schema. */
  readonly instead: string | null;
}

/** Something that was found at a place, in a sentence. */
export interface SurveyNote extends SurveyPlace {
  readonly message: string;
}

export interface SurveySlip extends SurveyNote {
  readonly kind: SlipKind;
  readonly hint: string;
}

export interface SurveyedModule {
  readonly module: string;
  readonly left: number;
  readonly moved: number;
}

export interface SurveyedMember {
  readonly member: string;
  /** What it is in the schema, if the participant file says so. */
  readonly is: string | null;
  readonly uses: Readonly<Record<UseKind, number>>;
  readonly modules: readonly string[];
}

/** A name of the participant file that leads nowhere. */
export interface UnknownName {
  readonly name: string;
  /** Where it should be. */
  readonly in: 'old' | 'new';
  readonly nearest: string | null;
}

/** How far a port is. */
export interface Survey {
  readonly left: readonly PlaceLeft[];
  /** How many places use the new stores. */
  readonly moved: number;
  readonly modules: readonly SurveyedModule[];
  readonly members: readonly SurveyedMember[];
  /** Members of the old store that nothing uses any more. */
  readonly deletable: readonly (SurveyPlace & { readonly member: string })[];
  /** Imports and variables that are not needed any more. */
  readonly leftBehind: readonly (SurveyPlace & {
    readonly name: string;
    readonly what: 'import' | 'variable';
  })[];
  readonly slips: readonly SurveySlip[];
  /** Places where a store is used, and nobody can say what of it. */
  readonly unclear: readonly SurveyNote[];
  readonly notRead: readonly NotRead[];
  /** Names of the participant file that the old store, or the new ones, do not have, with the nearest that they have. */
  readonly unknownNames: readonly UnknownName[];
  /** The number of modules that were read. */
  readonly read: number;
}

/** Something that was asked for cannot be used; `hint` is a way out. */
export class SurveyError extends Error {
  constructor(
    message: string,
    readonly hint: string,
  ) {
    super(message);
  }
}
