import { existsSync, mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join, resolve } from 'node:path';
import type { Argv } from 'yargs';
import { packageRoot } from '../files.js';
import { exitCodes, paintFor, Unusable, type Io } from '../io.js';

export const command = 'new <dir>';
export const describe =
  'Write a small schema to start from, with what an editor needs to complete it';

export function builder(yargs: Argv) {
  return yargs
    .positional('dir', { describe: 'the folder; made if it is not there', type: 'string' })
    .demandOption('dir')
    .example('$0 new stores', 'then: leeshore check stores/*.stores.yaml');
}

export interface NewArguments {
  readonly dir: string;
}

/** The files, and where they stand in the package. */
const files = {
  'berth.stores.yaml': 'examples/start/berth.stores.yaml',
  'leeshore-1.schema.json': 'schema/leeshore-1.schema.json',
} as const;

export function run(io: Io, { dir }: NewArguments): number {
  const folder = resolve(io.cwd, dir);
  const there = Object.keys(files).find((name) => existsSync(join(folder, name)));
  if (there !== undefined)
    throw new Unusable(`${join(dir, there)} is there already.`, 'Name another folder.');
  const written: string[] = [];
  try {
    mkdirSync(folder, { recursive: true });
    for (const [name, from] of Object.entries(files)) {
      writeFileSync(join(folder, name), readFileSync(join(packageRoot(), from)), { flag: 'wx' });
      written.push(join(folder, name));
    }
  } catch (error) {
    for (const path of written) rmSync(path, { force: true });
    const code = (error as NodeJS.ErrnoException).code ?? 'unknown reason';
    throw new Unusable(`${dir} cannot be written (${code}).`, 'Name another folder.');
  }
  const paint = paintFor(io);
  const names = Object.keys(files).map((name) => `  ${join(dir, name)}`);
  const next = `leeshore check ${join(dir, 'berth.stores.yaml')}`;
  io.stdout(`${['Written:', ...names, '', `Next: ${paint.cyan(next)}`].join('\n')}\n`);
  return exitCodes.fine;
}
