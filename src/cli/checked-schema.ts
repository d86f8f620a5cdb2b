import type { CheckResult, SchemaFile } from '../core.js';
import { readSchemas, schemaAccess } from './files.js';
import { exitCodes, type Io } from './io.js';
import { printProblems } from './print-problems.js';

type Model = NonNullable<CheckResult['application']>;

/**
 * Reads and checks a schema for a command that needs a good one: prints the problems and gives the exit code
 * if it is not. `onRead` is told of every file that belongs to it.
 */
export async function checkedSchema(
  io: Io,
  paths: readonly string[],
  onRead: (path: string) => void = () => undefined,
): Promise<
  { readonly file: SchemaFile; readonly application: Model } | { readonly exitCode: number }
> {
  const { checkSchemas } = await import('../core.js');
  const files = await readSchemas(io, paths);
  for (const { path } of files) onRead(path);
  const access = schemaAccess(io);
  const { application, problems } = await checkSchemas(files, {
    ...access,
    read(path) {
      onRead(path);
      return access.read(path);
    },
  });
  const [file] = files;
  if (application !== undefined && file !== undefined) return { file, application };
  const named = files.map(({ path }) => path);
  await printProblems(io, named, problems);
  return { exitCode: exitCodes.findings };
}
