import { existsSync } from 'node:fs';
import { resolve } from 'node:path';
import type { Config } from './config-in.js';
import { readText } from './files.js';
import type { Io } from './io.js';

/** The name of the project file. */
export const configName = 'leeshore.config.yaml';

/** What holds without a project file. */
export const noConfig: Config = { files: [], options: {} };

/** Reads the project file of the folder, if there is one. Throws {@link Unusable} if something is wrong in it. */
export async function readConfig(io: Io): Promise<Config> {
  if (!existsSync(resolve(io.cwd, configName))) return noConfig;
  const { configIn } = await import('./config-in.js');
  return configIn(readText(io, configName), configName);
}
