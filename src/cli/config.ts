import { existsSync } from 'node:fs';
import { dirname, isAbsolute, join, relative, resolve } from 'node:path';
import type { Config } from './config-in.js';
import { readText } from './files.js';
import { Unusable, type Io } from './io.js';
import { allOptions } from './options/table.js';

/** The name of the project file. */
export const configName = 'leeshore.config.yaml';

const noConfig: Config = { files: [], options: {} };

/**
 * Reads the project file: the one that `--config` names, or that of this folder or the nearest above it, for commands
 * that have options in it. Throws {@link Unusable} if something is wrong in it.
 */
export async function configFor(
  io: Io,
  argv: readonly string[],
  isHeeded: boolean,
): Promise<Config> {
  const named = namedIn(argv);
  if (named !== undefined && !existsSync(resolve(io.cwd, named)))
    throw new Unusable(`There is no file ${named}.`, `Paths are relative to ${io.cwd}.`);
  const path = named ?? nearestConfig(io.cwd);
  if (path === undefined || !isHeeded) return noConfig;
  const { configIn } = await import('./config-in.js');
  const shown = relative(io.cwd, resolve(io.cwd, path));
  return placed(configIn(readText(io, path), shown), dirname(shown));
}

function namedIn(argv: readonly string[]): string | undefined {
  const at = argv.findIndex((one) => one === '--config' || one.startsWith('--config='));
  if (at < 0) return undefined;
  const [, joined] = (argv[at] ?? '').split('=');
  return joined ?? argv[at + 1];
}

function nearestConfig(folder: string): string | undefined {
  const path = join(folder, configName);
  if (existsSync(path)) return path;
  const above = dirname(folder);
  return above === folder ? undefined : nearestConfig(above);
}

/** A project file of another folder, as if it stood here. */
function placed({ files, options }: Config, folder: string): Config {
  const at = (path: string) => (isAbsolute(path) ? path : join(folder, path));
  return {
    files: files.map(at),
    options: Object.fromEntries(
      Object.entries(options).map(([command, own]) => [
        command,
        Object.fromEntries(
          Object.entries(own).map(([name, value]) => [name, placedValue(command, name, value, at)]),
        ),
      ]),
    ),
  };
}

/** Paths are relative to the project file that says them. */
function placedValue(
  command: string,
  name: string,
  value: unknown,
  at: (path: string) => string,
): unknown {
  const option = (allOptions[command] ?? {})[name];
  if (typeof value !== 'string' || option === undefined) return value;
  if (option.kind === 'path') return at(value);
  return option.kind === 'names' && option.arePaths === true
    ? value
        .split(',')
        .map((path) => at(path.trim()))
        .join(',')
    : value;
}
