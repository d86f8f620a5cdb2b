/** A module that cannot be loaded: its text is no TypeScript, or it throws while it is loaded. */
export class LoadError extends Error {
  constructor(
    readonly path: string,
    readonly detail: string,
  ) {
    super(`${path} cannot be loaded: ${detail}`);
  }
}
