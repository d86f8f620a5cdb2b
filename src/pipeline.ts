import type { Formatted } from './check/format-schema.js';
import type { SchemaAccess } from './check/read-files.js';
import type { Problem } from './diagnostics/problem.js';
import { Source } from './diagnostics/source.js';
import {
  usualOptions,
  type EmitOptions,
  type GeneratedFile,
  type ReadRuntime,
} from './emit/index.js';
import {
  loadEmitting,
  loadFormatting,
  loadLines,
  loadLogged,
  loadSkeleton,
} from './emit/loaders.js';
import type { Style } from './base/styles.js';
import type { TriedFault } from './faults/index.js';
import { loadChoice, loadCodeFaults, loadModelFaults, loadPlanting } from './faults/loaders.js';
import type { SearchOptions } from './explore/search-options.js';
import type { Comparison } from './explore/comparison.js';
import type { Script } from './explore/script.js';
import type { GeneratedFolder } from './load/generated-participant.js';
import type { UpdatedParticipant } from './arrange/index.js';
import { loadOneFile, loadJavaScript, loadUpdating } from './arrange/loaders.js';
import type { Application } from './model/application.js';
import { kindOfStyle, oneLine, ownershipOf, styleOf, withHeader } from './model/file-header.js';
import type { ExternalFile } from './workers/searching-of.js';
import type { Survey, SurveyRequest } from './survey/index.js';
import { loadSurvey } from './survey/loaders.js';
import type { StyleWeight, Weighing } from './weigh/index.js';
import { loadStyleWeight, loadWeighing } from './weigh/loaders.js';
import type { Replayed, ReplayOptions, ReplayReading } from './replay/replay.js';
import type { PlayedScript } from './replay/side-by-side.js';
import { withCompiler } from './library/with-compiler.js';
import type { PlantedFault } from './workers/try-faults.js';

/**
 * The stages, in line: text -> problems and model -> files of each style -> participants -> a comparison.
 * Each is a function from data to data; this is the only place where they meet. A stage is loaded when it
 * is needed, so that checking does not wait for what generates and compares.
 */

/** A schema file: its path as the user wrote it, and its text. */
export interface SchemaFile {
  readonly path: string;
  readonly text: string;
}

export interface CheckResult {
  /** The model; `undefined` if there are errors. */
  readonly application: Application | undefined;
  /** In the order of their places. */
  readonly problems: readonly Problem[];
}

/** Checks schema files as one schema, with those that they use. What is wrong in them is a problem, never an exception. */
export async function checkSchemas(
  files: readonly SchemaFile[],
  access?: SchemaAccess,
): Promise<CheckResult> {
  const { checkSources } = await import('./check/check.js');
  const sources = files.map(({ path, text }) => new Source(path, text));
  const { application, problems } = await checkSources(sources, access);
  return { application, problems: problems.inOrder() };
}

/** A schema file in its one tidy form, comments kept; or the problems that keep it from having one. */
export async function formatSchema({ path, text }: SchemaFile): Promise<Formatted> {
  const { formatSource } = await import('./check/format-schema.js');
  return formatSource(new Source(path, text));
}

export interface GenerateOptions {
  /** The version that the files say wrote them. */
  readonly version: string;
  /** The schema's file name, for the same purpose. */
  readonly schema: string;
  readonly readRuntime: ReadRuntime;
  /** Whether what `readRuntime` gives is formatted already; false if not given. */
  readonly isRuntimeFormatted?: boolean;
  /** What the output is to be like; the usual if not given. */
  readonly output?: Partial<EmitOptions>;
}

/** The files of one style, formatted, each with a header that holds a checksum of the rest. */
export async function generateStyle(
  application: Application,
  style: Style,
  options: GenerateOptions,
): Promise<readonly GeneratedFile[]> {
  const { emitStyle } = await loadEmitting();
  const { formatFiles } = await loadFormatting();
  const wanted = { ...usualOptions, ...options.output };
  const emitted = emitStyle(application, style, options.readRuntime, wanted);
  // What is in the run time for a log was formatted beside what stands there without one.
  const isRuntimeFormatted = options.isRuntimeFormatted === true && !wanted.log;
  const files = await formatFiles(await arranged(emitted, wanted), isRuntimeFormatted);
  const { version, schema } = options;
  const kind = kindOfStyle(style, wanted.checks !== 'never');
  return files.map(({ path, text }) => ({
    path,
    text: withHeader(text, { version, schema, kind }),
  }));
}

/** The files in the layout and the language that are wanted. */
async function arranged(
  files: readonly GeneratedFile[],
  { layout, language }: EmitOptions,
): Promise<readonly GeneratedFile[]> {
  let arranged = files;
  if (layout === 'one-file') {
    const { inOneFile } = await withCompiler(loadOneFile);
    const apart = files.filter(({ isApart }) => isApart);
    arranged = [...inOneFile(files.filter(({ isApart }) => !isApart)), ...apart];
  }
  if (language === 'js') arranged = (await withCompiler(loadJavaScript)).asJavaScript(arranged);
  return arranged;
}

