import { basename } from 'node:path';
import type { Comparison, GeneratedFolder, ObservedClass, Paint } from '../index.js';
import { checkedSchema } from './checked-schema.js';
import { classesBut, requireNumbers, type CompareArguments } from './compare-arguments.js';
import { readRuntime, readText } from './files.js';
import { generatedFolders } from './folders/generated-folders.js';
import { exitCodes, paintFor, requireOneOf, Unusable, type Io } from './io.js';
import { requireReportAt, writeReport } from './junit-file.js';
import { progressOf } from './progress.js';
import { saveScript } from './save-script.js';
import { styleList } from './styles.js';

/** Compares, prints the result, saves the script of a difference; gives the exit code. */
export async function compareAndPrint(io: Io, args: CompareArguments): Promise<number> {
  requireNumbers(args);
  requireOneOf({
    script: args.script !== undefined,
    'require-coverage': args.requireCoverage !== undefined,
  });
  if (args.junit !== undefined) requireReportAt(io, args.junit);
  const styles = await styleList(args.style);
  const classes = await classesBut(args.ignore);
  const checked = await checkedSchema(io, args.files);
  if ('exitCode' in checked) return checked.exitCode;
  const { application, file } = checked;
  const replayed =
    args.script === undefined ? undefined : await scriptFor(io, args.script, application);
  const { generatedInMemory } = await import('../index.js');
  const folders =
    args.generated === undefined
      ? await generatedInMemory(application, styles, readRuntime)
      : await generatedFolders(io, args.generated, styles);
  const { comparison, isInterrupted } = await search(io, application, folders, {
    ...args,
    classes,
    replayed,
  });
  const { difference } = comparison;
  // What was found is told even if its script cannot be saved.
  const saved: Saved =
    difference === undefined || replayed !== undefined
      ? {}
      : await saveScript(io, { ...args, file: file.path }, difference.script).then(
          (path) => ({ path }),
          (error: unknown) => ({ error: error as Error }),
        );
  await report(io, args, { comparison, application, folders, schema: file.path, saved });
  if (saved.error !== undefined) throw saved.error;
  if (difference !== undefined) return exitCodes.findings;
  if (isInterrupted) return exitCodes.interrupted;
  const missed = await missedCoverage(args.requireCoverage, comparison);
  if (missed !== undefined) (args.json ? io.stderr : io.stdout)(`\n${missed}\n`);
  return comparison.verdict === 'same' && missed === undefined
    ? exitCodes.fine
    : exitCodes.findings;
}

type Application = Parameters<typeof import('../index.js').compareStores>[0];

/** Where a script was saved, or why it was not. */
interface Saved {
  readonly path?: string;
  readonly error?: Error;
}

/** Compares with progress on the terminal, until the budget is used up or the user interrupts. */
async function search(
  io: Io,
  application: Application,
  folders: readonly GeneratedFolder[],
  args: CompareArguments & {
    readonly classes: readonly ObservedClass[];
    readonly replayed: Awaited<ReturnType<typeof scriptFor>> | undefined;
  },
) {
  const { compareStores } = await import('../index.js');
  let isInterrupted = false;
  const stopListening = io.onInterrupt(() => (isInterrupted = true));
  const progress = await progressOf(io, args.steps, 'comparing');
  const start = io.clock();
  const comparison = await orUnusable(
    compareStores(application, folders, {
      seed: args.replayed?.seed ?? args.seed,
      steps: args.steps,
      search: args.search,
      classes: args.classes,
      clock: io.clock,
      until: start + args.for * 1000,
      isStopped: () => isInterrupted,
      onProgress: ({ steps, reached }) => {
        const rate = Math.round((steps / (io.clock() - start)) * 1000);
        progress.at(steps, `${rate} steps/s, ${reached} reached`);
      },
      ...(args.replayed === undefined ? {} : { script: args.replayed.script }),
    }),
  );
  progress.stop();
  stopListening();
  return { comparison, isInterrupted };
}

interface Found {
  readonly comparison: Comparison;
  readonly application: Application;
  readonly folders: readonly GeneratedFolder[];
  readonly schema: string;
  readonly saved: Saved;
}

/** Prints the result in the form that is asked for, and writes it as JUnit XML if that is. */
async function report(io: Io, args: CompareArguments, found: Found): Promise<void> {
  const { comparisonText, comparisonToJson, comparisonToJUnit } = await import('../index.js');
  const { comparison, application, folders, schema } = found;
  const savedAs = found.saved.path;
  const replayCommand = savedAs === undefined ? undefined : replayCommandOf(args, savedAs);
  const origins = originsOf(folders, args);
  const textWith = (paint: Paint) =>
    comparisonText(comparison, application, { paint, origins, savedAs, replayCommand });
  const text = args.json
    ? JSON.stringify(comparisonToJson(comparison, { schema, savedAs }), null, 2)
    : textWith(paintFor(io));
  io.stdout(`${text}\n`);
  if (args.junit === undefined) return;
  const { requireCoverage: requiredCoverage } = args;
  const plain = textWith(paintFor(io, false));
  writeReport(
    io,
    args.junit,
    comparisonToJUnit(comparison, { schema, text: plain, requiredCoverage }),
  );
}

/** What to say if less was reached than is required. */
async function missedCoverage(
  required: number | undefined,
  comparison: Comparison,
): Promise<string | undefined> {
  if (required === undefined) return undefined;
  const { percentReached } = await import('../index.js');
  const percent = percentReached(comparison);
  return percent >= required
    ? undefined
    : `Reached ${percent.toFixed(1)} % of what can happen; ${required} % are required.`;
}

async function scriptFor(io: Io, path: string, application: Application) {
  const { readScript } = await import('../index.js');
  const read = readScript(readText(io, path));
  if (typeof read === 'string')
    throw new Unusable(
      `${path} is no script: ${read}.`,
      'A script is what compare saves when it finds a difference.',
    );
  const { unknownIn } = await import('../index.js');
  const odd = unknownIn(read.script, application);
  if (odd !== undefined)
    throw new Unusable(
      `${path} names ${odd}, which the schema does not have.`,
      'Was it renamed? Change it in the script too.',
    );
  return read;
}

/** Code on disk that cannot be loaded is the user's to mend. */
async function orUnusable<T>(work: Promise<T>): Promise<T> {
  const { LoadError } = await import('../index.js');
  return work.catch((error: unknown) => {
    if (error instanceof LoadError)
      throw new Unusable(error.message, 'Generate the stores again, or mend the file.');
    throw error;
  });
}

function originsOf(
  folders: readonly GeneratedFolder[],
  { generated, files }: CompareArguments,
): Record<string, string> {
  const from =
    generated === undefined ? 'generated now, in memory' : `as it stands in ${generated}`;
  return {
    reference: `the meaning of ${files.map((file) => basename(file)).join(', ')}`,
    ...Object.fromEntries(folders.map(({ name }) => [name, from])),
  };
}

function replayCommandOf(
  { files, generated, style, ignore }: CompareArguments,
  script: string,
): string {
  const folder = generated === undefined ? '' : ` --generated ${generated}`;
  const styles = style === 'reducer,atom,proxy,observable' ? '' : ` --style ${style}`;
  const less = ignore === undefined ? '' : ` --ignore ${ignore}`;
  return `leeshore compare ${files.join(' ')}${folder}${styles} --script ${script}${less}`;
}
