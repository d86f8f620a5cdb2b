import { TextStorage } from '../base/text-storage.js';
import { isObject } from '../base/json.js';
import { thrownText } from '../base/thrown-text.js';
import type { Application } from '../model/application.js';
import type { ExternalParticipant, ExternalStores } from '../model/external.js';
import { unanswered } from './called-services.js';
import { LoadError } from './load-error.js';
import { requireOneOf } from './require-one-of.js';
import { beginRun, noTimers } from './world/world.js';

/** The parts of a state or of derived values, by store and name, with the store's own name for one value. */
export function namesIn(table: Readonly<Record<string, unknown>> | undefined): string[] {
  return Object.entries(table ?? {}).flatMap(([store, own]) =>
    isObject(own) ? Object.keys(own).map((name) => `${store}.${name}`) : [store],
  );
}

/** What a participant says with true or false. */
const switches = [
  'refusesMisfits',
  'judgesAnswers',
  'keepsIdentity',
  'keepsSnapshots',
  'abortsCalls',
  'settlesLater',
  'takesHalfCharacters',
  'rejectsWithData',
  'document',
] as const;

/** What a participant file exports, if it is one. Throws {@link LoadError}. */
export function requireShape(file: string, exported: unknown): ExternalParticipant {
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
  const { saves } = exported;
  if (![undefined, true, false, 'in another form'].includes(saves as boolean))
    throw new LoadError(file, "'saves' is neither true, false nor 'in another form'");
  for (const name of switches)
    if (!['undefined', 'boolean'].includes(typeof exported[name]))
      throw new LoadError(file, `'${name}' is neither true nor false`);
  return exported as unknown as ExternalParticipant;
}

/** Makes the stores once, to see what they have. */
export function requireTables(
  file: string,
  external: ExternalParticipant,
  application: Application,
): ExternalStores {
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
    stores = beginRun(external.globals ?? {}, environment)(() => external.create(environment));
  } catch (error) {
    const text = thrownText(error);
    throw new LoadError(file, `'create' throws ${text}`);
  }
  const tables = isObject(stores) ? stores : {};
  for (const part of ['actions', 'state'])
    if (!isObject(tables[part]))
      throw new LoadError(file, `what 'create' gives has no '${part}', a table by store`);
  const built = tables as unknown as ExternalStores;
  for (const [part, table] of Object.entries({
    actions: built.actions,
    state: built.state,
    derived: built.derived ?? {},
  }))
    requireFunctions(file, part, table);
  built.close?.();
  return built;
}

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
export function requireKnown(file: string, tables: ExternalStores, { stores }: Application): void {
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
export function requireText(
  file: string,
  { textOnly = [] }: ExternalParticipant,
  { stores }: Application,
) {
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
