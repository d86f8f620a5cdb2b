import { nextTurn } from '../base/turn.js';
import type { SearchOptions, Fault, TriedFault } from '../comparing/index.js';
import type { GeneratedFolder } from '../participants/index.js';
import type { Application } from '../model/application.js';
import { OneWorker } from './one-worker.js';
import { tryFault, type FaultSearch } from './try-fault.js';

/** A fault in the generated stores of a style. */
export interface PlantedFault {
  readonly fault: Fault;
  readonly folder: GeneratedFolder;
}

export interface FaultTrial extends SearchOptions {
  /** The number of workers that share the faults; 1 if not given, which is this thread. */
  readonly jobs?: number;
  /** Told how many have been tried. */
  readonly onTried?: (tried: number) => void;
}

/** Looks for the fault in the stores of a folder. */
type Try = (folder: GeneratedFolder) => Promise<FaultSearch | undefined>;

/**
 * Looks for each planted fault as compare looks for differences, but for those that are known to be none; stops when
 * the time is up or it is told to. Gives the results in the order of the faults.
 */
export async function tryFaults(
  application: Application,
  faults: readonly PlantedFault[],
  options: FaultTrial,
): Promise<readonly TriedFault[]> {
  const { jobs = 1 } = options;
  const results: (TriedFault | undefined)[] = faults.map(() => undefined);
  let [next, tried] = [0, 0];
  const workWith = async (search: Try) => {
    while (next < faults.length) {
      if (options.isStopped?.() === true || options.clock() >= options.until) return;
      const place = next++;
      results[place] = await resultOf(faults[place] as PlantedFault, search);
      options.onTried?.((tried += 1));
      // An interruption, for one, gets its turn.
      await nextTurn();
    }
  };
  if (jobs === 1) await workWith((folder) => tryFault(application, folder, options));
  else await withWorkers(application, jobs, options, workWith);
  return results.filter((result) => result !== undefined);
}

async function resultOf(
  { fault, folder }: PlantedFault,
  search: Try,
): Promise<TriedFault | undefined> {
  const { kind, at, equal } = fault;
  const known = { kind, at, style: folder.style };
  if (equal !== undefined)
    return { ...known, equal, foundBy: undefined, steps: 0, tookMs: 0, missed: [] };
  const found = await search(folder);
  if (found === undefined) return undefined;
  const { unreached, ...result } = found;
  return { ...known, ...result, missed: unreached.filter((id) => id.startsWith(at)) };
}

/** How often it is looked whether to stop, in milliseconds. */
const betweenLooks = 50;

async function withWorkers(
  application: Application,
  jobs: number,
  { clock, until, ...options }: FaultTrial,
  workWith: (search: Try) => Promise<void>,
): Promise<void> {
  const { seed, steps, search, depth, classes } = options;
  const cast = { application, folders: [], external: [], classes };
  const isOver = () => options.isStopped?.() === true;
  const started = await Promise.all(
    Array.from({ length: jobs }, () => OneWorker.start(cast, { isOver })),
  );
  const workers = started.filter((one) => one !== undefined);
  const look = setInterval(() => {
    if (isOver()) for (const { worker } of workers) void worker.end();
  }, betweenLooks);
  try {
    await Promise.all(
      workers.map(({ worker }) =>
        workWith(async (folder) => {
          const order = { seed, steps, search, depth, classes, msLeft: until - clock() };
          const answer = await worker.ask({ kind: 'fault', folder, options: order });
          if (answer.kind === 'ended') return undefined;
          if (answer.kind !== 'tried') throw new Error(`a worker answers '${answer.kind}'`);
          return answer.result;
        }),
      ),
    );
  } finally {
    clearInterval(look);
    await Promise.all(workers.map(({ worker }) => worker.end()));
  }
}
