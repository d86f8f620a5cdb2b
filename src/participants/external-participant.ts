import { AsyncResource } from 'node:async_hooks';
import { TextStorage } from '../base/text-storage.js';
import { isObject, type Json } from '../base/json.js';
import { hasTasks, type Application, type Store } from '../model/application.js';
import type { Task } from '../model/tasks.js';
import type { ExternalParticipant, ExternalStores, ExternalTask } from '../model/external.js';
import type { Abilities, Outcome, Participant, Running, Timers } from '../model/participant.js';
import { observables, type ObservedClass } from '../model/observed-class.js';
import { asCalled } from './called-services.js';
import { LoadError } from './load-error.js';
import { countingKnown, requireLeniency } from './known-differences.js';
import { plainValue } from './plain-value.js';
import { withoutBlanks } from './unfilled.js';
import {
  namesIn,
  requireKnown,
  requireShape,
  requireTables,
  requireText,
} from './required-parts.js';
import { unhandled } from './unhandled.js';
import { clearDocument } from './world/install-document.js';
import { beginRun, noTimers, type Within } from './world/world.js';
import type { Watchdog } from './watchdog.js';

/** The user's own stores as a participant. `file` is its path, for messages. Throws {@link LoadError}. */
export function externalParticipant(
  file: string,
  exported: unknown,
  application: Application,
  watchdog: Watchdog,
): Participant {
  const external = requireShape(file, exported);
  const whole = watchdog.during(() => requireTables(file, external, application));
  const { stores: tables, blanks: unfilled } = withoutBlanks(whole);
  if (unfilled.length > 0 && Object.keys(tables.state).length === 0)
    throw new LoadError(
      file,
      "no line of 'state' is filled in yet: call the old code in place of a missing(...), and compare again",
    );
  requireKnown(file, tables, application);
  requireText(file, external, application);
  requireLeniency(file, external, application);
  const asked = new Set(
    application.stores.flatMap((store) =>
      store.derived
        .filter(({ params }) => params.length > 0)
        .map(({ name }) => `${store.name}.${name}`),
    ),
  );
  return {
    name: external.name,
    has: { ...abilitiesOf(external, tables, application), unfilled },
    refusesMisfits: external.refusesMisfits ?? false,
    judgesAnswers: external.judgesAnswers ?? false,
    takesHalfCharacters: external.takesHalfCharacters ?? false,
    passedOver: countingKnown(),
    create(environment) {
      watchdog.begin();
      clearDocument();
      const { newId, now, random, services = {} } = environment;
      // Where no time passes, timers are those that the code has without a comparison.
      const timers = environment.timers && guarded(environment.timers, watchdog);
      const storage = environment.storage ?? new TextStorage();
      const given = {
        newId,
        now,
        random,
        services: asCalled(services, external.rejectsWithData === true),
        timers: timers ?? noTimers,
        storage,
      };
      const within = beginRun(
        external.globals ?? {},
        { ...environment, timers, storage },
        environment,
      );
      const during: Within = (call) => watchdog.during(() => within(call));
      const { stores } = withoutBlanks(during(() => external.create(given)));
      const takesTime = hasTasks(application);
      return running(stores, { asked, takesTime, note: watchdog.note.bind(watchdog), during });
    },
  };
}

function abilitiesOf(
  {
    keepsIdentity = false,
    keepsSnapshots = true,
    textOnly = [],
    abortsCalls = true,
    settlesLater = false,
    saves = false,
    tolerance,
    known = [],
  }: ExternalParticipant,
  { actions, state, derived, watch, tasks = {} }: ExternalStores,
  { stores }: Application,
): Abilities {
  const tasksWith = (part?: keyof ExternalTask) =>
    new Set(
      Object.entries(tasks).flatMap(([store, own]) =>
        Object.entries(own)
          .filter(([, task]) => part === undefined || task[part] !== undefined)
          .map(([name]) => `${store}.${name}`),
      ),
    );
  const classes = new Set<ObservedClass>(observables);
  classes.delete('problems');
  if (!keepsIdentity) classes.delete('identity');
  if (!keepsSnapshots) classes.delete('snapshots');
  if (watch === undefined) classes.delete('notices');
  if (saves !== true) classes.delete('storage');
  if (Object.keys(tasks).length === 0) classes.delete('tasks');
  if (derived === undefined && stores.some((store) => store.derived.length > 0))
    classes.delete('derived');
  const isListed = (store: Store, { name }: Task) => tasks[store.name]?.[name] !== undefined;
  const listed = operationsOf(stores, isListed);
  const leftOut = operationsOf(stores, (store, task) => !isListed(store, task));
  return {
    actions: new Set(namesIn(actions)),
    fields: new Set(namesIn(state)),
    derived: new Set(namesIn(derived)),
    tasks: tasksWith(),
    starts: tasksWith('start'),
    cancels: tasksWith('cancel'),
    tells: tasksWith('running'),
    operations: listed,
    sharedOperations: new Set([...listed].filter((operation) => leftOut.has(operation))),
    abortsCalls,
    settlesLater,
    reopens: saves !== false,
    tolerance,
    known,
    targets: new Set(Object.keys(watch ?? {})),
    classes,
    textOnly: new Set(textOnly),
  };
}

