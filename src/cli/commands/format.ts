import type { Argv } from 'yargs';
import { readSchemas, standardInput } from '../files.js';
import { exitCodes, paintFor, type Io } from '../io.js';
import { printProblems } from '../print-problems.js';
import { replaceFile } from '../replace-file.js';
import { withSchemaFiles } from '../schema-files.js';
import type { ArgumentsOf } from '../options/table.js';

export const command = 'format [files..]';
export const describe = 'Write schema files in one tidy form, comments kept';

export function builder(yargs: Argv) {
  return withSchemaFiles(yargs)
    .example('$0 format ferry.stores.yaml', 'expressions in double quotes, long ones folded')
    .example("$0 format --check '**/*.stores.yaml'", 'for CI');
}

export type FormatArguments = ArgumentsOf<'format'> & { readonly files: readonly string[] };

export async function run(io: Io, { files: named, check }: FormatArguments): Promise<number> {
  const { formatSchema } = await import('../../core.js');
  const files = await readSchemas(io, named);
  const results = await Promise.all(
    files.map(async (file) => ({ file, ...(await formatSchema(file)) })),
  );
  const problems = results.flatMap((result) => ('problems' in result ? result.problems : []));
  if (problems.length > 0) {
    await printProblems(
      io,
      files.map(({ path }) => path),
      problems,
    );
    return exitCodes.findings;
  }
  const untidy = results.flatMap((result) =>
    'text' in result && result.text !== result.file.text
      ? [{ path: result.file.path, text: result.text }]
      : [],
  );
  // What came from standard input goes on to standard output.
  const piped = results.find(({ file }) => file.path === standardInput);
  if (piped !== undefined && !check && 'text' in piped) io.stdout(piped.text);
  if (!check)
    for (const { path, text } of untidy)
      if (path !== standardInput) replaceFile(io, path, text, 'Look at its permissions.');
  if (piped !== undefined && !check) return exitCodes.fine;
  const paint = paintFor(io);
  for (const { path } of untidy)
    (check ? io.print : io.note)(
      `${paint.bold(path)}  ${check ? paint.yellow('not tidy') : 'written'}\n`,
    );
  const left = results.length - untidy.length;
  if (left > 0) io.note(`${left} file${left === 1 ? ' is' : 's are'} tidy\n`);
  return check && untidy.length > 0 ? exitCodes.findings : exitCodes.fine;
}
