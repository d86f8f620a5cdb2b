import { checkedSchema } from '../checked-schema.js';
import { readRuntime } from '../../library/package-files.js';
import { exitCodes, paintFor, requireOneOf, Unusable, type Io } from '../io.js';
import { progressOf } from '../progress.js';
import { styleList } from '../styles.js';
import { classesBut, requireSense, type CompareArguments } from './arguments.js';
import { endOf } from './how-long.js';

/** Plants faults in the generated stores and looks for each; prints how many were found. Gives the exit code. */
export async function findAndPrint(
  io: Io,
  args: CompareArguments & { readonly faults: string },
): Promise<number> {
  requireSense(args);
  for (const odd of ['generated', 'script', 'corpus', 'shard', 'with', 'junit', 'save'] as const)
    requireOneOf({ faults: true, [odd]: args[odd] !== undefined });
  requireOneOf({ faults: true, 'require-coverage': args.requireCoverage !== undefined });
  const most = args.faults === 'all' ? undefined : Number(args.faults);
  if (most !== undefined && (!Number.isInteger(most) || most < 1))
    throw new Unusable("--faults takes a whole number, or 'all'.", 'For example --faults 100.');
  const styles = await styleList(args.style);
  const classes = await classesBut(args.ignore);
  const checked = await checkedSchema(io, args.files);
  if ('exitCode' in checked) return checked.exitCode;
  const { faultsText, faultsToJson, findFaults, usualSteps } = await import('../../core.js');
  const steps = args.steps ?? usualSteps(checked.application, styles.length);
  let isInterrupted = false;
  let of = 0;
  const stopListening = io.onInterrupt(() => (isInterrupted = true));
  const progress = await progressOf(io, 100, 'planting faults');
  const start = io.clock();
  const tried = await findFaults(checked.application, styles, readRuntime, {
    seed: args.seed,
    steps,
    search: args.search,
    depth: args.depth,
    classes,
    most,
    jobs: args.jobs,
    clock: io.clock,
    until: endOf(start, args.seconds),
    isStopped: () => isInterrupted,
    onTried(count, all) {
      of = all;
      progress.at(Math.round((100 * count) / all), `${count} of ${all}`);
    },
  });
  progress.stop();
  stopListening();
  const result = faultsToJson(tried, {
    schema: checked.file.path,
    seed: args.seed,
    steps,
    tookMs: io.clock() - start,
    isWhole: tried.length > 0 && tried.length === of,
  });
  if (args.json) io.stdout(`${JSON.stringify(result, null, 2)}\n`);
  else io.print(`${faultsText(result, paintFor(io))}\n`);
  if (isInterrupted) return exitCodes.interrupted;
  // What is not found may be equal in all that can be seen: that is no failure of the stores.
  return result.tried > 0 ? exitCodes.fine : exitCodes.findings;
}
