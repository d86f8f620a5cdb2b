import { existsSync } from 'node:fs';
import { dirname, isAbsolute, join, relative, resolve } from 'node:path';
import type { Config } from './config-in.js';
import { readText } from './files.js';
import { Unusable, type Io } from './io.js';

/** The name of the project file. */
export const configName = 'leeshore.config.yaml';

const noConfig: Config = { files: [], options: {} };

/** The options that are paths: in a project file they are relative to it. */
const paths = new Set(['out', 'generated', 'corpus', 'with', 'junit', 'script', 'save', 'against']);

/**
 * Reads the project file: the one that `--config` names, or that of this folder or the nearest above it, for commands
 * that take schema files. Throws {@link Unusable} if something is wrong in it.
 */
export async function configFor(
  io: Io,
  argv: readonly string[],
  takesFiles: boolean,
): Promise<Config> {
  const named = namedIn(argv);
  if (named !== undefined && !existsSync(resolve(io.cwd, named)))
    throw new Unusable(`There is no file ${named}.`, `Paths are relative to ${io.cwd}.`);
  const path = named ?? nearestConfig(io.cwd);
  if (path === undefined || !takesFiles) return noConfig;
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
          Object.entries(own).map(([name, value]) => [
            name,
            paths.has(name) && typeof value === 'string' ? at(value) : value,
          ]),
        ),
      ]),
    ),
  };
}
