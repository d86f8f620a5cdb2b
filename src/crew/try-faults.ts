import { compareBySearch, type SearchOptions } from '../explore/compare.js';
import type { Fault, TriedFault } from '../faults/fault.js';
import type { GeneratedFolder } from '../load/generated-participant.js';
import { LoadError } from '../load/load-error.js';
import type { Application } from '../model/application.js';
import { loneCrew } from './lone-crew.js';

/** A fault in the generated stores of a style. */
export interface PlantedFault {
  readonly fault: Fault;
  readonly folder: GeneratedFolder;
}

/** Looks for each planted fault as compare looks for differences; stops when the time is up or it is told to. */
export async function tryFaults(
  application: Application,
  faults: readonly PlantedFault[],
  options: SearchOptions & { readonly onTried?: (tried: number) => void },
): Promise<readonly TriedFault[]> {
  const results: TriedFault[] = [];
  for (const { fault, folder } of faults) {
    if (options.isStopped?.() === true || options.clock() >= options.until) break;
    const { kind, at } = fault;
    const start = options.clock();
    const found = await search(application, folder, options);
    if (found === undefined) continue;
    const tookMs = options.clock() - start;
    results.push({ kind, at, style: folder.style, tookMs, ...found, missed: found.missed(at) });
    options.onTried?.(results.length);
    await new Promise((resume) => setImmediate(resume));
  }
  return results;
}

/** `undefined` for code that cannot even be loaded: a compiler would have told. */
async function search(application: Application, folder: GeneratedFolder, options: SearchOptions) {
  const cast = { application, folders: [folder], brought: [], classes: options.classes };
  try {
    const { crew, compared } = await loneCrew(cast, options);
    // How short a script can be does not matter here.
    const unshrunk = {
      ...crew,
      shrink: (failing: Parameters<typeof crew.shrink>[0]) =>
        Promise.resolve({ ...failing, isRepeatable: true }),
    };
    const { difference, steps, coverage } = await compareBySearch(compared, unshrunk, options);
    const near = (at: string) => coverage.missing.filter(({ id }) => id.startsWith(at));
    return {
      foundBy: difference?.what,
      steps,
      missed: (at: string) => (difference === undefined ? near(at).map(({ id }) => id) : []),
    };
  } catch (error) {
    if (error instanceof LoadError) return undefined;
    throw error;
  }
}
