/** A package of the user's own project that is needed for what was asked, and cannot be loaded. */
export class MissingPackage extends Error {
  constructor(
    readonly name: string,
    readonly versions: string,
    /** What is installed to have it, as `npm install` takes it. */
    readonly install: string,
  ) {
    super(`this needs the package ${name} (${versions}), which is not installed`);
  }
}