/** A file that Leeshore writes for people, who go on from there; formatted. */
async function formatted(path: string, text: string): Promise<string> {
  const { formatFiles } = await loadFormatting();
  const [file] = await formatFiles([{ path, text }], false);
  return file?.text ?? text;
}

/**
 * A participant file to be filled in, typed by a schema. `schema` is the schema's path, `types` the module that its
 * types come from, as the file imports it: `./ferry.types.js`.
 */
export async function participantFor(
  application: Application,
  { schema, types }: { readonly schema: string; readonly types: string },
): Promise<string> {
  const { participantSkeleton } = await loadSkeleton();
  return formatted('participant.ts', participantSkeleton(application, oneLine(schema), types));
}

/** The types of a schema as a TypeScript module, with a header that holds a checksum of the rest. */
export async function typesModule(
  application: Application,
  origin: { readonly version: string; readonly schema: string },
): Promise<string> {
  const { participantTypes } = await loadSkeleton();
  const text = await formatted('types.ts', participantTypes(application));
  return withHeader(text, { ...origin, kind: 'types' });
}

/**
 * Adds to a participant file what the schema has and it lacks, and says what it has that the schema does not; all else
 * stays as it is. `undefined` if its tables are not written out as one object.
 */
export async function participantUpdate(
  application: Application,
  { path, text, types }: { readonly path: string; readonly text: string; readonly types: string },
): Promise<UpdatedParticipant | undefined> {
  const { participantLines } = await loadLines();
  const { updateParticipant } = await withCompiler(loadUpdating);
  const isTyped = /\.[cm]?tsx?$/.test(path);
  const wanted = await participantLines(application, isTyped ? types : undefined);
  const updated = updateParticipant(path, text, wanted.lines);
  if (updated === undefined || updated.added.length === 0) return updated;
  const hasMissing = /\bfunction missing\b|\bmissing\s*=/.test(text);
  return hasMissing
    ? updated
    : { ...updated, text: `${updated.text.trimEnd()}\n\n${wanted.missing}` };
}

export { ownershipOf, styleOf };
export type { GeneratedFolder };

export interface CompareOptions extends SearchOptions {
  /** Replays this script in place of searching. */
  readonly script?: Script;
  /** Participant files of the user's; they run in workers. */
  readonly external?: readonly ExternalFile[];
  /** How many workers share the work; 1 if not given, which is this thread unless there is an external participant. */
  readonly jobs?: number;
  /** How long one call of an external participant may take, in milliseconds; 2,000 if not given. */
  readonly patience?: number;
}

/** The stores of each style as they are generated, not formatted: formatting changes nothing that runs. */
export async function generatedInMemory(
  application: Application,
  styles: readonly Style[],
  readRuntime: ReadRuntime,
  output: Partial<EmitOptions> = {},
): Promise<GeneratedFolder[]> {
  const { emitStyle } = await loadEmitting();
  const options = { ...usualOptions, ...output };
  return styles.map((style) => ({
    name: style,
    style,
    files: emitStyle(application, style, readRuntime, options),
  }));
}

