import type { Argv } from 'yargs';
import { readSchemas, schemaAccess } from '../files.js';
import { ownVersion } from '../../library/package-files.js';
import { exitCodes, paintFor, requireOneOf, type Io } from '../io.js';
import { withSchemaFiles } from '../schema-files.js';
import type { ArgumentsOf } from '../options/table.js';

export const command = 'check [files..]';
export const describe = 'Say what is in a schema, or what is wrong with it';

export function builder(yargs: Argv) {
  return withSchemaFiles(yargs)
    .example(
      '$0 check ferry.stores.yaml',
      'what is in it, or its problems with file, line and column',
    )
    .example("$0 check 'src/**/*.stores.yaml'", 'several files as one schema');
}

export type CheckArguments = ArgumentsOf<'check'> & {
  readonly files: readonly string[];
  /** True if a schema without problems is told in two lines. */
  readonly brief?: boolean;
};

export async function run(io: Io, args: CheckArguments): Promise<number> {
  const { json, sarif, watch } = args;
  requireOneOf({ json, sarif, watch });
  if (!watch) return (await checked(io, args)).exitCode;
  const { watchAndCheck } = await import('../watch.js');
  return watchAndCheck(io, async () => (await checked(io, args)).read);
}

/** Says what is in a schema, or what is wrong; with the files that were read. */
async function checked(
  io: Io,
  { files: named, advice, json, sarif, maxWarnings, brief = false }: CheckArguments,
): Promise<{ readonly exitCode: number; readonly read: readonly string[] }> {
  const core = await import('../../core.js');
  const files = await readSchemas(io, named);
  const read = files.map(({ path }) => path);
  const access = schemaAccess(io);
  const { application, problems: all } = await core.checkSchemas(files, {
    ...access,
    read(path) {
      read.push(path);
      return access.read(path);
    },
  });
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
  const isFine = application !== undefined && !isTooMuch;
  return { exitCode: isFine ? exitCodes.fine : exitCodes.findings, read };
}
