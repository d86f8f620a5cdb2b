// What stores begin with, if that is not their defaults; and what is kept of them in storage.
import { misfit, type RecordType, type StoreChecks, type ValueType } from './fitting.js';
import { takeIn } from './taking-in.js';
import type {
  Options,
  // <saved>
  SavedTexts,
  // </saved>
  Turns,
} from './transaction.js';
import { isObject } from './values.js';

// <saved>
/** What was stored: nothing is known of it before it is judged. */
export type Stored = ReturnType<typeof JSON.parse>;

/** What is kept of a store in storage. */
export interface SavedPlan {
  /** The fields that are kept; left out if the store is one value. */
  readonly fields?: readonly string[];
  readonly key: string;
  readonly version?: number;
  /** What the fields are made of, by earlier version; those that are not given are taken as they are. */
  readonly from?: Readonly<Record<number, (old: Stored) => object>>;
}

/** What only browsers have; a server may have a storage of that name that nobody means. */
interface Browser {
  readonly document?: unknown;
  readonly localStorage: SavedTexts;
}

const browser = globalThis as unknown as Browser;

/** Reads a field, or with no name the one value of a store, as it was committed. */
type Read = (store: string, field: string | undefined) => unknown;

// </saved>
type Fields = Readonly<Record<string, unknown>>;

/** The fields that stores begin with in place of their defaults, by store: those of a value store are `value`. */
export class Beginnings {
  readonly #options: Options;
  readonly #checks: Readonly<Record<string, StoreChecks>>;
  readonly #turns: Turns;
  // <saved>
  readonly #read: Read;
  readonly #plans = new Map<string, SavedPlan>();
  readonly #before = new Map<string, readonly unknown[]>();
  // </saved>

  constructor(
    turns: Turns,
    options: Options,
    checks: Readonly<Record<string, StoreChecks>>,
    // <saved>
    read: Read,
    // </saved>
  ) {
    this.#turns = turns;
    this.#options = options;
    this.#checks = checks;
    // <saved>
    this.#read = read;
    turns.saving = this;
    // </saved>
  }

  // <saved>
  /** Keeps a store in storage from now on. */
  keep(store: string, plan: SavedPlan): void {
    this.#plans.set(store, plan);
  }

  // </saved>
  /** The fields that a store begins with; those that are missing begin with their defaults. */
  of(store: string, isValue: boolean): Fields {
    // <given>
    const given = this.#judged(`${store}.state`, () => this.#given(store, isValue));
    // </given>
    // <saved>
    // <given>
    return { ...given, ...this.#judged(`${store}.saved`, () => this.#saved(store, isValue)) };
    //- return this.#judged(`${store}.saved`, () => this.#saved(store, isValue));
    // </given>
    // </saved>
    // <!saved>
    //+ return given;
    // </!saved>
  }

  /** What a store begins with, from its defaults. */
  begun(store: string, initial: unknown, isValue = false): unknown {
    const fields = this.of(store, isValue);
    if (!isValue) return { ...(initial as Fields), ...fields };
    const { value = initial } = fields as { readonly value?: unknown };
    return value;
  }

  // <given>
  #given(store: string, isValue: boolean): Fields | undefined {
    const own = (this.#options.state as Fields | undefined)?.[store];
    if (own === undefined) return undefined;
    return this.#fitting(isValue ? { value: own } : own, this.#typesOf(store, isValue));
  }

  // </given>
  // <saved>
  #saved(store: string, isValue: boolean): Fields | undefined {
    const plan = this.#plans.get(store);
    const text = plan && this.#storage()?.getItem(plan.key);
    if (plan === undefined || text === null || text === undefined) return undefined;
    const types = this.#typesOf(store, isValue);
    const { fields = ['value'] } = plan;
    const own = Object.fromEntries(fields.map((field) => [field, types[field]]));
    return this.#fitting(fieldsOf(JSON.parse(text), plan), own);
  }

  #storage(): SavedTexts | undefined {
    if ('storage' in this.#options) return this.#options.storage;
    return browser.document === undefined ? undefined : browser.localStorage;
  }

  /** A transaction begins. */
  begin(): void {
    for (const [store, plan] of this.#plans) this.#before.set(store, this.#keptOf(store, plan));
  }

  /** Keeps what a transaction has changed; who throws is told of, and changes nothing else. */
  save(): void {
    for (const [store, plan] of this.#plans) {
      const [before, now] = [this.#before.get(store) ?? [], this.#keptOf(store, plan)];
      if (now.every((value, i) => Object.is(value, before[i]))) continue;
      const { fields = ['value'], key, version } = plan;
      const kept = Object.fromEntries(fields.map((field, i) => [field, now[i]]));
      const data = version === undefined ? kept : { version, fields: kept };
      try {
        this.#storage()?.setItem(key, JSON.stringify(data));
      } catch (error) {
        this.#turns.report({ kind: 'storage', at: `${store}.saved`, error });
      }
    }
  }

  #keptOf(store: string, { fields }: SavedPlan): readonly unknown[] {
    return (fields ?? [undefined]).map((field) => this.#read(store, field));
  }

  // </saved>
  /** What the fields of a store must be. */
  #typesOf(store: string, isValue: boolean): Readonly<Record<string, ValueType | undefined>> {
    const type = this.#checks[store]?.state ?? this.#checks[store]?.kept;
    return isValue ? { value: type } : (type as RecordType).fields;
  }

  /** What somebody gives, or nothing if that throws. */
  #judged(at: string, ask: () => Fields | undefined): Fields {
    try {
      return ask() ?? {};
    } catch (error) {
      this.#turns.report({ kind: 'storage', at, error });
      return {};
    }
  }

  /** Those fields that are there, of those that have a type; throws if one does not fit. */
  #fitting(fields: unknown, types: Readonly<Record<string, ValueType | undefined>>): Fields {
    if (!isObject(fields)) throw new TypeError('There are no fields.');
    const found = Object.entries(types).flatMap(([field, type]) => {
      const value = Object.hasOwn(fields, field) ? fields[field] : undefined;
      if (type === undefined || value === undefined) return [];
      const taken = takeIn(value);
      if (misfit(taken, type) !== undefined) throw new TypeError(`'${field}' does not fit.`);
      return [[field, taken] as const];
    });
    return Object.fromEntries(found);
  }
}

// <saved>
/** The fields in what was stored, made of an earlier version if it is of one. */
function fieldsOf(data: unknown, { version, from = {} }: SavedPlan): unknown {
  if (version === undefined) return data;
  const told: { readonly version?: unknown; readonly fields?: unknown } = isObject(data)
    ? data
    : {};
  const isVersioned = Number.isInteger(told.version) && isObject(told.fields);
  const [own, fields] = isVersioned ? [told.version as number, told.fields] : [0, data];
  if (own === version) return fields;
  const make = from[own];
  if (make === undefined || !isObject(fields)) throw new TypeError('It is of an unknown version.');
  return { ...fields, ...make(fields) };
}
// </saved>
