/** A module of generated stores, its path relative to the folder of its style. */
export interface ModuleText {
  readonly path: string;
  readonly text: string;
  /** The same as a script without types, if that has been made: it takes longer than to load it. */
  readonly code?: string;
}
