import type { SearchOptions, TriedFault } from '../comparing/index.js';
import { loadComparing } from '../comparing/loaders.js';
import { type GeneratedFolder, LoadError } from '../participants/index.js';
import type { Application } from '../model/application.js';
import { startLocal } from './start-local.js';

/** What a search for one fault came to. */
export interface FaultSearch extends Pick<TriedFault, 'foundBy' | 'steps' | 'tookMs'> {
  /** What was never reached. */
  readonly unreached: readonly string[];
}

/** Looks for what is wrong with generated stores; `undefined` if they cannot even be loaded: a compiler would have told. */
export async function tryFault(
  application: Application,
  folder: GeneratedFolder,
  options: SearchOptions,
): Promise<FaultSearch | undefined> {
  const cast = { application, folders: [folder], external: [], classes: options.classes };
  const start = options.clock();
  try {
    const { compareBySearch } = await loadComparing();
    const { executor, compared } = await startLocal(cast, options);
    // How short a script can be does not matter here.
    const unshrunk: typeof executor = {
      ...executor,
      shrink: (failing) => Promise.resolve({ ...failing, isRepeatable: true }),
    };
    const { difference, steps, coverage } = await compareBySearch(compared, unshrunk, options);
    const unreached = difference === undefined ? coverage.missing.map(({ id }) => id) : [];
    return { foundBy: difference?.what, steps, tookMs: options.clock() - start, unreached };
  } catch (error) {
    if (error instanceof LoadError) return undefined;
    throw error;
  }
}
