import type { Argv } from 'yargs';
import { ownVersion, readSchemas, schemaAccess } from '../files.js';
import { exitCodes, paintFor, requireOneOf, type Io } from '../io.js';
import { withSchemaFiles } from '../schema-files.js';

export const command = 'check [files..]';
export const describe = 'Say what is in a schema, or what is wrong with it';

export function builder(yargs: Argv) {
  return withSchemaFiles(yargs)
    .option('advice', {
      describe: 'also say what could be simpler',
      type: 'boolean',
      default: false,
    })
    .option('json', { describe: 'print one JSON value', type: 'boolean', default: false })
    .option('sarif', {
      describe: 'print the problems as SARIF 2.1.0, for editors and CI',
      type: 'boolean',
      default: false,
    })
    .example(
      '$0 check ferry.stores.yaml',
      'what is in it, or its problems with file, line and column',
    )
    .example("$0 check 'src/**/*.stores.yaml'", 'several files as one schema');
}

export interface CheckArguments {
  readonly files: readonly string[];
  readonly advice: boolean;
  readonly json: boolean;
  readonly sarif: boolean;
}

export async function run(
  io: Io,
  { files: named, advice, json, sarif }: CheckArguments,
): Promise<number> {
  requireOneOf({ json, sarif });
  const core = await import('../../index.js');
  const files = await readSchemas(io, named);
  const { application, problems: all } = await core.checkSchemas(files, schemaAccess(io));
  const problems = all.filter(({ severity }) => advice || severity !== 'advice');
  const paths = files.map(({ path }) => path);
  const print = (value: unknown) => {
    io.stdout(`${JSON.stringify(value, null, 2)}\n`);
  };
  if (json) print(core.checkToJson(paths, application, problems));
  else if (sarif) print(core.problemsToSarif(problems, ownVersion()));
  else {
    const paint = paintFor(io);
    const rendered = core.renderProblems(problems, paint);
    const told =
      problems.length === 0
        ? []
        : [`${rendered}\n\n${paint.bold(core.countText(problems))} in ${paths.join(', ')}`];
    const summary = application === undefined ? [] : [core.summaryText(paths, application, paint)];
    io.stdout(`${[...told, ...summary].join('\n\n')}\n`);
  }
  return application === undefined ? exitCodes.unusable : exitCodes.fine;
}
