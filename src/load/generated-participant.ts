import type { ModuleText } from '../base/module-text.js';
import type { Environment, Outcome, Participant, Running, Target } from '../model/participant.js';
import { LoadError } from './load-error.js';
import { loadModules } from './load-modules.js';
import type { Names } from './names.js';
import { Restoring } from './restoring.js';

/** Generated stores as they stand on disk, to be compared as they are. */
export interface GeneratedFolder {
  readonly name: string;
  readonly style: string;
  readonly files: readonly ModuleText[];
}

type Changed = (now: unknown, before: unknown) => void;
type Answer = (...args: readonly unknown[]) => unknown;
type Act = (payload: unknown) => Outcome;

/** Turns what a style's `createStores` gives into a running participant. */
type Adapt = (created: never, names: Names) => Running;

interface ReducerStores {
  dispatch(action: { type: string; payload: unknown }): Outcome;
  snapshot(): Readonly<Record<string, unknown>>;
  subscribe(changed: Changed): () => void;
  watch(
    select: (state: Readonly<Record<string, unknown>>) => unknown,
    changed: Changed,
  ): () => void;
  readonly select: Readonly<
    Record<string, Readonly<Record<string, (...args: unknown[]) => unknown>>>
  >;
}

const adaptReducer = (store: ReducerStores, names: Names): Running => ({
  send: (owner, action, payload) => store.dispatch({ type: fullName(owner, action), payload }),
  read: () => store.snapshot(),
  derive: eachDerived(names, (owner, name) => {
    const selector = store.select[owner]?.[name];
    return () => selector?.(store.snapshot());
  }),
  ask: (owner, name, args) => store.select[owner]?.[name]?.(store.snapshot(), ...args),
  watch(target, changed) {
    if (target === '*') return store.subscribe(changed);
    const [owner, name] = splitTarget(target);
    const selector = name === undefined ? undefined : store.select[owner]?.[name];
    return store.watch(selector ?? ((state) => partOf(state, owner, name, names)), changed);
  },
});

interface UnitOf {
  get?(): unknown;
  readonly value?: unknown;
  watch?(changed: Changed): () => void;
  subscribe?(next: (now: unknown) => void): { unsubscribe(): void };
}

/** A derived value with parameters: gives the unit for some arguments. */
type Asked = (...args: readonly unknown[]) => UnitOf;

interface UnitStores {
  readonly stores: Readonly<Record<string, Readonly<Record<string, UnitOf & Act & Asked>>>>;
  readonly states: Readonly<Record<string, UnitOf>>;
  readonly state: UnitOf;
}

/** Atoms and streams: one unit for each field, derived value and state. */
const adaptUnits = ({ stores, states, state }: UnitStores, names: Names): Running => ({
  send: (owner, action, payload) => actionOf(stores, owner, action)(payload),
  read: () => valueOf(state) as Readonly<Record<string, unknown>>,
  derive: eachDerived(names, (owner, name) => {
    const unit = stores[owner]?.[name];
    return () => valueOf(unit);
  }),
  ask: (owner, name, args) => valueOf(stores[owner]?.[name]?.(...args)),
  watch(target, changed) {
    if (target === '*') return watchUnit(state, changed);
    const [owner, name] = splitTarget(target);
    return watchUnit(name === undefined ? states[owner] : stores[owner]?.[name], changed);
  },
});

function valueOf(unit: UnitOf | undefined): unknown {
  return unit?.get === undefined ? unit?.value : unit.get();
}

function watchUnit(unit: UnitOf | undefined, changed: Changed): () => void {
  if (unit?.watch !== undefined) return unit.watch(changed);
  let before = unit?.value;
  const subscription = unit?.subscribe?.((now) => {
    const last = before;
    before = now;
    changed(now, last);
  });
  return () => subscription?.unsubscribe();
}