/** The operations that some tasks call: `office.sailingsOn`. */
const operationsOf = (
  stores: readonly Store[],
  isWanted: (store: Store, task: Task) => boolean,
): ReadonlySet<string> =>
  new Set(
    stores.flatMap((store) =>
      store.tasks.flatMap((task) =>
        task.operation !== undefined && isWanted(store, task)
          ? [`${task.operation.service}.${task.operation.operation}`]
          : [],
      ),
    ),
  );

/** What calls code of one instance of the stores. */
interface Instance {
  /** The derived values with parameters. */
  readonly asked: ReadonlySet<string>;
  readonly takesTime: boolean;
  readonly note: Watchdog['note'];
  readonly during: Within;
}

/** Timers whose callbacks are code of the participant: what they throw is its own, and ends nothing else. */
function guarded({ setTimeout, clearTimeout }: Timers, watchdog: Watchdog): Timers {
  return {
    setTimeout: (run, ms) => {
      const own = AsyncResource.bind(run);
      return setTimeout(() => {
        try {
          watchdog.during(own);
        } catch (error) {
          unhandled.note(error);
        }
      }, ms);
    },
    clearTimeout,
  };
}

function running(
  { actions, state, derived, watch, tasks = {}, close }: ExternalStores,
  { asked, takesTime, note, during }: Instance,
): Running {
  const readAll = () =>
    Object.fromEntries(
      Object.entries(state).map(([store, own]) => [
        store,
        typeof own === 'function' ? plainValue(own()) : readEach(own),
      ]),
    );
  // Those with parameters are asked one by one; a store that has no others shows nothing here.
  const plain = Object.entries(derived ?? {}).flatMap(([store, own]) => {
    const names = Object.keys(own).filter((name) => !asked.has(`${store}.${name}`));
    return names.length === 0 ? [] : [{ store, own: pick(own, names) }];
  });
  const readStore = ({ store, own }: (typeof plain)[number]) => [store, readEach(own)] as const;
  return {
    send(store, action, payload) {
      note(`${store}.${action}`, payload);
      const act = actions[store]?.[action] as ((payload: unknown) => unknown) | undefined;
      if (act === undefined) throw new TypeError(`it has no action '${store}.${action}'`);
      // What it is given belongs to it: it may change it.
      const given = payload === undefined ? undefined : structuredClone(payload);
      const said = during(() => act(given));
      if (takesTime && said instanceof Promise) return undefined;
      return outcomeOf(said, `${store}.${action}`);
    },
    start(store, task, payload) {
      note(`${store}.${task}`, payload);
      const start = tasks[store]?.[task]?.start as ((payload: unknown) => unknown) | undefined;
      if (start === undefined) throw new TypeError(`it has no task '${store}.${task}'`);
      const given = payload === undefined ? undefined : structuredClone(payload);
      const said = during(() => start(given));
      return said instanceof Promise ? undefined : outcomeOf(said, `${store}.${task}`);
    },
    cancel(store, task, per) {
      const cancel = tasks[store]?.[task]?.cancel as ((per?: unknown) => unknown) | undefined;
      const said = during(() => cancel?.(per));
      return said instanceof Promise ? undefined : outcomeOf(said, `${store}.${task}`);
    },
    tasks: () =>
      during(() =>
        Object.fromEntries(
          Object.entries(tasks).map(([store, own]) => [
            store,
            Object.fromEntries(
              Object.entries(own).flatMap(([name, { running: tell }]) =>
                tell === undefined ? [] : [[name, { running: tell() } as never]],
              ),
            ),
          ]),
        ),
      ),
    read: () => during(readAll),
    derive: () => during(() => Object.fromEntries(plain.map(readStore))),
    ask: (store, name, args) => {
      const answer = derived?.[store]?.[name] as
        ((...args: readonly Json[]) => unknown) | undefined;
      return plainValue(during(() => answer?.(...args)));
    },
    watch(target, changed) {
      const stop = during(() =>
        watch?.[target]?.((now, before) => {
          changed(plainValue(now), plainValue(before));
        }),
      );
      return typeof stop === 'function' ? stop : () => undefined;
    },
    close: () => during(() => close?.()),
  };
}

/** The functions of a table that have these names. */
function pick(
  own: Readonly<Record<string, (...args: never[]) => unknown>>,
  names: readonly string[],
): Readonly<Record<string, () => unknown>> {
  return Object.fromEntries(names.map((name) => [name, own[name] as () => unknown]));
}

function readEach(own: Readonly<Record<string, () => unknown>>): Record<string, unknown> {
  const read: Record<string, unknown> = {};
  for (const [name, one] of Object.entries(own)) {
    const value = plainValue(one());
    if (value !== undefined) read[name] = value;
  }
  return read;
}

/** What the user's action says, as an outcome; what is none counts as nothing said. */
function outcomeOf(said: unknown, at: string): Outcome | undefined {
  if (said === true || said === 'done') return { status: 'done' };
  if (said === false || said === 'refused') return { status: 'refused' } as Outcome;
  if (isObject(said) && typeof said.refused === 'string')
    return { status: 'refused', reason: said.refused };
  if (said instanceof Promise)
    throw new TypeError(`'${at}' gives a promise; it has to be done at once`);
  return undefined;
}