/** Compares the reference interpreter with generated stores. Throws `LoadError` for code that cannot be loaded. */
export async function compareStores(
  application: Application,
  folders: readonly GeneratedFolder[],
  options: CompareOptions,
): Promise<Comparison> {
  const { compareBySearch, compareScript } = await import('./explore/compare.js');
  const { nothingCompared } = await import('./explore/summary.js');
  const { external = [], classes, jobs = 1, script } = options;
  const cast = { application, folders, external, classes };
  // Code of the user's may never come back: it does not run in this thread.
  const makeExecutor =
    jobs > 1 || external.length > 0
      ? (await import('./workers/worker-executor.js')).startWorkers
      : (await import('./workers/start-local.js')).startLocal;
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

export interface FaultOptions extends SearchOptions {
  /** At most so many faults, of each kind about as many; all if not given. */
  readonly most?: number | undefined;
  /** How many workers share the faults; 1 if not given, which is this thread. */
  readonly jobs?: number;
  /** Told how many of the faults have been tried. */
  readonly onTried?: (tried: number, of: number) => void;
}

/**
 * How good comparing is at finding faults: plants one after the other in the generated stores of some styles,
 * and looks for it.
 */
export async function findFaults(
  application: Application,
  styles: readonly Style[],
  readRuntime: ReadRuntime,
  options: FaultOptions,
): Promise<readonly TriedFault[]> {
  const { emitStyle } = await loadEmitting();
  const { codeFaults } = await loadCodeFaults();
  const { modelFaults } = await loadModelFaults();
  const { chooseEvenly } = await loadChoice();
  const { planted } = await loadPlanting();
  const { tryFaults } = await import('./workers/try-faults.js');
  const { nextTurn } = await import('./base/turn.js');
  const faults = [...modelFaults(application), ...codeFaults(application)];
  const emitted = (style: Style, model: Application) =>
    emitStyle(model, style, readRuntime, usualOptions);
  const candidates: PlantedFault[] = [];
  for (const style of styles) {
    const original = emitted(style, application);
    for (const fault of faults) {
      // An interruption, for one, gets its turn.
      await nextTurn();
      if (options.isStopped?.() === true) return [];
      try {
        const files = planted(fault, style, original, (model) => emitted(style, model));
        if (files !== undefined) candidates.push({ fault, folder: { name: style, style, files } });
      } catch (error) {
        // A model that cannot be emitted is one that check would have refused.
        if (fault.in === 'code') throw error;
      }
    }
  }
  const most = options.most ?? Infinity;
  const chosen = chooseEvenly(candidates, ({ fault }) => fault.kind, most, options.seed);
  return tryFaults(application, chosen, {
    ...options,
    onTried: (tried) => options.onTried?.(tried, chosen.length),
  });
}

/** What a log is replayed with, besides the reference. */
export interface ReplayCast {
  readonly application: Application;
  readonly folders: readonly GeneratedFolder[];
  readonly external: readonly ExternalFile[];
  /** The file whose `log` says what the names in the log are; the external one if not given. */
  readonly mapping?: ExternalFile | undefined;
}

/**
 * Replays a log with the reference and other participants. Throws `LogError` and `InconsistentLog` for a log that cannot be
 * read, and `LoadError` for code that cannot be loaded.
 */
export async function replayLog(
  { application, folders, external, mapping }: ReplayCast,
  open: () => AsyncIterable<string>,
  { patience, ...options }: LogReplayOptions,
  reading: ReplayReading = {},
): Promise<Replayed> {
  const { replayWhole } = await import('./workers/replay-whole.js');
  const { schemaDigest } = await loadLogged();
  const cast = { application, folders, external, classes: undefined };
  const file = mapping ?? external[0];
  const request = {
    ...options,
    digest: schemaDigest(application),
    ...(file && { mapping: { file, isWanted: mapping !== undefined } }),
  };
  return replayWhole(cast, request, open, { ...reading, patience });
}

/** `patience`: how long one call of an external participant may take, in milliseconds; 2,000 if not given. */
export type LogReplayOptions = Pick<ReplayOptions, 'from' | 'to' | 'differences'> & {
  readonly patience?: number | undefined;
};

/** Does a script with several participants, and says what each showed after each step. Throws `LoadError`. */
export async function playScript(
  { application, folders, external }: ReplayCast,
  script: Script,
): Promise<PlayedScript> {
  const cast = { application, folders, external, classes: undefined };
  const { playHere, playInWorker } = await import('./workers/playing.js');
  return external.length === 0 ? playHere(cast, script) : playInWorker(cast, script);
}

/** Says what of an application still uses the old store. Throws {@link SurveyError}. */
export async function survey(request: SurveyRequest): Promise<Survey> {
  const { surveyApplication } = await withCompiler(loadSurvey);
  return surveyApplication(request);
}

/** What is weighed: the files of a schema's stores in some styles, and the old store beside them. */
export interface WeighOptions extends GenerateOptions {
  readonly styles: readonly Style[];
  /** The module of the old store, relative to `folder`. */
  readonly against?: string | undefined;
  readonly folder: string;
  /** Told before each style. */
  readonly begin?: (style: Style, number: number) => void;
}

/** Weighs the stores of a schema as an application would load them. Throws {@link WeighError} for an old store that cannot be bundled. */
export async function weighStores(
  application: Application,
  { styles, against, folder, begin, ...options }: WeighOptions,
): Promise<Weighing> {
  const { weighFiles, weighModule } = await loadWeighing();
  const { styleWeight } = await loadStyleWeight();
  const names = application.stores.map(({ name }) => name);
  const weighed: StyleWeight[] = [];
  for (const [i, style] of styles.entries()) {
    begin?.(style, i);
    const files = await generateStyle(application, style, options);
    const changed = async (own: Partial<EmitOptions>) => {
      const output = { ...options.output, ...own };
      const [made] = await generatedInMemory(application, [style], options.readRuntime, output);
      return weighFiles(made?.files ?? [], 'index.ts');
    };
    weighed.push(
      await styleWeight(style, names, files, await changed({}), {
        '--checks never': await changed({ checks: 'never' }),
        '--guard never': await changed({ guard: 'never' }),
      }),
    );
  }
  const old = against === undefined ? undefined : await weighModule(against, folder);
  return {
    styles: weighed,
    against:
      against === undefined || old === undefined
        ? null
        : { path: against, minified: old.minified, gzipped: old.gzipped },
  };
}
