/** A file of the output, its path relative to the folder of its style. */
export interface GeneratedFile {
  readonly path: string;
  readonly text: string;
  /** Whether it is a file of the run time, the same in every output. */
  readonly isRuntime?: true;
}
