import type { Application } from '../model/application.js';
import { styles, type Style } from '../base/styles.js';
import { usualSteps, comparisonToJson, type ComparisonJson } from '../comparing/index.js';
import { compareStores } from '../jobs/compare.js';
import { generatedInMemory } from '../jobs/generate.js';
import { bundledParticipant } from './bundled-participant.js';
import { readRuntime } from './package-files.js';

/** The options of a comparison; each as the option of `leeshore compare` of that name. */
export interface CompareSettings {
  /** The generated stores that are compared with the reference; all four styles if not given. */
  readonly style?: readonly Style[];
  /** The path of a participant file: the stores of the old application. */
  readonly with?: string;
  /** The number of actions that are tried; 40,000 if not given, 80,000 where one or two are compared with the reference, or 20,000 where there are tasks. */
  readonly steps?: number;
  /** Seconds after which the search ends, however far it has come; its steps end it if not given. */
  readonly seconds?: number;
  /** A whole number; the same seed tries the same. 1 if not given. */
  readonly seed?: number;
  /** The schema's file name, for the result; `schema.yaml` if not given. */
  readonly schema?: string;
}

/**
 * Compares the stores of an application with each other and with the meaning of its schema; gives what
 * `leeshore compare --json` prints. Nothing is written. Throws {@link LoadError} for a participant file that cannot be
 * used.
 */
export async function compareSchema(
  application: Application,
  settings: CompareSettings = {},
): Promise<ComparisonJson> {
  const { style = styles, seconds = Infinity, seed = 1 } = settings;
  const folders = await generatedInMemory(application, style, readRuntime);
  const external = settings.with === undefined ? [] : [await bundledParticipant(settings.with)];
  const { steps = usualSteps(application, folders.length + external.length) } = settings;
  const clock = () => performance.now();
  const until = clock() + seconds * 1000;
  const comparison = await compareStores(application, folders, {
    seed,
    steps,
    clock,
    until,
    external,
  });
  return comparisonToJson(comparison, application, { schema: settings.schema ?? 'schema.yaml' });
}
