import type { Argv } from 'yargs';
import { readSchemas, schemaAccess } from '../files.js';
import { ownVersion } from '../../library/package-files.js';
import { exitCodes, paintFor, requireOneOf, Unusable, type Io } from '../io.js';
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
    .option('max-warnings', {
      describe: 'exit code 1 if there are more warnings than this',
      type: 'number',
      requiresArg: true,
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
  readonly maxWarnings?: number | undefined;
  /** Whether a schema without problems is told in two lines. */
  readonly brief?: boolean;
}

export async function run(
  io: Io,
  { files: named, advice, json, sarif, maxWarnings, brief = false }: CheckArguments,
): Promise<number> {
  requireOneOf({ json, sarif });
  if (maxWarnings !== undefined && !(Number.isInteger(maxWarnings) && maxWarnings >= 0))
    throw new Unusable(
      '--max-warnings takes a whole number from 0.',
      'For example --max-warnings 0.',
    );
  const core = await import('../../core.js');
  const files = await readSchemas(io, named);
  const { application, problems: all } = await core.checkSchemas(files, schemaAccess(io));
  const problems = all.filter(({ severity }) => advice || severity !== 'advice');
  const warnings = all.filter(({ severity }) => severity === 'warning').length;
  const isTooMuch = maxWarnings !== undefined && warnings > maxWarnings;
  const paths = files.map(({ path }) => path);
  const data = (value: unknown) => {
    io.stdout(`${JSON.stringify(value, null, 2)}\n`);
  };
  if (json) data(core.checkToJson(paths, application, problems));
  else if (sarif) data(core.problemsToSarif(problems, ownVersion()));
  else {
    const paint = paintFor(io);
    if (problems.length > 0)
      io.print(
        `${core.renderProblems(problems, paint)}\n\n${paint.bold(core.countText(problems))} in ${paths.join(', ')}\n`,
      );
    const gap = problems.length > 0 ? '\n' : '';
    if (application !== undefined) {
      const lines = core.summaryText(paths, application, paint).split('\n');
      io.note(`${gap}${(brief ? lines.slice(0, 2) : lines).join('\n')}\n`);
    }
    if (isTooMuch)
      io.print(
        `\n${paint.red('too many warnings')}: ${warnings}, at most ${maxWarnings} are allowed.\n`,
      );
  }
  return application === undefined || isTooMuch ? exitCodes.findings : exitCodes.fine;
}
