import { isObject } from '../base/json.js';
import { initialState, type Application, type Store } from '../model/application.js';
import type { Reach } from '../model/cover-points.js';
import type { Environment } from '../model/participant.js';
import {
  hasVersion,
  savedVersion,
  type OldSaved,
  type OlderVersion,
  type Saved,
} from '../model/saved.js';
import { evaluate, type World } from './compile-expression.js';
import { freeze } from './freeze.js';
import type { Judge } from './judge.js';
import { argumentsOnly } from './pure-world.js';
import { fieldOf, isAttached, type State } from './state.js';
import { takeIn } from './take-in.js';

type Fields = Readonly<Record<string, unknown>>;

/** What stores begin with: what was saved, before that the state that the environment gives, before that the defaults. */
export class Beginning {
  /** The stores that are not saved: what stands in the storage is of a later version. */
  readonly spared = new Set<string>();
  readonly #world: World;

  constructor(
    readonly application: Application,
    readonly environment: Environment,
    readonly judge: Judge,
    readonly reach: Reach | undefined,
  ) {
    this.#world = argumentsOnly(application, judge, reach);
  }

  /** What a store begins with. */
  of(store: Store): unknown {
    const given = this.#given(store);
    const { saved } = store;
    if (saved === undefined) return given;
    const at = `${store.name}.saved`;
    try {
      const fields = this.#saved(saved, at);
      if (fields === undefined) return given;
      const read = this.#fitting(store, saved.fields, fields);
      this.reach?.point(at, 'read');
      if (store.single) return Object.hasOwn(read, 'value') ? read.value : given;
      return { ...(given as Fields), ...read };
    } catch (error) {
      if (error instanceof LaterVersion) this.spared.add(store.name);
      this.reach?.point(at, 'refused');
      this.environment.onProblem({ kind: 'storage', at });
      return given;
    }
  }

  /** The state to begin from; the defaults if there is none, or if it does not fit. */
  #given(store: Store): unknown {
    const initial = initialState(store);
    const { state = {} } = this.environment;
    const own = state[store.name];
    // A lazy store that was not attached when its state was taken.
    if (own === undefined || (own === null && !store.single)) return initial;
    try {
      const fields = store.single ? { value: own } : own;
      const names = store.fields.map(({ name }) => name);
      const read = this.#fitting(store, names, fields);
      return store.single ? read.value : { ...(initial as Fields), ...read };
    } catch {
      this.environment.onProblem({ kind: 'storage', at: `${store.name}.state` });
      return initial;
    }
  }

  /** Those of some fields that are there; throws if one does not fit. */
  #fitting(store: Store, names: readonly string[], fields: unknown): Fields {
    if (!isObject(fields) || Array.isArray(fields)) throw new TypeError('no object of fields');
    const read: Record<string, unknown> = {};
    for (const { name, type } of store.fields) {
      // What is made of an earlier version may come to nothing: the field begins with its default.
      if (!names.includes(name) || !Object.hasOwn(fields, name) || fields[name] === undefined)
        continue;
      const value = takeIn(fields[name]);
      if (!this.judge.fits(value, type)) throw new TypeError(`'${name}' does not fit`);
      read[name] = value;
    }
    return read;
  }

  /** The fields that are stored, made of an earlier version if they are of one; nothing if there are none. */
  #saved(saved: Saved, at: string): unknown {
    const { key, version, from, old: before } = saved;
    const text = this.environment.storage?.getItem(key) ?? null;
    if (before !== undefined && !isKeptHere(text, key, before)) return this.#before(before, at);
    if (text === null) return undefined;
    const data = JSON.parse(text) as unknown;
    const [own, fields] = savedVersion(saved, data);
    if (own > (version ?? 0)) throw new LaterVersion();
    if (own === (version ?? 0)) return fields;
    const older = from.find((one) => one.version === own);
    if (older === undefined || !isObject(fields)) throw new TypeError('of an unknown version');
    this.reach?.point(at, `from-${older.version}`);
    const old = freeze(fields);
    return { ...old, ...this.#made(older.fields, old) };
  }

  /** The fields that are made of what was kept before there was a schema; nothing if nothing was. */
  #before({ keys, fields }: OldSaved, at: string): unknown {
    const kept = keys.flatMap(({ name, key, isText }) => {
      const text = this.environment.storage?.getItem(key) ?? null;
      if (text === null) return [];
      return [[name, isText ? text : (JSON.parse(text) as unknown)] as const];
    });
    if (kept.length === 0) return undefined;
    this.reach?.point(at, 'from-old');
    return this.#made(fields, freeze(Object.fromEntries(kept)));
  }

  #made(fields: OlderVersion['fields'], old: unknown): Fields {
    const made = fields.map(({ field, value }) => {
      const locals = { name: 'old', value: old, outer: undefined };
      return [field, evaluate(value, { world: this.#world, locals })] as const;
    });
    return Object.fromEntries(made);
  }
}

/** Thrown where what is saved is of a later version: the application was put back to an earlier one. */
class LaterVersion extends Error {}

/** True if a text is kept by this schema, and not by what was there before under the same key. */
function isKeptHere(text: string | null, key: string, { keys }: OldSaved): boolean {
  if (text === null) return false;
  return !keys.some((one) => one.key === key) || hasVersion(parsedOr(text));
}

/** A text as JSON data, or as it is. */
function parsedOr(text: string): unknown {
  try {
    return JSON.parse(text) as unknown;
  } catch {
    return text;
  }
}

/** Keeps what is saved of the stores that a transaction has changed, but for those that are spared. */
export function save(
  { stores }: Application,
  { storage, onProblem }: Environment,
  spared: ReadonlySet<string>,
  [before, now]: readonly [State, State],
): void {
  if (storage === undefined || before === now) return;
  for (const store of stores) {
    const { saved, name } = store;
    if (saved === undefined || !isAttached(before, name) || spared.has(name)) continue;
    const { fields, key, version } = saved;
    const isChanged = (field: string) =>
      fieldOf(now, store, field) !== fieldOf(before, store, field);
    if (!fields.some(isChanged)) continue;
    const kept = Object.fromEntries(fields.map((field) => [field, fieldOf(now, store, field)]));
    try {
      storage.setItem(
        key,
        JSON.stringify(version === undefined ? kept : { version, fields: kept }),
      );
    } catch {
      onProblem({ kind: 'storage', at: `${name}.saved` });
    }
  }
}
