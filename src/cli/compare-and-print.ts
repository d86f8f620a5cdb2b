import { writeFileSync } from 'node:fs';
import { basename, resolve } from 'node:path';
import type { Comparison, GeneratedFolder, ObservedClass, Paint } from '../index.js';
import { checkedSchema } from './checked-schema.js';
import { readRuntime, readText } from './files.js';
import { generatedFolders } from './generated-folders.js';
import { exitCodes, paintFor, Unusable, type Io } from './io.js';
import { progressOf } from './progress.js';
import { saveScript } from './save-script.js';
import { styleList } from './styles.js';

/** What 'compare' is asked for. */
export interface CompareArguments {
  readonly files: readonly string[];
  readonly style: string;
  readonly generated?: string | undefined;
  readonly steps: number;
  readonly for: number;
  readonly seed: number;
  readonly ignore?: string | undefined;
  readonly requireCoverage?: number | undefined;
  readonly junit?: string | undefined;
  readonly script?: string | undefined;
  readonly save?: string | undefined;
  readonly json: boolean;
}

/** How often, in milliseconds, a search lets anything else happen. */
const breath = 50;

/** Compares, prints the result, saves the script of a difference; gives the exit code. */
export async function compareAndPrint(io: Io, args: CompareArguments): Promise<number> {
  requireNumbers(args);
  const { compareStores, comparisonText, comparisonToJson, comparisonToJUnit, generatedInMemory } =
    await import('../index.js');
  const styles = await styleList(args.style);
  const classes = await classesBut(args.ignore);
  const checked = await checkedSchema(io, args.files);
  if ('exitCode' in checked) return checked.exitCode;
  const { application } = checked;
  const replayed =
    args.script === undefined ? undefined : await scriptFor(io, args.script, application);
  const folders =
    args.generated === undefined
      ? await generatedInMemory(application, styles, readRuntime)
      : await generatedFolders(io, args.generated, styles);
  let isInterrupted = false;
  const stopListening = io.onInterrupt(() => (isInterrupted = true));
  const progress = await progressOf(io, args.steps, 'comparing');
  let breathed = io.clock();
  const start = breathed;
  const comparison = await orUnusable(
    compareStores(application, folders, {
      seed: replayed?.seed ?? args.seed,
      steps: args.steps,
      classes,
      clock: io.clock,
      until: start + args.for * 1000,
      async onProgress(steps) {
        if (io.clock() - breathed < breath) return !isInterrupted;
        progress.at(steps, `${Math.round((steps / (io.clock() - start)) * 1000)} steps/s`);
        await new Promise((resume) => setImmediate(resume));
        breathed = io.clock();
        return !isInterrupted;
      },
      ...(replayed === undefined ? {} : { script: replayed.script }),
    }),
  );
  progress.stop();
  stopListening();
  const { difference } = comparison;
  const savedAs =
    difference === undefined || replayed !== undefined
      ? undefined
      : await saveScript(io, { ...args, file: checked.file.path }, difference.script);
  const replayCommand = savedAs === undefined ? undefined : replayCommandOf(args, savedAs);
  const origins = originsOf(folders, args);
  const textWith = (paint: Paint) =>
    comparisonText(comparison, application, { paint, origins, savedAs, replayCommand });
  if (args.json)
    io.stdout(
      `${JSON.stringify(comparisonToJson(comparison, checked.file.path, savedAs), null, 2)}\n`,
    );
  else io.stdout(`${textWith(paintFor(io))}\n`);
  const missed = await missedCoverage(args.requireCoverage, comparison);
  if (missed !== undefined && !args.json) io.stdout(`\n${missed}\n`);
  if (args.junit !== undefined) {
    const xml = comparisonToJUnit(comparison, {
      schema: checked.file.path,
      text: textWith(paintFor(io, false)),
      requiredCoverage: args.requireCoverage,
    });
    writeReport(io, args.junit, xml);
  }
  if (difference !== undefined) return exitCodes.findings;
  if (isInterrupted) return exitCodes.interrupted;
  return comparison.verdict === 'same' && missed === undefined
    ? exitCodes.fine
    : exitCodes.findings;
}

/** The classes of observations that are compared: all but some. Throws {@link Unusable}. */
async function classesBut(ignored: string | undefined): Promise<readonly ObservedClass[]> {
  const { observables } = await import('../index.js');
  const names = ignored?.split(',').map((name) => name.trim()) ?? [];
  const odd = names.find((name) => !(observables as readonly string[]).includes(name));
  if (odd !== undefined)
    throw new Unusable(
      `Nothing called '${odd}' is compared.`,
      `There are: ${observables.join(', ')}.`,
    );
  const left = observables.filter((name) => !names.includes(name));
  if (left.length === 0)
    throw new Unusable('--ignore leaves nothing to compare.', 'Leave at least one of them.');
  return left;
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
    : `Reached ${percent.toFixed(1)} % of the outcomes; ${required} % are required.`;
}

function writeReport(io: Io, path: string, text: string): void {
  try {
    writeFileSync(resolve(io.cwd, path), text);
  } catch (error) {
    throw new Unusable(
      `${path} cannot be written (${(error as NodeJS.ErrnoException).code ?? 'unknown reason'}).`,
      'Name another file with --junit.',
    );
  }
}

function requireNumbers(args: CompareArguments): void {
  const { requireCoverage: required } = args;
  if (required !== undefined && !(required >= 0 && required <= 100))
    throw new Unusable('--require-coverage takes percent.', 'For example --require-coverage 90.');
  if (!Number.isInteger(args.steps) || args.steps < 1)
    throw new Unusable('--steps takes a whole number from 1.', 'For example --steps 20000.');
  if (!Number.isInteger(args.seed))
    throw new Unusable('--seed takes a whole number.', 'For example --seed 7.');
  if (!(args.for > 0))
    throw new Unusable('--for takes a number of seconds.', 'For example --for 30.');
}

async function scriptFor(
  io: Io,
  path: string,
  application: Parameters<typeof import('../index.js').compareStores>[0],
) {
  const { readScript } = await import('../index.js');
  const read = readScript(readText(io, path));
  if (typeof read === 'string')
    throw new Unusable(
      `${path} is no script: ${read}.`,
      'A script is what compare saves when it finds a difference.',
    );
  const known = new Set(
    application.stores.flatMap((store) => store.actions.map(({ name }) => `${store.name}.${name}`)),
  );
  const odd = read.script.steps.find(({ send }) => !known.has(send));
  if (odd !== undefined)
    throw new Unusable(
      `${path} sends ${odd.send}, which the schema does not have.`,
      'Was the action renamed? Change it in the script too.',
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
