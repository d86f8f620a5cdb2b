/** A module of generated stores, its path relative to the folder of its style. */
export interface ModuleText {
  readonly path: string;
  readonly text: string;
}
