import { AsyncResource } from 'node:async_hooks';
import { TextStorage } from '../base/text-storage.js';
import { thrownText } from '../base/thrown-text.js';
import { isObject, type Json } from '../base/json.js';
import { hasTasks, type Application } from '../model/application.js';
import type { BroughtParticipant, BroughtStores, BroughtTask } from '../model/brought.js';
import type {
  Abilities,
  Outcome,
  Participant,
  Running,
  Services,
  Timers,
} from '../model/participant.js';
import { observables, type ObservedClass } from '../model/observed-class.js';
import { thrownMessage } from '../base/thrown-message.js';
import { LoadError } from './load-error.js';
import { countingKnown, requireLeniency } from './known-differences.js';
import { plainValue } from './plain-value.js';
import { blanksIn, withoutBlanks } from './unfilled.js';
import { requireOneOf } from './require-one-of.js';
import { unhandled } from './unhandled.js';
import { clearDocument } from './world/install-document.js';
import { beginRun, type Within } from './world/world.js';
import type { Watchdog } from './watchdog.js';

/** The user's own stores as a participant. `file` is its path, for messages. Throws {@link LoadError}. */
export function broughtParticipant(
  file: string,
  exported: unknown,
  application: Application,
  watchdog: Watchdog,
): Participant {
  const brought = requireShape(file, exported);
  const whole = watchdog.during(() => requireTables(file, brought, application));
  const unfilled = blanksIn(whole);
  const tables = withoutBlanks(whole);
  if (unfilled.length > 0 && Object.keys(tables.state).length === 0)
    throw new LoadError(
      file,
      "no line of 'state' is filled in yet: call the old code in place of a missing(...), and compare again",
    );
  requireKnown(file, tables, application);
  requireText(file, brought, application);
  requireLeniency(file, brought, application);
  const asked = new Set(
    application.stores.flatMap((store) =>
      store.derived
        .filter(({ params }) => params.length > 0)
        .map(({ name }) => `${store.name}.${name}`),
    ),
  );
  return {
    name: brought.name,
    has: { ...abilitiesOf(brought, tables, application), unfilled },
    refusesMisfits: brought.refusesMisfits ?? false,
    judgesAnswers: brought.judgesAnswers ?? false,
    takesHalfCharacters: brought.takesHalfCharacters ?? false,
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
        services: asCalled(services, brought.rejectsWithData === true),
        timers: timers ?? noTimers,
        storage,
      };
      const within = beginRun(
        brought.globals ?? {},
        { ...environment, timers, storage },
        environment,
      );
      const during: Within = (call) => watchdog.during(() => within(call));
      const stores = withoutBlanks(during(() => brought.create(given)));
      const takesTime = hasTasks(application);
      return running(stores, { asked, takesTime, note: watchdog.note.bind(watchdog), during });
    },
  };
}

