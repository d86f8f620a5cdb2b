import { basename, join } from 'node:path';
import type {
  Comparison,
  ComparisonJson,
  GeneratedFolder,
  ObservedClass,
  Paint,
  Script,
} from '../../core.js';
import { checkedSchema } from '../checked-schema.js';
import { sayUnusable } from '../failed.js';
import { readRuntime } from '../../library/package-files.js';
import { generatedFolders } from '../folders/generated-folders.js';
import { exitCodes, paintFor, requireOneOf, Unusable, type Io } from '../io.js';
import { progressOf } from '../progress.js';
import { stylesOrNone } from '../styles.js';
import { classesBut, requireSense, shardOf, type CompareArguments } from './arguments.js';
import { corpusIn, type Corpus } from './corpus.js';
import { endOf, progressNote } from './how-long.js';
import { requireReportAt, writeReport } from './junit-file.js';
import { participantFile } from './participant-file.js';
import { quoted } from './quoted.js';
import { requireFree, saveScript, scriptFor } from './script-files.js';

type Application = Parameters<typeof import('../../core.js').compareStores>[0];
type ExternalFile = Awaited<ReturnType<typeof participantFile>>;

/** All that is compared, made ready. */
interface Prepared {
  readonly application: Application;
  /** The most steps. */
  readonly steps: number;
  /** The schema, as the user wrote its path. */
  readonly schema: string;
  /** With where they stand, if they do. */
  readonly folders: readonly (GeneratedFolder & { readonly path?: string })[];
  readonly external: readonly ExternalFile[];
  readonly classes: readonly ObservedClass[];
  readonly corpus: Corpus | undefined;
  readonly replayed: { readonly script: Script; readonly seed: number } | undefined;
}

/** What somebody wants of a comparison who does it again and again. */
export interface Repeated {
  /** Scripts that are done first. */
  readonly scripts: readonly Script[];
  /** True if what is compared has changed meanwhile: the result is of no use any more. */
  readonly isOutdated: () => boolean;
  /** Told of each file that belongs to what is compared. */
  readonly onRead: (path: string) => void;
  /** Told the scripts that show a difference. */
  readonly onFound: (scripts: readonly Script[]) => void;
}

/** Compares, prints the result, saves the script of a difference; gives the exit code. */
export async function compareAndPrint(
  io: Io,
  args: CompareArguments,
  repeated?: Repeated,
): Promise<number> {
  const prepared = await prepare(io, args, repeated?.onRead);
  if ('exitCode' in prepared) return prepared.exitCode;
  const { comparison, isInterrupted } = await search(io, prepared, args, repeated);
  if (repeated?.isOutdated() === true) return exitCodes.fine;
  const { difference, alsoFound } = comparison;
  // What was found is told even if it cannot be saved.
  const found = difference === undefined ? [] : [difference, ...alsoFound];
  repeated?.onFound(found.map(({ script }) => script));
  const saved: Saved =
    prepared.replayed === undefined
      ? await saveAll(io, args, prepared.schema, found)
      : { paths: [] };
  const result = await report(io, args, comparison, prepared, saved.paths);
  const unsaved = [saved.error, errorOf(() => prepared.corpus?.keep(comparison))];
  for (const error of unsaved) if (error !== undefined) sayUnusable(io, unusable(error));
  if (difference !== undefined) return exitCodes.findings;
  if (unsaved[1] !== undefined) return exitCodes.unusable;
  if (isInterrupted) return exitCodes.interrupted;
  const missed = await missedCoverage(args.requireCoverage, result);
  if (missed !== undefined) (args.json ? io.stderr : io.print)(`\n${missed}\n`);
  return comparison.verdict === 'same' && missed === undefined
    ? exitCodes.fine
    : exitCodes.findings;
}

/** What `work` throws that is the user's to mend. */
function errorOf(work: () => void): Unusable | undefined {
  try {
    work();
  } catch (error) {
    return unusable(error);
  }
  return undefined;
}

/** Throws anything else. */
function unusable(error: unknown): Unusable {
  if (error instanceof Unusable) return error;
  throw error;
}

async function prepare(
  io: Io,
  args: CompareArguments,
  onRead: (path: string) => void = () => undefined,
): Promise<Prepared | { readonly exitCode: number }> {
  requireSense(args);
  for (const odd of ['require-coverage', 'corpus', 'shard'] as const)
    requireOneOf({
      script: args.script !== undefined,
      [odd]: args[odd === 'require-coverage' ? 'requireCoverage' : odd] !== undefined,
    });
  shardOf(args.shard);
  if (args.junit !== undefined) requireReportAt(io, args.junit);
  if (args.save !== undefined && args.script === undefined) requireFree(io, args.save);
  const styles = await stylesOrNone(args.style);
  if (styles.length === 0 && args.with === undefined)
    throw new Unusable(
      '--style none leaves nothing to compare with the reference.',
      'Name your own stores: --with old.participant.ts.',
    );
  const classes = await classesBut(args.ignore);
  const checked = await checkedSchema(io, args.files, onRead);
  if ('exitCode' in checked) return checked;
  const { application, file } = checked;
  const replayed =
    args.script === undefined ? undefined : await scriptFor(io, args.script, application);
  const corpus =
    args.corpus === undefined ? undefined : await corpusIn(io, args.corpus, file.path, application);
  const { generatedInMemory, usualSteps } = await import('../../core.js');
  const folders: Prepared['folders'] =
    args.generated === undefined
      ? await generatedInMemory(application, styles, readRuntime)
      : await generatedFolders(io, args.generated, styles);
  const external = args.with === undefined ? [] : [await participantFile(io, args.with)];
  for (const { modules = [] } of external) modules.forEach(onRead);
  for (const { path, files } of folders)
    if (path !== undefined) for (const one of files) onRead(join(path, one.path));
  const steps = args.steps ?? usualSteps(application, folders.length + external.length);
  return { application, steps, schema: file.path, folders, external, classes, corpus, replayed };
}

