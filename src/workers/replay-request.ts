import { Replay, type ReplayOptions } from '../logs/index.js';
import type { Watchdog } from '../participants/index.js';
import { mappingIn } from './mapping-in.js';
import type { ExternalFile, Cast } from './searching-of.js';

/** How a log is done again, as data that can be given to a worker. */
export type ReplayRequest = Omit<ReplayOptions, 'mapping' | 'onGroup'> & {
  /** The file that says what the names in the log are, and whether it must. */
  readonly mapping?: { readonly file: ExternalFile; readonly isWanted: boolean } | undefined;
};

/** A replay that is begun. `onGroup`: told the first line of a group before it is done. */
export async function replayOf(
  application: Cast['application'],
  participants: ConstructorParameters<typeof Replay>[1],
  { mapping, ...options }: ReplayRequest,
  onGroup?: (line: number) => void,
  watchdog?: Watchdog,
): Promise<Replay> {
  return new Replay(application, participants, {
    ...options,
    mapping: mapping && (await mappingIn(mapping.file, mapping.isWanted, watchdog)),
    ...(onGroup && { onGroup }),
  });
}
