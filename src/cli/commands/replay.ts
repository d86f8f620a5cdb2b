import type { Argv } from 'yargs';
import { readRuntime } from '../../library/package-files.js';
import { checkedSchema } from '../checked-schema.js';
import { participantFile } from '../compare/participant-file.js';
import { requireReportAt, writeReport } from '../compare/junit-file.js';
import { exitCodes, paintFor, Unusable, type Io } from '../io.js';
import { logFile, readingLog } from '../log-file.js';
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
  limit: {
    describe: 'how many seconds one call of a participant file may take',
    type: 'number',
    requiresArg: true,
    default: 2,
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
  readonly limit: number;
  readonly junit?: string | undefined;
  readonly json: boolean;
}

export async function run(io: Io, args: ReplayArguments): Promise<number> {
  requireNumbers(args);
  if (args.junit !== undefined) requireReportAt(io, args.junit);
  const log = logFile(io, args.log);
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
  const { from, to, differences, limit } = args;
  const how = { from, to, differences, patience: limit * 1000 };
  const result = await readingLog(io, log, 'replaying', (open, told) =>
    core.replayLog({ application, folders, brought, mapping }, open, how, told),
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

/** Refuses numbers that mean nothing. Throws {@link Unusable}. */
function requireNumbers({ from, to, differences, limit }: ReplayArguments): void {
  if (!(limit > 0))
    throw new Unusable('--limit takes a number of seconds.', 'For example --limit 5.');
  for (const [name, number] of Object.entries({ from, to, differences }))
    if (number !== undefined && (!Number.isInteger(number) || number < 1))
      throw new Unusable(`--${name} takes a whole number from 1.`, `For example --${name} 7.`);
  if (from !== undefined && to !== undefined && from > to)
    throw new Unusable('--from is after --to.', 'For example --from 100 --to 200.');
}
