import { Source } from '../base/source.js';
import type { Formatted, Problem, SchemaAccess } from '../language/index.js';
import { loadChecking, loadFormatting } from '../language/loaders.js';
import type { Application } from '../model/application.js';

/** A schema file: its path as the user wrote it, and its text. */
export interface SchemaFile {
  readonly path: string;
  readonly text: string;
}

export interface CheckResult {
  /** The model; `undefined` if there are errors. */
  readonly application: Application | undefined;
  /** In the order of their places. */
  readonly problems: readonly Problem[];
}

/** Checks schema files as one schema, with those that they use. What is wrong in them is a problem, never an exception. */
export async function checkSchemas(
  files: readonly SchemaFile[],
  access?: SchemaAccess,
): Promise<CheckResult> {
  const { checkSources } = await loadChecking();
  const sources = files.map(({ path, text }) => new Source(path, text));
  const { application, problems } = await checkSources(sources, access);
  return { application, problems: problems.inOrder() };
}

/** A schema file in its one tidy form, comments kept; or the problems that keep it from having one. */
export async function formatSchema({ path, text }: SchemaFile): Promise<Formatted> {
  const { formatSource } = await loadFormatting();
  return formatSource(new Source(path, text));
}
