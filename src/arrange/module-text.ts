/** A module of the output, its path relative to the folder of its style. */
export interface ModuleText {
  readonly path: string;
  readonly text: string;
}
