import { existsSync, readdirSync, readFileSync, statSync } from 'node:fs';
import { join, relative, resolve } from 'node:path';
import type { Argv } from 'yargs';
import { exitCodes, paintFor, requireOneOf, Unusable, type Io } from '../io.js';
import { ownVersion } from '../../library/package-files.js';
import { progressOf } from '../progress.js';
import { sourceFiles } from '../source-files.js';
import type { ArgumentsOf } from '../options/table.js';

export const command = 'survey <sources..>';
export const describe = 'List the places of an application that still use the old store';

export function builder(yargs: Argv) {
  return yargs
    .positional('sources', {
      describe: "the application's modules: folders, files or patterns",
      type: 'string',
      array: true,
    })
    .demandOption('sources')
    .example('$0 survey src --old src/old-store.ts', 'what is left, by module and by member')
    .example(
      '$0 survey src --old src/old-store.ts --new src/stores/proxy --left 0',
      'for CI: exit code 1 until nothing is left',
    );
}

export type SurveyArguments = ArgumentsOf<'survey'> & {
  readonly sources: readonly string[];
};

export async function run(io: Io, args: SurveyArguments): Promise<number> {
  const { json, sarif, brief, left } = args;
  requireOneOf({ json, sarif, brief });
  const { styleOf, survey, SurveyError, surveyText, surveyToJson, surveyToSarif } =
    await import('../../core.js');
  const { modules, notRead } = await sourceFiles(io, args.sources);
  const progress = await progressOf(io, modules.length, 'looking for places');
  const request = {
    begin: (module: string, i: number) => {
      progress.at(i, relative(io.cwd, module));
    },
    modules,
    notRead,
    old: args.old.split(',').map((path) => fileAt(io, path.trim())),
    newIndex: args.new === undefined ? undefined : indexIn(io, args.new, styleOf),
    participant: args.with === undefined ? undefined : fileAt(io, args.with),
    folder: io.cwd,
  };
  const result = await survey(request).catch((error: unknown) => {
    throw error instanceof SurveyError ? new Unusable(error.message, error.hint) : error;
  });
  progress.stop();
  if (json) io.stdout(`${JSON.stringify(surveyToJson(result), null, 2)}\n`);
  else if (sarif) io.stdout(`${JSON.stringify(surveyToSarif(result, ownVersion()), null, 2)}\n`);
  else io.print(`${surveyText(result, paintFor(io), brief)}\n`);
  const open = result.left.length + result.unclear.length + result.notRead.length;
  const isTooMuch = left !== undefined && open > left;
  const isWhole = result.notRead.every(({ framework }) => framework !== undefined);
  return isTooMuch || !isWhole || result.slips.length > 0 ? exitCodes.findings : exitCodes.fine;
}

/** The full path of a file that the user named. Throws {@link Unusable}. */
function fileAt(io: Io, path: string): string {
  const full = resolve(io.cwd, path);
  if (!existsSync(full))
    throw new Unusable(`There is no file ${path}.`, `Paths are relative to ${io.cwd}.`);
  if (statSync(full).isDirectory())
    throw new Unusable(`${path} is a folder.`, 'Name a file in it.');
  return full;
}

/** The entry of generated stores: in the folder, or in that of the only style in it. Throws {@link Unusable}. */
function indexIn(io: Io, folder: string, styleOf: (text: string) => string | undefined): string {
  const full = resolve(io.cwd, folder);
  const entry = (at: string) =>
    ['index.ts', 'index.d.ts', 'index.js']
      .map((name) => join(at, name))
      .find((path) => existsSync(path));
  const isOurs = (path: string | undefined): path is string =>
    path !== undefined && styleOf(readFileSync(path, 'utf8')) !== undefined;
  const own = existsSync(full) ? entry(full) : undefined;
  if (isOurs(own)) return own;
  const below =
    existsSync(full) && statSync(full).isDirectory()
      ? readdirSync(full, { withFileTypes: true })
      : [];
  const styles = below
    .filter((one) => one.isDirectory())
    .map(({ name }) => entry(join(full, name)))
    .filter(isOurs);
  const [only, ...more] = styles;
  if (only !== undefined && more.length === 0) return only;
  const names = styles.map((path) => relative(io.cwd, join(path, '..')));
  throw new Unusable(
    `${folder} has no generated stores.`,
    names.length === 0
      ? 'Name the folder that leeshore generate wrote.'
      : `Name one of: ${names.join(', ')}.`,
  );
}