interface LiveStores {
  readonly stores: Readonly<Record<string, Readonly<Record<string, unknown>>>>;
  readonly states: Readonly<Record<string, () => unknown>>;
  readonly state: () => Readonly<Record<string, unknown>>;
  readonly watch: (read: () => unknown, changed: Changed) => () => void;
}

const adaptProxy = ({ stores, states, state, watch }: LiveStores, names: Names): Running => ({
  send: (owner, action, payload) => actionOf(stores, owner, action)(payload),
  read: () => state(),
  derive: eachDerived(names, (owner, name) => {
    const store = stores[owner];
    return () => store?.[name];
  }),
  ask: (owner, name, args) => (stores[owner]?.[name] as Answer)(...args),
  watch(target, changed) {
    if (target === '*') return watch(state, changed);
    const [owner, name] = splitTarget(target);
    return watch(
      name === undefined ? () => states[owner]?.() : () => stores[owner]?.[name],
      changed,
    );
  },
});

const adapters: Readonly<Record<string, Adapt>> = {
  reducer: adaptReducer,
  atom: adaptUnits,
  observable: adaptUnits,
  proxy: adaptProxy,
};

function actionOf(
  stores: Readonly<Record<string, Readonly<Record<string, unknown>>>>,
  owner: string,
  action: string,
): Act {
  const act = stores[owner]?.[action];
  if (typeof act !== 'function') throw new TypeError(`There is no action '${owner}.${action}'.`);
  return act as Act;
}

/** Names that were put together: engines compare texts faster that they have seen. */
const known = new Map<string, Map<string, string>>();

function fullName(owner: string, action: string): string {
  let own = known.get(owner);
  if (own === undefined) known.set(owner, (own = new Map<string, string>()));
  let name = own.get(action);
  if (name === undefined) own.set(action, (name = `${owner}.${action}`));
  return name;
}

const targets = new Map<Target, readonly [string, string | undefined]>();

function splitTarget(target: Target): readonly [string, string | undefined] {
  let parts = targets.get(target);
  if (parts === undefined) {
    const [owner = '', name] = target.split('.');
    targets.set(target, (parts = [owner, name]));
  }
  return parts;
}

function partOf(
  state: Readonly<Record<string, unknown>>,
  owner: string,
  name: string | undefined,
  names: Names,
): unknown {
  if (name === undefined || names.single.has(owner)) return state[owner];
  return (state[owner] as Readonly<Record<string, unknown>>)[name];
}

/** What reads all derived values: where each is found is looked up once, when they are first asked for. */
function eachDerived(
  { derived }: Names,
  find: (owner: string, name: string) => () => unknown,
): () => Record<string, Record<string, unknown>> {
  let found: readonly (readonly [string, readonly (readonly [string, () => unknown])[]])[];
  return () => {
    found ??= Object.entries(derived).map(([owner, own]) => [
      owner,
      own.map((name) => [name, find(owner, name)]),
    ]);
    const all: Record<string, Record<string, unknown>> = {};
    for (const [owner, own] of found) {
      const values: Record<string, unknown> = (all[owner] = {});
      for (const [name, read] of own) values[name] = read();
    }
    return all;
  };
}

/** The generated stores of one style as a participant. Throws {@link LoadError} for code that cannot be loaded. */
export function generatedParticipant(
  name: string,
  style: string,
  files: readonly ModuleText[],
  names: Names,
): Participant {
  const entry = files.some(({ path }) => path === 'index.js') ? 'index.js' : 'index.ts';
  const restoring = new Restoring(style, names);
  const { createStores } = loadModules(files, entry, restoring.onLoaded);
  const adapt = adapters[style];
  if (adapt === undefined) throw new LoadError(entry, `there is no style '${style}'`);
  if (typeof createStores !== 'function')
    throw new LoadError(entry, "it does not export 'createStores'");
  const make = createStores as (environment: Environment & { guard: boolean }) => never;
  return {
    name,
    create(environment) {
      const created = make({ ...environment, guard: true });
      const restore = restoring.of(created);
      return { ...adapt(created, names), ...(restore && { restore }) };
    },
  };
}