/** Where scripts were saved, the first one first, and why the next was not. */
interface Saved {
  readonly paths: readonly string[];
  readonly error?: Error;
}

/** Saves the scripts of differences, until one cannot be saved. */
async function saveAll(
  io: Io,
  args: CompareArguments,
  file: string,
  found: readonly { readonly script: Script }[],
): Promise<Saved> {
  const paths: string[] = [];
  for (const { script } of found)
    try {
      paths.push(await saveScript(io, { ...args, file, number: paths.length + 1 }, script));
    } catch (error) {
      return { paths, error: error as Error };
    }
  return { paths };
}

/** Compares with progress on the terminal, until the budget is used up or the user interrupts. */
async function search(
  io: Io,
  prepared: Prepared,
  args: CompareArguments,
  repeated: Repeated | undefined,
) {
  const { compareStores, unknownIn } = await import('../../core.js');
  const { application, steps: most, folders, replayed } = prepared;
  let isInterrupted = false;
  const stopListening = io.onInterrupt(() => (isInterrupted = true));
  const progress = await progressOf(io, most, 'comparing');
  const start = io.clock();
  // The schema may have outgrown them.
  const again = (repeated?.scripts ?? []).filter(
    (script) => unknownIn(script, application) === undefined,
  );
  const comparison = await orUnusable(
    compareStores(application, folders, {
      seed: replayed?.seed ?? args.seed,
      steps: most,
      search: args.search,
      depth: args.depth,
      shard: shardOf(args.shard),
      classes: prepared.classes,
      differences: args.differences,
      external: prepared.external,
      jobs: replayed === undefined ? args.jobs : 1,
      patience: args.callSeconds * 1000,
      corpus: [...again, ...(prepared.corpus?.scripts ?? [])],
      clock: io.clock,
      until: endOf(start, args.seconds),
      isStopped: () => isInterrupted || repeated?.isOutdated() === true,
      onProgress: ({ steps, reached }) => {
        progress.at(steps, progressNote({ steps, most, reached, ms: io.clock() - start }));
      },
      ...(replayed === undefined ? {} : { script: replayed.script }),
    }),
  );
  progress.stop();
  stopListening();
  return { comparison, isInterrupted };
}

/** Prints the result in the form that is asked for, and writes it as JUnit XML if that is. */
async function report(
  io: Io,
  args: CompareArguments,
  comparison: Comparison,
  { application, folders, schema, external }: Prepared,
  savedAs: readonly string[],
): Promise<ComparisonJson> {
  const { comparisonText, comparisonToJson, comparisonToJUnit } = await import('../../core.js');
  const { shard } = args;
  const result = comparisonToJson(comparison, application, { schema, savedAs, shard });
  const replayCommands = savedAs.map((path) => replayCommandOf(args, path));
  const origins = originsOf(result, folders, external, args);
  const textWith = (paint: Paint) =>
    comparisonText(result, { paint, origins, replayCommands, isBrief: args.brief === true });
  if (args.json) io.stdout(`${JSON.stringify(result, null, 2)}\n`);
  else if (result.verdict === 'same') io.note(`${textWith(paintFor(io))}\n`);
  else io.print(`${textWith(paintFor(io))}\n`);
  if (args.junit !== undefined) {
    const { requireCoverage: requiredCoverage } = args;
    const text = textWith(paintFor(io, false));
    writeReport(io, args.junit, comparisonToJUnit(result, { schema, text, requiredCoverage }));
  }
  return result;
}

/** What to say if less was reached than is required. */
async function missedCoverage(
  required: number | undefined,
  result: ComparisonJson,
): Promise<string | undefined> {
  if (required === undefined) return undefined;
  const { percentReached } = await import('../../core.js');
  const percent = percentReached(result);
  return percent >= required
    ? undefined
    : `Reached ${percent.toFixed(1)} % of what can happen; ${required} % are required.`;
}

/** Code on disk that cannot be loaded is the user's to mend. */
async function orUnusable<T>(work: Promise<T>): Promise<T> {
  const { LoadError } = await import('../../core.js');
  return work.catch((error: unknown) => {
    if (error instanceof LoadError)
      throw new Unusable(`${error.message}.`, 'Correct the file, or generate the stores again.');
    throw error;
  });
}

function originsOf(
  { participants }: ComparisonJson,
  folders: readonly GeneratedFolder[],
  external: readonly ExternalFile[],
  { generated, files }: CompareArguments,
): ReadonlyMap<string, string> {
  const from =
    generated === undefined ? 'generated now, in memory' : `as it stands in ${generated}`;
  const last = participants.at(-1)?.name ?? '';
  return new Map([
    ['reference', `the meaning of ${files.map((file) => basename(file)).join(', ')}`],
    ...folders.map(({ name }) => [name, from] as const),
    ...external.map(({ path }) => [last, path] as const),
  ]);
}

function replayCommandOf(
  { files, generated, style, ignore, with: external }: CompareArguments,
  script: string,
): string {
  const options = {
    generated,
    with: external,
    style: style === 'reducer,atom,proxy,observable' ? undefined : style,
    script,
    ignore,
  };
  const given = Object.entries(options).flatMap(([name, value]) =>
    value === undefined ? [] : [`--${name}`, value],
  );
  return ['leeshore', 'compare', ...files, ...given].map(quoted).join(' ');
}
