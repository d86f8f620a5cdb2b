import { existsSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { basename, dirname, join, relative, resolve } from 'node:path';
import type { Argv } from 'yargs';
import { checkedSchema } from '../checked-schema.js';
import { readText } from '../files.js';
import { ownVersion, packageRoot } from '../../library/package-files.js';
import { exitCodes, paintFor, Unusable, type Io } from '../io.js';
import { replaceFile } from '../replace-file.js';
import { makeFolder } from '../make-folder.js';
import { requireTypes } from '../types-of-module.js';
import type { ArgumentsOf } from '../options/table.js';

export const command = 'new <where..>';
export const describe =
  'Write a small schema to start from, with what an editor needs to complete it; or a participant file';

export function builder(yargs: Argv) {
  return yargs
    .positional('where', {
      describe: 'the folder, made if it is not there; with --participant the schema files',
      type: 'string',
      array: true,
    })
    .demandOption('where')
    .example('$0 new stores', 'then: leeshore check stores/*.stores.yaml')
    .example(
      '$0 new ferry.stores.yaml --participant old.participant.ts',
      'then: leeshore compare ferry.stores.yaml --with old.participant.ts',
    );
}

export type NewArguments = ArgumentsOf<'new'> & { readonly where: readonly string[] };

export function run(io: Io, args: NewArguments): Promise<number> | number {
  const { where, participant, types } = args;
  if (participant !== undefined) return newParticipant(io, args);
  if (types !== undefined) throw new Unusable('--types goes with --participant.', 'Leave it out.');
  const [dir = '', ...more] = where;
  if (more.length > 0)
    throw new Unusable('new makes one folder at a time.', 'With --participant, name schema files.');
  return newFolder(io, dir);
}

/** The files, and where they stand in the package. */
const files = {
  'berth.stores.yaml': 'examples/start/berth.stores.yaml',
  'leeshore-1.schema.json': 'schema/leeshore-1.schema.json',
} as const;

function newFolder(io: Io, dir: string): number {
  const texts = Object.entries(files).map(
    ([name, from]) => [join(dir, name), readFileSync(join(packageRoot(), from), 'utf8')] as const,
  );
  writeAll(io, dir, texts, 'Name another folder.');
  const written = texts.map(([path]) => path);
  say(io, written, `leeshore check ${join(dir, 'berth.stores.yaml')}`);
  return exitCodes.fine;
}

/** A participant file and the types that it imports; or what is missing in one that is there, added to it. */
async function newParticipant(
  io: Io,
  { where: schemas, participant: path = '', types: module }: NewArguments,
): Promise<number> {
  const checked = await checkedSchema(io, schemas);
  if ('exitCode' in checked) return checked.exitCode;
  const { application, file } = checked;
  const { ownershipOf, participantFor, participantUpdate, typesModule } =
    await import('../../core.js');
  const beside = join(dirname(path), `${stemOf(file.path)}.types.ts`);
  const types = module ?? importedAs(beside, path);
  const full = resolve(io.cwd, path);
  const isNew = !existsSync(full);
  const updated = isNew
    ? undefined
    : await participantUpdate(application, { path, text: readText(io, path), types });
  const made = isNew
    ? await participantFor(application, { schema: file.path, types })
    : updated?.text;
  if (module !== undefined && made !== undefined) requireTypes(io, path, made, module);
  const written: string[] = [];
  if (module === undefined && made?.includes(types) === true) {
    const text = await typesModule(application, { version: ownVersion(), schema: file.path });
    const before = existsSync(resolve(io.cwd, beside)) ? readText(io, beside) : undefined;
    if (before !== undefined && ownershipOf(before) !== 'generated')
      throw new Unusable(
        `${beside} is there already, and was not written by Leeshore.`,
        'Name a module of types with --types.',
      );
    if (before !== text) {
      makeFolder(dirname(full));
      replaceFile(io, beside, text, 'Name another file with --participant.');
      written.push(beside);
    }
  }
  if (isNew && made !== undefined) {
    writeAll(io, dirname(path), [[path, made]], 'Name another file with --participant.');
    say(io, [path, ...written], `leeshore compare ${schemas.join(' ')} --with ${path}`);
    return exitCodes.fine;
  }
  if (updated === undefined)
    throw new Unusable(
      `${path} is there already, and its tables are not written out in it.`,
      'Name another file with --participant, and copy from it what is missing.',
    );
  if (updated.added.length > 0) replaceFile(io, path, updated.text, 'Look at its permissions.');
  const paint = paintFor(io);
  const lines = [
    ...written.map((one) => `${paint.green('written')}  ${one}`),
    ...updated.added.map((name) => `${paint.green('added')}    ${name}`),
    ...updated.gone.map((name) => `${paint.yellow('not in the schema')}  ${name}`),
    ...(updated.added.length + updated.gone.length === 0
      ? [`${path} has every name of the schema.`]
      : []),
  ];
  io.print(`${lines.join('\n')}\n`);
  return exitCodes.fine;
}

/** The name of a schema file without its endings. */
function stemOf(path: string): string {
  return basename(path).replace(/(\.stores)?\.(ya?ml|json)$/, '');
}

/** How a file imports another one that stands in its folder. */
function importedAs(path: string, from: string): string {
  const way = relative(dirname(from), path).replaceAll('\\', '/').replace(/\.ts$/, '.js');
  return way.startsWith('.') ? way : `./${way}`;
}

/** Writes all of the files, or none; never over another. */
function writeAll(
  io: Io,
  folder: string,
  texts: readonly (readonly [path: string, text: string])[],
  wayOut: string,
): void {
  const there = texts.find(([path]) => existsSync(resolve(io.cwd, path)));
  if (there !== undefined) throw new Unusable(`${there[0]} is there already.`, wayOut);
  const written: string[] = [];
  try {
    makeFolder(resolve(io.cwd, folder));
    for (const [path, text] of texts) {
      const full = resolve(io.cwd, path);
      writeFileSync(full, text, { flag: 'wx' });
      written.push(full);
    }
  } catch (error) {
    for (const path of written) rmSync(path, { force: true });
    const code = (error as NodeJS.ErrnoException).code ?? 'unknown reason';
    throw new Unusable(`${folder} cannot be written (${code}).`, wayOut);
  }
}

function say(io: Io, written: readonly string[], next: string): void {
  const paint = paintFor(io);
  const names = written.map((path) => `  ${path}`);
  io.note(`${['Written:', ...names, '', `Next: ${paint.cyan(next)}`].join('\n')}\n`);
}
