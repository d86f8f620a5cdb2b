import { basename } from 'node:path';
import {
  observedOf,
  type Constants,
  allConstants,
  schemaConstants,
  Reached,
  type Searching,
} from '../comparing/index.js';
import { referenceParticipant, reloadedBy } from '../meaning/index.js';
import { thrownText } from '../base/thrown-text.js';
import {
  WaysGone,
  type Span,
  waysTold,
  externalParticipant,
  generatedParticipant,
  type GeneratedFolder,
  namesOf,
  LoadError,
  KnownGlobals,
  importText,
  unhandled,
  installDocument,
  installGlobals,
  loadingIn,
  unwatched,
  type Watchdog,
} from '../participants/index.js';
import type { Application } from '../model/application.js';
import type { Participant } from '../model/participant.js';
import type { WayTold } from '../model/way-told.js';
import type { ObservedClass } from '../model/observed-class.js';
import { coverableOf } from '../model/cover-points.js';

/** A participant file of the user's. */
export interface ExternalFile {
  /** As the user wrote it. */
  readonly path: string;
  /** The file with all that it imports, as one ECMAScript module. */
  readonly bundle: string;
  /** Its source map; without it, it is not told which lines were never run. */
  readonly map?: string;
  /** Where code of packages stands in the bundle; it is not counted. */
  readonly packages?: readonly Span[];
  /** Its full path, if it asks for a document. */
  readonly documentAt?: string;
  /** The paths of its modules, but for those of packages; not known if not given. */
  readonly modules?: readonly string[];
}

/** What takes part in a comparison, as data that can be given to a worker. */
export interface Cast {
  readonly application: Application;
  readonly folders: readonly GeneratedFolder[];
  readonly external: readonly ExternalFile[];
  /** What is compared; everything if not given. */
  readonly classes: readonly ObservedClass[] | undefined;
  /** True if it is counted which ways their code goes; false if not given. */
  readonly isCounted?: boolean;
}

/** A search that knows which ways the code of the participants went. */
export type CountedSearching = Searching & {
  readonly ways?: WaysGone;
  /** The ways of external code, where they stand. */
  readonly told: readonly WayTold[];
};

const constantsIn = (ways: WaysGone | undefined): Constants => ({
  texts: [...(ways?.texts ?? [])],
  numbers: [...(ways?.numbers ?? [])],
  keys: [],
});

/** The participants, made ready to be compared; the reference is the first. Throws `LoadError`. */
export async function searchingOf(
  { application, folders, external, classes, isCounted = false }: Cast,
  watchdog: Watchdog = unwatched,
): Promise<CountedSearching> {
  const reached = new Reached(coverableOf(application));
  const names = namesOf(application);
  const ways = isCounted ? new WaysGone() : undefined;
  const participants = [
    referenceParticipant(application, { reach: reached }),
    ...folders.map(({ name, style, files }) =>
      generatedParticipant(name, style, files, names, ways),
    ),
  ];
  const told: WayTold[] = [];
  for (const file of external) {
    const { path, bundle, map } = file;
    const participant = await externalBy(file, application, watchdog, ways);
    const isTaken = participants.some(({ name }) => name === participant.name);
    const name = isTaken ? `${participant.name} (${basename(path)})` : participant.name;
    participants.push({ ...participant, name });
    const code = ways?.codes.find(({ file }) => file === path);
    if (code !== undefined && map !== undefined)
      told.push(
        ...waysTold({ ...code, participant: name }, { path, bundle, map }, ways?.added ?? []),
      );
  }
  const constants = allConstants([schemaConstants(application), constantsIn(ways)]);
  const observed = observedOf(application, classes, reloadedBy(application));
  return { application, participants, reached, observed, constants, told, ...(ways && { ways }) };
}

/** The participant that a file exports. Whatever its code does, the file is to blame. Throws {@link LoadError}. */
export async function externalBy(
  { path, bundle, packages, documentAt }: ExternalFile,
  application: Application,
  watchdog: Watchdog,
  ways?: WaysGone,
): Promise<Participant> {
  // The stand-ins are there when the code is loaded: it may keep what it finds.
  installGlobals();
  if (documentAt !== undefined) installDocument(path, documentAt);
  const globals = new KnownGlobals();
  try {
    const count = ways && ((text: string) => ways.count(path, path, text, 'module', packages));
    const exported = await watchdog.loading(() => loadingIn(() => importText(path, bundle, count)));
    refuseChanged(path, globals);
    const participant = externalParticipant(path, exported, application, watchdog);
    refuseChanged(path, globals);
    return {
      ...participant,
      leaks: () => unhandled.take(),
      changedGlobals: () => globals.changed(),
    };
  } catch (error) {
    if (error instanceof LoadError) throw error;
    refuseChanged(path, globals);
    throw new LoadError(path, `what it exports cannot be used (${thrownText(error)})`);
  }
}

function refuseChanged(path: string, globals: KnownGlobals): void {
  const changed = globals.changed();
  if (changed.length > 0)
    throw new LoadError(
      path,
      `it changes globals that the generated stores use too: ${changed.join(', ')}`,
    );
}
