/** A file of the output, its path relative to the folder of its style. */
export interface GeneratedFile {
  readonly path: string;
  readonly text: string;
  /** True if it is a file of the run time, the same in every output. */
  readonly isRuntime?: true;
  /** True if it is a file of its own in every layout: not everybody who uses the stores loads it. */
  readonly isApart?: true;
}
