import type { EmitOptions, GeneratedFile } from '../generation/index.js';
import type { Style } from '../base/styles.js';
import type { Application } from '../model/application.js';
import { generateStyle } from '../jobs/generate.js';
import { ownVersion, readRuntime } from './package-files.js';

/** The options of generated stores; each as the option of `leeshore generate` of that name. */
export interface GenerateSettings extends Partial<EmitOptions> {
  /** The schema's file name, for the first line of each file; `schema.yaml` if not given. */
  readonly schema?: string;
}

/**
 * The stores of an application in one style, as formatted files that need no package. Nothing is written.
 *
 * `application` is what {@link checkSchemas} gives for a schema without errors.
 */
export function generateStores(
  application: Application,
  style: Style,
  { schema = 'schema.yaml', ...output }: GenerateSettings = {},
): Promise<readonly GeneratedFile[]> {
  return generateStyle(application, style, {
    version: ownVersion(),
    schema,
    readRuntime,
    isRuntimeFormatted: true,
    output,
  });
}
