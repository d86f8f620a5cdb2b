import type { CheckResult, SchemaFile } from '../index.js';
import { readSchema } from './files.js';
import { exitCodes, paintFor, type Io } from './io.js';

type Model = NonNullable<CheckResult['application']>;

/** Reads and checks a schema for a command that needs a good one: prints the problems and gives the exit code if it is not. */
export async function checkedSchema(
  io: Io,
  path: string,
): Promise<
  { readonly file: SchemaFile; readonly application: Model } | { readonly exitCode: number }
> {
  const { checkSchema, renderProblems } = await import('../index.js');
  const file = readSchema(io, path);
  const { application, problems } = await checkSchema(file);
  if (application !== undefined) return { file, application };
  const paint = paintFor(io, io.isErrorTerminal);
  io.stderr(
    `${renderProblems(problems, paint)}\n\n${paint.bold(`${problems.length} problem${problems.length === 1 ? '' : 's'}`)}\n`,
  );
  return { exitCode: exitCodes.unusable };
}
