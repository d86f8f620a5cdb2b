import { existsSync, mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { dirname, join, resolve } from 'node:path';
import type { Argv } from 'yargs';
import { checkedSchema } from '../checked-schema.js';
import { packageRoot } from '../files.js';
import { exitCodes, paintFor, Unusable, type Io } from '../io.js';

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
    .option('participant', {
      describe: 'write this participant file, in which the old stores are to be called',
      type: 'string',
      requiresArg: true,
    })
    .example('$0 new stores', 'then: leeshore check stores/*.stores.yaml')
    .example(
      '$0 new ferry.stores.yaml --participant old.participant.ts',
      'then: leeshore compare ferry.stores.yaml --with old.participant.ts',
    );
}

export interface NewArguments {
  readonly where: readonly string[];
  readonly participant?: string | undefined;
}

export function run(io: Io, { where, participant }: NewArguments): Promise<number> | number {
  if (participant !== undefined) return newParticipant(io, where, participant);
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

async function newParticipant(io: Io, schemas: readonly string[], path: string): Promise<number> {
  const checked = await checkedSchema(io, schemas);
  if ('exitCode' in checked) return checked.exitCode;
  const { participantFor } = await import('../../index.js');
  const text = await participantFor(checked.application, checked.file.path);
  writeAll(io, dirname(path), [[path, text]], 'Name another file with --participant.');
  say(io, [path], `leeshore compare ${schemas.join(' ')} --with ${path}`);
  return exitCodes.fine;
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
    mkdirSync(resolve(io.cwd, folder), { recursive: true });
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
