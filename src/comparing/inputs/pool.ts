import { escapePointer, isObject } from '../../base/json.js';
import type { Application } from '../../model/application.js';
import { lookedUpBy } from './looked-up.js';
import { membersOf, type Type, type TypeTable } from '../../model/types.js';

/** What stands in a state that payloads can be made of. */
export interface Pool {
  /** The keys of the items of keyed lists, with where they stand. */
  readonly keys: readonly { readonly pointer: string; readonly value: string }[];
  /** The keys of dictionaries. */
  readonly names: readonly string[];
  readonly texts: readonly string[];
  readonly numbers: readonly number[];
  /** The objects that have named properties. */
  readonly records: readonly Readonly<Record<string, unknown>>[];
  /** The keys that a part of a payload is looked up among, by its JSON Pointer; not known if not given. */
  readonly meant?: ReadonlyMap<string, Pool['keys']>;
}

/** At most this much of a kind is collected. */
const most = 40;

/** What was collected of a field's value: most fields stay the same objects from step to step. */
const known = new WeakMap<object, { readonly pointer: string; readonly pool: Pool }>();

/** The pools of states: each is asked for twice, after a step and before the next. */
const pools = new WeakMap<object, Pool>();

/** Collects what stands in a state. */
export function poolOf(application: Application, state: Readonly<Record<string, unknown>>): Pool {
  const found = pools.get(state);
  if (found !== undefined) return found;
  const pool = new Collector(application.types);
  for (const store of application.stores) {
    const own = state[store.name];
    if (store.lazy && own === null) continue;
    for (const field of store.fields) {
      const value = store.single ? own : (own as Readonly<Record<string, unknown>>)[field.name];
      const pointer = store.single ? `/${store.name}` : `/${store.name}/${field.name}`;
      const more = poolOfField(value, field.type, pointer, application.types);
      fill(pool.keys, more.keys);
      fill(pool.names, more.names);
      fill(pool.texts, more.texts);
      fill(pool.numbers, more.numbers);
      fill(pool.records, more.records);
    }
  }
  pools.set(state, pool);
  return pool;
}

/** What stands in a state that payloads of an action or a task can be made of. */
export function poolFor(
  application: Application,
  name: string,
  state: Readonly<Record<string, unknown>>,
): Pool {
  const pool = poolOf(application, state);
  const lookedUp = lookedUpBy(application, name);
  if (lookedUp.size === 0 || pool.keys.length === 0) return pool;
  const meant = new Map(
    [...lookedUp].map(([part, lists]) => [
      part,
      pool.keys.filter(({ pointer }) =>
        lists.some(
          ({ below, key }) => pointer.startsWith(`${below}/`) && pointer.endsWith(`/${key}`),
        ),
      ),
    ]),
  );
  return { ...pool, meant };
}

function fill<T>(all: T[], more: readonly T[]): void {
  for (const one of more) if (all.length < most) all.push(one);
}

function poolOfField(value: unknown, type: Type, pointer: string, types: TypeTable): Pool {
  const isKept = typeof value === 'object' && value !== null;
  const found = isKept ? known.get(value) : undefined;
  if (found?.pointer === pointer) return found.pool;
  const pool = new Collector(types);
  pool.visit(value, type, pointer);
  if (isKept) known.set(value, { pointer, pool });
  return pool;
}

class Collector implements Pool {
  readonly keys: { readonly pointer: string; readonly value: string }[] = [];
  readonly names: string[] = [];
  readonly texts: string[] = [];
  readonly numbers: number[] = [];
  readonly records: Readonly<Record<string, unknown>>[] = [];

  constructor(readonly types: TypeTable) {}

  visit(value: unknown, type: Type, at: string): void {
    if (typeof value === 'string' && this.texts.length < most) this.texts.push(value);
    // JSON writes -0 as 0: a script could not be replayed.
    if (typeof value === 'number' && this.numbers.length < most) this.numbers.push(value + 0);
    if (typeof value !== 'object' || value === null) return;
    for (const member of membersOf(type, this.types)) {
      if (member.kind === 'list' && Array.isArray(value)) this.#list(value, member, at);
      else if (member.kind === 'map' && isObject(value)) this.#map(value, member.value, at);
      else if (member.kind === 'record' && isObject(value)) {
        if (this.records.length < most) this.records.push(value);
        for (const field of member.fields)
          this.visit(value[field.name], field.type, `${at}/${escapePointer(field.name)}`);
      }
    }
  }

  #list(items: readonly unknown[], type: Type & { kind: 'list' }, at: string): void {
    for (const [i, item] of items.slice(0, most).entries()) {
      const key = type.key !== undefined && isObject(item) ? item[type.key] : undefined;
      if (typeof key === 'string' && this.keys.length < most) {
        this.keys.push({ pointer: `${at}/${i}/${escapePointer(type.key ?? '')}`, value: key });
      }
      this.visit(item, type.item, `${at}/${i}`);
    }
  }

  #map(entries: Readonly<Record<string, unknown>>, type: Type, at: string): void {
    for (const [name, value] of Object.entries(entries).slice(0, most)) {
      if (this.names.length < most) this.names.push(name);
      this.visit(value, type, `${at}/${escapePointer(name)}`);
    }
  }
}
