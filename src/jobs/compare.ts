import type { Comparison, Script, SearchOptions } from '../comparing/index.js';
import { loadComparing, loadSummary } from '../comparing/loaders.js';
import type { Application } from '../model/application.js';
import type { GeneratedFolder } from '../participants/index.js';
import type { ExternalFile } from '../workers/index.js';
import { loadLocal, loadWorkers } from '../workers/loaders.js';

export interface CompareOptions extends SearchOptions {
  /** Replays this script in place of searching. */
  readonly script?: Script;
  /** Participant files of the user's; they run in workers. */
  readonly external?: readonly ExternalFile[];
  /** The number of workers that share the work; 1 if not given, which is this thread unless there is an external participant. */
  readonly jobs?: number;
  /** The time that one call of an external participant may take, in milliseconds; 2,000 if not given. */
  readonly patience?: number;
}

/** Compares the reference interpreter with generated stores. Throws `LoadError` for code that cannot be loaded. */
export async function compareStores(
  application: Application,
  folders: readonly GeneratedFolder[],
  options: CompareOptions,
): Promise<Comparison> {
  const { compareBySearch, compareScript } = await loadComparing();
  const { nothingCompared } = await loadSummary();
  const { external = [], classes, jobs = 1, script } = options;
  const cast = { application, folders, external, classes };
  // Code of the user's may never come back: it does not run in this thread.
  const makeExecutor =
    jobs > 1 || external.length > 0
      ? (await loadWorkers()).startWorkers
      : (await loadLocal()).startLocal;
  const start = options.clock();
  const ready = await makeExecutor(cast, options);
  // Time was up, or the user had enough, before all code was loaded.
  if (ready === undefined) return nothingCompared(options, options.clock() - start);
  const { executor, compared, close } = ready;
  try {
    return script === undefined
      ? await compareBySearch(compared, executor, options)
      : await compareScript(compared, executor, script, options);
  } finally {
    await close();
  }
}
