import type { Argv } from 'yargs';
import { readRuntime } from '../../library/package-files.js';
import { checkedSchema } from '../checked-schema.js';
import { participantFile } from '../compare/participant-file.js';
import { requireReportAt, writeReport } from '../compare/junit-file.js';
import { exitCodes, paintFor, Unusable, type Io } from '../io.js';
import { logFile, readingLog } from '../log-file.js';
import { withSchemaFiles } from '../schema-files.js';
import { stylesOrNone } from '../styles.js';
import type { ArgumentsOf } from '../options/table.js';

export const command = 'replay <log> [files..]';
export const describe =
  'Do again what a log says, and check that the stores of a schema come to the same states';

export function builder(yargs: Argv) {
  return withSchemaFiles(
    yargs.positional('log', {
      describe: 'a log: JSON Lines, as stores write it that were generated with --log',
      type: 'string',
      demandOption: true,
    }),
  )
    .example('$0 replay morning.log.jsonl harbour.stores.yaml', 'the reference and all styles')
    .example(
      '$0 replay old.log.jsonl ferry.stores.yaml --mapping old.participant.ts',
      'a log that the old application wrote',
    );
}

export type ReplayArguments = ArgumentsOf<'replay'> & {
  readonly log: string;
  readonly files: readonly string[];
};

export async function run(io: Io, args: ReplayArguments): Promise<number> {
  requirePart(args);
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
  const external = args.with === undefined ? [] : [await participantFile(io, args.with)];
  const mapping = args.mapping === undefined ? undefined : await participantFile(io, args.mapping);
  const start = io.clock();
  const { from, to, differences, callSeconds } = args;
  const how = { from, to, differences, patience: callSeconds * 1000 };
  const result = await readingLog(io, log, 'replaying', (open, told) =>
    core.replayLog({ application, folders, external, mapping }, open, how, told),
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

/** Refuses a part of a log that ends before it begins. Throws {@link Unusable}. */
function requirePart({ from, to }: ReplayArguments): void {
  if (from !== undefined && to !== undefined && from > to)
    throw new Unusable('--from is after --to.', 'For example --from 100 --to 200.');
}
