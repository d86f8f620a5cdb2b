import { isObject } from '../base/json.js';
import { importText, LoadError, unwatched, type Watchdog } from '../participants/index.js';
import { LogMapping } from '../logs/index.js';
import type { ExternalLog } from '../model/external.js';
import type { ExternalFile } from './searching-of.js';

/** What a file says of the names in a log; `watchdog` sees each call of its code. Throws {@link LoadError} for one that says nothing, if it must. */
export async function mappingIn(
  { path, bundle }: ExternalFile,
  isWanted: boolean,
  watchdog: Watchdog = unwatched,
): Promise<LogMapping | undefined> {
  const exported = await importText(path, bundle);
  const log = isObject(exported) ? exported['log'] : undefined;
  if (log === undefined && !isWanted) return undefined;
  if (isObject(log) && isObject(log['actions']) && isObject(log['state']))
    return new LogMapping(log as unknown as ExternalLog, (call) => watchdog.during(call));
  throw new LoadError(
    path,
    "what it exports by default has no 'log' with the tables 'actions' and 'state'",
  );
}