/** The parts of a state or of derived values, by store and name, with the store's own name for one value. */
function namesIn(table: Readonly<Record<string, unknown>> | undefined): string[] {
  return Object.entries(table ?? {}).flatMap(([store, own]) =>
    isObject(own) ? Object.keys(own).map((name) => `${store}.${name}`) : [store],
  );
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
  }: BroughtParticipant,
  { actions, state, derived, watch, tasks = {} }: BroughtStores,
  { stores }: Application,
): Abilities {
  const tasksWith = (part?: keyof BroughtTask) =>
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
  return {
    actions: new Set(namesIn(actions)),
    fields: new Set(namesIn(state)),
    derived: new Set(namesIn(derived)),
    tasks: tasksWith(),
    starts: tasksWith('start'),
    cancels: tasksWith('cancel'),
    tells: tasksWith('running'),
    operations: new Set(
      stores.flatMap((store) =>
        store.tasks.flatMap(({ name, operation }) =>
          operation !== undefined && tasks[store.name]?.[name] !== undefined
            ? [`${operation.service}.${operation.operation}`]
            : [],
        ),
      ),
    ),
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

/**
 * Services as old code calls them: what they are given may be changed afterwards, and a property that is `undefined` counts as
 * absent. Unless data is wanted, failures are errors, as those of most clients are: with the message, and the data beside it.
 */
function asCalled(services: Services, isData: boolean): Services {
  const wrapped =
    (call: Services[string][string]): Services[string][string] =>
    (payload, signal) => {
      const answer = call(taken(payload), signal);
      if (isFollowed(answer)) return followedFromHere(answer);
      if (isData || !(answer instanceof Promise)) return answer;
      return answer.catch((thrown: unknown) => {
        throw errorOf(thrown);
      });
    };
  const each = <T, R>(table: Readonly<Record<string, T>>, of: (one: T) => R) =>
    Object.fromEntries(Object.entries(table).map(([name, one]) => [name, of(one)]));
  return each(services, (operations) => each(operations, wrapped));
}

/** A stream of values, to be observed. */
interface FollowedAnswer {
  subscribe(observer: Readonly<Record<string, unknown>>): unknown;
}

const isFollowed = (answer: unknown): answer is FollowedAnswer =>
  isObject(answer) && typeof answer.subscribe === 'function';

/** Whoever gives the values, what observes them is code of the instance that has subscribed. */
const followedFromHere = (answer: FollowedAnswer): FollowedAnswer => ({
  subscribe: (observer) =>
    answer.subscribe(
      Object.fromEntries(
        Object.entries(observer).map(([name, told]) => [
          name,
          typeof told === 'function' ? AsyncResource.bind(told.bind(observer) as Call) : told,
        ]),
      ),
    ),
});

type Call = (...given: readonly unknown[]) => unknown;

/** A copy, also of what a framework has wrapped. */
function taken(payload: unknown): unknown {
  const plain = plainValue(payload);
  if (typeof plain !== 'object' || plain === null) return plain;
  try {
    return structuredClone(plain);
  } catch {
    return JSON.parse(JSON.stringify(plain)) as unknown;
  }
}

/** An error with the message that the schema reads of a rejection, and what else stands in it. */
function errorOf(thrown: unknown): Error {
  if (thrown instanceof Error) return thrown;
  const { message: _, ...data } = isObject(thrown) ? thrown : {};
  return Object.assign(new Error(thrownMessage(thrown)), data);
}

function running(
  { actions, state, derived, watch, tasks = {}, close }: BroughtStores,
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

function requireShape(file: string, exported: unknown): BroughtParticipant {
  if (!isObject(exported))
    throw new LoadError(
      file,
      'it exports no participant by default (export default { name, create })',
    );
  const { name, create } = exported;
  if (typeof name !== 'string' || name === '')
    throw new LoadError(file, "what it exports has no 'name', a text");
  if (typeof create !== 'function')
    throw new LoadError(file, "what it exports has no 'create', a function");
  return exported as unknown as BroughtParticipant;
}

/** Makes the stores once, to see what they have. */
function requireTables(
  file: string,
  brought: BroughtParticipant,
  application: Application,
): BroughtStores {
  let count = 0;
  const environment = {
    onProblem: () => undefined,
    newId: () => `id-${(count += 1)}`,
    now: () => 0,
    random: () => 0,
    services: unanswered(application),
    timers: noTimers,
    storage: new TextStorage(),
  };
  let stores: unknown;
  try {
    stores = beginRun(brought.globals ?? {}, environment)(() => brought.create(environment));
  } catch (error) {
    const text = thrownText(error);
    throw new LoadError(file, `'create' throws ${text}`);
  }
  const tables = isObject(stores) ? stores : {};
  for (const part of ['actions', 'state'])
    if (!isObject(tables[part]))
      throw new LoadError(file, `what 'create' gives has no '${part}', a table by store`);
  const built = tables as unknown as BroughtStores;
  for (const [part, table] of Object.entries({
    actions: built.actions,
    state: built.state,
    derived: built.derived ?? {},
  }))
    requireFunctions(file, part, table);
  built.close?.();
  return built;
}

/** Services that answer nothing: a promise that is never kept, or a stream without values. */
function unanswered({ services }: Application): Services {
  return Object.fromEntries(
    services.map(({ name, operations }) => [
      name,
      Object.fromEntries(
        operations.map((operation) => [
          operation.name,
          () =>
            operation.results === undefined
              ? new Promise(() => undefined)
              : { subscribe: () => ({ unsubscribe: () => undefined }) },
        ]),
      ),
    ]),
  );
}

/** Where no time passes. */
const noTimers: Timers = { setTimeout: () => 0, clearTimeout: () => undefined };

function requireFunctions(
  file: string,
  part: string,
  table: Readonly<Record<string, unknown>>,
): void {
  for (const [store, own] of Object.entries(table)) {
    if (part === 'state' && typeof own === 'function') continue;
    if (!isObject(own)) throw new LoadError(file, `${part}.${store} is no table of functions`);
    for (const [name, one] of Object.entries(own))
      if (typeof one !== 'function')
        throw new LoadError(file, `${part}.${store}.${name} is no function`);
  }
}

/** Every name has to be one of the schema. */
function requireKnown(file: string, tables: BroughtStores, { stores }: Application): void {
  const known = {
    actions: stores.flatMap((store) => store.actions.map(({ name }) => `${store.name}.${name}`)),
    state: stores.flatMap((store) =>
      store.single ? [store.name] : store.fields.map(({ name }) => `${store.name}.${name}`),
    ),
    derived: stores.flatMap((store) => store.derived.map(({ name }) => `${store.name}.${name}`)),
  };
  for (const part of ['actions', 'state', 'derived'] as const)
    for (const name of namesIn(tables[part])) requireOneOf(file, part, name, known[part]);
  const tasks = stores.flatMap((store) => store.tasks.map(({ name }) => `${store.name}.${name}`));
  for (const [store, own] of Object.entries(tables.tasks ?? {}))
    for (const [name, task] of Object.entries(own)) {
      requireOneOf(file, 'tasks', `${store}.${name}`, tasks);
      for (const part of ['start', 'cancel', 'running'] as const)
        if (!isObject(task) || !['function', 'undefined'].includes(typeof task[part]))
          throw new LoadError(file, `'${part}' of tasks.${store}.${name} is no function`);
    }
  const targets = ['*', ...stores.map(({ name }) => name), ...known.state, ...known.derived];
  for (const name of Object.keys(tables.watch ?? {})) requireOneOf(file, 'watch', name, targets);
}

/** What takes text only has to be an action that accepts text. */
function requireText(file: string, { textOnly = [] }: BroughtParticipant, { stores }: Application) {
  if (!Array.isArray(textOnly)) throw new LoadError(file, "'textOnly' is not a list of actions");
  const known = stores.flatMap(({ name, actions }) =>
    actions.filter(({ acceptsText }) => acceptsText).map((action) => `${name}.${action.name}`),
  );
  for (const name of textOnly as readonly string[])
    if (!known.includes(name))
      throw new LoadError(
        file,
        `'textOnly' has '${name}', which is not an action with 'accepts: text' (${known.join(', ') || 'there is none'})`,
      );
}
