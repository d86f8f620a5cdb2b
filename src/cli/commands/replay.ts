import { createReadStream, existsSync, statSync } from 'node:fs';
import { resolve } from 'node:path';
import type { Argv } from 'yargs';
import { readRuntime } from '../../library/package-files.js';
import { checkedSchema } from '../checked-schema.js';
import { participantFile } from '../compare/participant-file.js';
import { requireReportAt, writeReport } from '../compare/junit-file.js';
import { exitCodes, paintFor, Unusable, type Io } from '../io.js';
import { progressOf } from '../progress.js';
import { withSchemaFiles } from '../schema-files.js';
import { stylesOrNone } from '../styles.js';

export const command = 'replay <log> [files..]';
export const describe =
  'Do again what a log says, and check that the stores of a schema come to the same states';

const options = {
  style: {
    describe: "which generated stores replay it; 'none' leaves the reference and those of --with",
    type: 'string',
    requiresArg: true,
    default: 'reducer,atom,proxy,observable',
  },
  with: {
    describe: 'also replay it with the stores of this participant file, such as the old ones',
    type: 'string',
    requiresArg: true,
  },
  mapping: {
    describe: "a participant file whose 'log' says what the names in the log are in the schema",
    type: 'string',
    requiresArg: true,
  },
  from: { describe: 'the first turn to replay', type: 'number', requiresArg: true },
  to: { describe: 'the last turn to replay', type: 'number', requiresArg: true },
  differences: {
    describe: 'how many mismatches of different causes to look for',
    type: 'number',
    requiresArg: true,
    default: 3,
  },
  junit: {
    describe: 'also write the result as JUnit XML to this file',
    type: 'string',
    requiresArg: true,
  },
  json: { describe: 'print one JSON value', type: 'boolean', default: false },
} as const;

export function builder(yargs: Argv) {
  return withSchemaFiles(
    yargs.positional('log', {
      describe: 'a log: JSON Lines, as stores write it that were generated with --log',
      type: 'string',
      demandOption: true,
    }),
  )
    .options(options)
    .example('$0 replay morning.log.jsonl ferry.stores.yaml', 'the reference and all styles')
    .example(
      '$0 replay old.log.jsonl ferry.stores.yaml --mapping old.participant.ts',
      'a log that the old application wrote',
    );
}

export interface ReplayArguments {
  readonly log: string;
  readonly files: readonly string[];
  readonly style: string;
  readonly with?: string | undefined;
  readonly mapping?: string | undefined;
  readonly from?: number | undefined;
  readonly to?: number | undefined;
  readonly differences: number;
  readonly junit?: string | undefined;
  readonly json: boolean;
}

export async function run(io: Io, args: ReplayArguments): Promise<number> {
  requireNumbers(args);
  if (args.junit !== undefined) requireReportAt(io, args.junit);
  const { size, path } = logFile(io, args.log);
  const styles = await stylesOrNone(args.style);
  const checked = await checkedSchema(io, args.files);
  if ('exitCode' in checked) return checked.exitCode;
  const { application, file } = checked;
  const core = await import('../../core.js');
  const folders = await core.generatedInMemory(application, styles, readRuntime, {
    begin: 'state',
  });
  const brought = args.with === undefined ? [] : [await participantFile(io, args.with)];
  const mapping = args.mapping === undefined ? undefined : await participantFile(io, args.mapping);
  const start = io.clock();
  const result = await reading(io, args.log, size, (told) =>
    core.replayLog(
      { application, folders, brought, mapping },
      createReadStream(path, { encoding: 'utf8', highWaterMark: 1 << 20 }),
      args,
      told,
    ),
  );
  const names = { log: args.log, schema: file.path, tookMs: io.clock() - start };
  const json = core.replayToJson(result, application, names);
  if (args.junit !== undefined) {
    const text = core.replayText(json, { ...core.plainPaint });
    writeReport(io, args.junit, core.replayToJUnit(json, text));
  }
  if (args.json) io.stdout(`${JSON.stringify(json, null, 2)}\n`);
  else io.print(`${core.replayText(json, paintFor(io))}\n`);
  if (json.verdict === 'interrupted') return exitCodes.interrupted;
  return json.verdict === 'no difference' ? exitCodes.fine : exitCodes.findings;
}

/** Where a log is, and how many bytes it has. Throws {@link Unusable}. */
export function logFile(io: Io, log: string): { readonly path: string; readonly size: number } {
  const path = resolve(io.cwd, log);
  if (!existsSync(path))
    throw new Unusable(`There is no file ${log}.`, `Paths are relative to ${io.cwd}.`);
  const stats = statSync(path);
  if (!stats.isFile()) throw new Unusable(`${log} is not a file.`, 'Name a log in it.');
  return { path, size: stats.size };
}

/** How reading is heard of. */
interface Told {
  readonly onRead: (characters: number) => void;
  readonly isStopped: () => boolean;
}

/** Reads a log with progress, until the user interrupts; what is wrong with it is the user's to mend. */
async function reading<T>(
  io: Io,
  log: string,
  size: number,
  work: (told: Told) => Promise<T>,
): Promise<T> {
  const progress = await progressOf(io, size, 'replaying');
  let read = 0;
  let isStopped = false;
  const stop = io.onInterrupt(() => (isStopped = true));
  try {
    return await work({
      onRead: (characters) => {
        read += characters;
        progress.at(read, log);
      },
      isStopped: () => isStopped,
    });
  } catch (error) {
    throw await usable(error, log);
  } finally {
    stop();
    progress.stop();
  }
}

/** What is wrong with a log, or with a file of the user's, said with the way out. */
async function usable(error: unknown, log: string): Promise<unknown> {
  const { InconsistentLog, LoadError, LogError, MappingError } = await import('../../core.js');
  if (error instanceof LogError)
    return new Unusable(
      `${log}:${error.line}:${error.column}: ${error.detail}.`,
      'Correct the line, or take it out.',
    );
  if (error instanceof InconsistentLog)
    return new Unusable(
      `${log}:${error.number}: ${error.message}.`,
      'The log was changed after it was written, or lines are missing.',
    );
  if (error instanceof LoadError)
    return new Unusable(`${error.message}.`, 'Correct the participant file.');
  if (error instanceof MappingError)
    return new Unusable(`${error.message}.`, "Correct 'log' in the participant file.");
  return error;
}

/** Refuses numbers that mean nothing. Throws {@link Unusable}. */
function requireNumbers({ from, to, differences }: ReplayArguments): void {
  for (const [name, number] of Object.entries({ from, to, differences }))
    if (number !== undefined && (!Number.isInteger(number) || number < 1))
      throw new Unusable(`--${name} takes a whole number from 1.`, `For example --${name} 7.`);
  if (from !== undefined && to !== undefined && from > to)
    throw new Unusable('--from is after --to.', 'For example --from 100 --to 200.');
}
