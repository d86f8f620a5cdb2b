// The values that stores begin with in place of their defaults, and their copies in storage.
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
/** Data from storage, of any shape. */
export type Stored = ReturnType<typeof JSON.parse>;

/** Which fields of a store are saved, and how. */
export interface SavedPlan {
  /** The fields that are saved; left out if the store is one value. */
  readonly fields?: readonly string[];
  readonly key: string;
  readonly version?: number;
  /** Makes fields from those of an earlier version, by its number. The other fields are taken as they are. */
  readonly from?: Readonly<Record<number, (old: Stored) => object>>;
  // <old>
  /** What was kept before there was a schema: its keys by name, of JSON data and of texts, and what makes fields of it. */
  readonly old?: {
    readonly keys?: Readonly<Record<string, string>>;
    readonly texts?: Readonly<Record<string, string>>;
    readonly make: (old: Stored) => object;
  };
  // </old>
}

/** The globals of a browser. Some servers have a `localStorage` too, but no `document`: theirs is not used. */
interface Browser {
  readonly document?: unknown;
  readonly localStorage: SavedTexts;
}

const browser = globalThis as unknown as Browser;

/** Reads the committed value of a field; without a field, the value of a store that is one value. */
type Read = (store: string, field: string | undefined) => unknown;

// </saved>
type Fields = Readonly<Record<string, unknown>>;

/** Reads and saves the fields of stores. A store that is one value has one field here, `value`. */
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
  /** Saves a store from now on. */
  keep(store: string, plan: SavedPlan): void {
    this.#plans.set(store, plan);
  }

  // </saved>
  /** The given and saved fields of a store; the others begin with their defaults. */
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

  /** The state that a store begins with. */
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
    if (plan === undefined) return undefined;
    const text = this.#storage()?.getItem(plan.key) ?? null;
    const types = this.#typesOf(store, isValue);
    const { fields = ['value'] } = plan;
    const own = Object.fromEntries(fields.map((field) => [field, types[field]]));
    // <old>
    if (plan.old !== undefined && !isKeptHere(text, plan)) {
      const old = this.#keptBefore(plan.old);
      return old && this.#fitting(plan.old.make(old), own);
    }
    // </old>
    return text === null ? undefined : this.#fitting(fieldsOf(JSON.parse(text), plan), own);
  }

  // <old>
  /** What was kept before there was a schema, by name; nothing if nothing was. */
  #keptBefore({ keys = {}, texts = {} }: NonNullable<SavedPlan['old']>): object | undefined {
    const kept = (of: Readonly<Record<string, string>>, read: (text: string) => unknown) =>
      Object.entries(of).flatMap(([name, key]) => {
        const text = this.#storage()?.getItem(key) ?? null;
        return text === null ? [] : [[name, read(text)] as const];
      });
    const all = [...kept(keys, JSON.parse), ...kept(texts, (text) => text)];
    return all.length === 0 ? undefined : Object.fromEntries(all);
  }

  // </old>

  #storage(): SavedTexts | undefined {
    if ('storage' in this.#options) return this.#options.storage;
    return browser.document === undefined ? undefined : browser.localStorage;
  }

  /** Notes the saved fields before a transaction. */
  begin(): void {
    for (const [store, plan] of this.#plans) this.#before.set(store, this.#keptOf(store, plan));
  }

  /** Saves the stores whose saved fields a transaction has changed. A storage that throws is reported. */
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
  /** The types of the fields of a store. */
  #typesOf(store: string, isValue: boolean): Readonly<Record<string, ValueType | undefined>> {
    const type = this.#checks[store]?.state ?? this.#checks[store]?.kept;
    return isValue ? { value: type } : (type as RecordType).fields;
  }

  /** The fields that `ask` gives; none if it throws, which is reported. */
  #judged(at: string, ask: () => Fields | undefined): Fields {
    try {
      return ask() ?? {};
    } catch (error) {
      this.#turns.report({ kind: 'storage', at, error });
      return {};
    }
  }

  /** The fields that have a type and a value. Throws if a value does not fit. */
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
/** The fields in stored data, brought up to the present version. */
function fieldsOf(data: unknown, { version, from = {} }: SavedPlan): unknown {
  if (version === undefined) return data;
  const [own, fields] = hasVersion(data) ? [data.version, data.fields] : [0, data];
  if (own === version) return fields;
  const make = from[own];
  if (make === undefined || !isObject(fields)) throw new TypeError('It is of an unknown version.');
  return { ...fields, ...make(fields) };
}

function hasVersion(data: unknown): data is { readonly version: number; readonly fields: object } {
  if (!isObject(data)) return false;
  const told: { readonly version?: unknown; readonly fields?: unknown } = data;
  return Number.isInteger(told.version) && isObject(told.fields);
}
// <old>

/** Whether a text is kept by this schema, and not by what was there before under the same key. */
function isKeptHere(text: string | null, { key, old }: SavedPlan): boolean {
  if (text === null) return false;
  const before = [...Object.values(old?.keys ?? {}), ...Object.values(old?.texts ?? {})];
  return !before.includes(key) || hasVersion(parsedOr(text));
}

/** A text as JSON data, or as it is. */
function parsedOr(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    return text;
  }
}
// </old>
// </saved>
