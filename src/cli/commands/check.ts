import type { Argv } from 'yargs';
import { readSchema } from '../files.js';
import { exitCodes, paintFor, type Io } from '../io.js';

export const command = 'check <files..>';
export const describe = 'Say what is in a schema, or what is wrong with it';

export function builder(yargs: Argv) {
  return yargs
    .positional('files', {
      describe: 'schema files',
      type: 'string',
      array: true,
      demandOption: true,
    })
    .option('json', { describe: 'print one JSON value', type: 'boolean', default: false })
    .example(
      '$0 check ferry.stores.yaml',
      'what is in it, or its problems with file, line and column',
    );
}

export interface CheckArguments {
  readonly files: readonly string[];
  readonly json: boolean;
}

export async function run(io: Io, { files, json }: CheckArguments): Promise<number> {
  const { checkSchema, checkToJson, renderProblems, summaryText } = await import('../../index.js');
  const results = await Promise.all(
    files.map(async (path) => ({ path, ...(await checkSchema(readSchema(io, path))) })),
  );
  const isFine = results.every(({ application }) => application !== undefined);
  if (json) io.stdout(`${JSON.stringify(checkToJson(results), null, 2)}\n`);
  else {
    const paint = paintFor(io);
    const texts = results.map(({ path, application, problems }) =>
      application === undefined
        ? `${renderProblems(problems, paint)}\n\n${paint.red(`${problems.length} problem${problems.length === 1 ? '' : 's'}`)} in ${path}`
        : summaryText(path, application, paint),
    );
    io.stdout(`${texts.join('\n\n')}\n`);
  }
  return isFine ? exitCodes.fine : exitCodes.unusable;
}
