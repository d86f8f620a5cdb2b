import type { Argv } from 'yargs';
import { readSchemas } from '../files.js';
import { exitCodes, paintFor, type Io } from '../io.js';
import { replaceFile } from '../replace-file.js';
import { withSchemaFiles } from '../schema-files.js';

export const command = 'format [files..]';
export const describe = 'Write schema files in one tidy form, comments kept';

export function builder(yargs: Argv) {
  return withSchemaFiles(yargs)
    .option('check', {
      describe: 'write nothing; exit code 1 if a file is not tidy',
      type: 'boolean',
      default: false,
    })
    .example('$0 format ferry.stores.yaml', 'expressions in double quotes, long ones folded')
    .example("$0 format --check '**/*.stores.yaml'", 'for CI');
}

export interface FormatArguments {
  readonly files: readonly string[];
  readonly check: boolean;
}

export async function run(io: Io, { files: named, check }: FormatArguments): Promise<number> {
  const { countText, formatSchema, renderProblems } = await import('../../index.js');
  const files = await readSchemas(io, named);
  const results = await Promise.all(
    files.map(async (file) => ({ file, ...(await formatSchema(file)) })),
  );
  const problems = results.flatMap((result) => ('problems' in result ? result.problems : []));
  if (problems.length > 0) {
    const paint = paintFor(io, io.isErrorTerminal);
    io.stderr(`${renderProblems(problems, paint)}\n\n${paint.bold(countText(problems))}\n`);
    return exitCodes.unusable;
  }
  const untidy = results.flatMap((result) =>
    'text' in result && result.text !== result.file.text
      ? [{ path: result.file.path, text: result.text }]
      : [],
  );
  if (!check)
    for (const { path, text } of untidy) replaceFile(io, path, text, 'Look at its permissions.');
  const paint = paintFor(io);
  for (const { path } of untidy)
    io.stdout(`${paint.bold(path)}  ${check ? paint.yellow('not tidy') : 'written'}\n`);
  const left = results.length - untidy.length;
  if (left > 0) io.stdout(`${left} file${left === 1 ? ' is' : 's are'} tidy\n`);
  return check && untidy.length > 0 ? exitCodes.findings : exitCodes.fine;
}
