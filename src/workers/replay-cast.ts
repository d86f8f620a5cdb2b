import { isObject } from '../base/json.js';
import { referenceParticipant } from '../interpret/reference.js';
import { generatedParticipant, type GeneratedFolder } from '../load/generated-participant.js';
import { importText } from '../load/import-text.js';
import { LoadError } from '../load/load-error.js';
import { namesOf } from '../load/names.js';
import { unwatched } from '../load/watchdog.js';
import { LogMapping } from '../log/mapping.js';
import type { Application } from '../model/application.js';
import type { BroughtLog } from '../model/brought.js';
import type { Participant } from '../model/participant.js';
import { broughtBy, type BroughtFile } from './searching-of.js';

/** What is needed to replay a log. */
interface Cast {
  readonly application: Application;
  readonly folders: readonly GeneratedFolder[];
  readonly brought: readonly BroughtFile[];
  readonly mapping?: BroughtFile | undefined;
}

/** The participants, the reference first, and what the names in the log are. Throws {@link LoadError}. */
export async function replayCast({ application, folders, brought, mapping }: Cast): Promise<{
  readonly participants: readonly Participant[];
  readonly mapping: LogMapping | undefined;
}> {
  const names = namesOf(application);
  const participants = [
    referenceParticipant(application),
    ...folders.map(({ name, style, files }) => generatedParticipant(name, style, files, names)),
  ];
  for (const { path, bundle } of brought)
    participants.push(await broughtBy(path, bundle, application, unwatched));
  const [own] = brought;
  const from = mapping ?? own;
  const log = from && (await mappingIn(from, mapping !== undefined));
  return { participants, mapping: log && new LogMapping(log) };
}

/** What a file says of the names in a log. Throws {@link LoadError} for one that says nothing, if it must. */
async function mappingIn(
  { path, bundle }: BroughtFile,
  isWanted: boolean,
): Promise<BroughtLog | undefined> {
  const exported = await importText(path, bundle);
  const log = isObject(exported) ? exported['log'] : undefined;
  if (log === undefined && !isWanted) return undefined;
  if (isObject(log) && isObject(log['actions']) && isObject(log['state']))
    return log as unknown as BroughtLog;
  throw new LoadError(
    path,
    "what it exports by default has no 'log' with the tables 'actions' and 'state'",
  );
}
