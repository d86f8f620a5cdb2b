import type { Script } from '../comparing/index.js';
import { loadLogged } from '../generation/loaders.js';
import type { PlayedScript, Replayed, ReplayOptions, ReplayReading } from '../logs/index.js';
import type { Application } from '../model/application.js';
import type { GeneratedFolder } from '../participants/index.js';
import type { ExternalFile } from '../workers/index.js';
import { loadPlaying, loadReplaying } from '../workers/loaders.js';

/** The participants that a log is replayed with, besides the reference. */
export interface ReplayCast {
  readonly application: Application;
  readonly folders: readonly GeneratedFolder[];
  readonly external: readonly ExternalFile[];
  /** The file whose `log` says what the names in the log are; the external one if not given. */
  readonly mapping?: ExternalFile | undefined;
}

/**
 * Replays a log with the reference and other participants. Throws `LogError` and `InconsistentLog` for a log that cannot be
 * read, and `LoadError` for code that cannot be loaded.
 */
export async function replayLog(
  { application, folders, external, mapping }: ReplayCast,
  open: () => AsyncIterable<string>,
  { patience, ...options }: LogReplayOptions,
  reading: ReplayReading = {},
): Promise<Replayed> {
  const { replayWhole } = await loadReplaying();
  const { schemaDigest } = await loadLogged();
  const cast = { application, folders, external, classes: undefined };
  const file = mapping ?? external[0];
  const request = {
    ...options,
    digest: schemaDigest(application),
    ...(file && { mapping: { file, isWanted: mapping !== undefined } }),
  };
  return replayWhole(cast, request, open, { ...reading, patience });
}

/** `patience`: how long one call of an external participant may take, in milliseconds; 2,000 if not given. */
export type LogReplayOptions = Pick<ReplayOptions, 'from' | 'to' | 'differences'> & {
  readonly patience?: number | undefined;
};

/** Does a script with several participants, and says what each showed after each step. Throws `LoadError`. */
export async function playScript(
  { application, folders, external }: ReplayCast,
  script: Script,
): Promise<PlayedScript> {
  const cast = { application, folders, external, classes: undefined };
  const { playHere, playInWorker } = await loadPlaying();
  return external.length === 0 ? playHere(cast, script) : playInWorker(cast, script);
}
