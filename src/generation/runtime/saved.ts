// Stores whose fields are kept in a storage that outlasts them.
import { fieldTypes, fittingFields, type Fields } from './stored-fields.js';
import { handOver, type Engine } from './engine.js';
import { takenIn, type Capability, type Outcome } from './transaction.js';
import { isObject } from './values.js';

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
  /** What was kept before there was a schema. */
  readonly old?: KeptBefore;
}

/** What was kept before there was a schema: the keys of it, and what makes fields of it. */
export interface KeptBefore {
  readonly keys: readonly string[];
  /** The fields, from what is kept under those keys; nothing if nothing is. */
  readonly make: (read: (key: string) => string | null) => unknown;
  /** True if a text is kept by the schema, and not by what was there before under the same key. */
  readonly isOwn: (text: string | null, key: string) => boolean;
}

/** Where saved data is kept: `localStorage` has this shape. */
export interface SavedTexts {
  getItem(key: string): string | null;
  setItem(key: string, text: string): void;
}

export interface SavedOptions {
  /** Where saved data is kept: `localStorage` in a browser and nowhere elsewhere if not given, nowhere if `undefined`. */
  readonly storage?: SavedTexts | undefined;
}

/** A storage that may answer later, with promises. */
export interface StorageToTake {
  getItem(key: string): string | null | PromiseLike<string | null>;
  setItem(key: string, text: string): unknown;
}

/** The globals of a browser. Some servers have a `localStorage` too, but no `document`: theirs is not used. */
interface Browser {
  readonly document?: unknown;
  readonly localStorage: SavedTexts;
}

const browser = globalThis as unknown as Browser;

/** Thrown where the text must not be lost: it is of a later version, or has not come yet. */
class NotReadable extends TypeError {}

/** What a storage says, or throws. */
type ReadText = (key: string) => string | null;

/** Reads and saves the fields of stores. A store that is one value has one field here, `value`. */
export class SavedStores implements Capability {
  readonly #engine: Engine;
  readonly #options: SavedOptions;
  readonly #plans = new Map<string, SavedPlan>();
  /** The saved fields before the transaction under way, and as they were when the stores were made. */
  readonly #before = new Map<string, readonly unknown[]>();
  readonly #first = new Map<string, readonly unknown[]>();
  /** Stores that are not saved: what stands in the storage would be lost. */
  readonly #spared = new Set<string>();
  /** What is being written, by key, and what is to be written after that. */
  readonly #writing = new Map<string, { next: string | undefined }>();
  #taken: StorageToTake | undefined;
  #isTaking = false;

  constructor(engine: Engine, options: SavedOptions) {
    this.#engine = engine;
    this.#options = options;
    engine.begins.push((store, isValue) => this.#of(store, isValue));
    handOver(engine, this);
  }

  /** Saves a store from now on, before it is made. */
  add(store: string, plan: SavedPlan): void {
    this.#plans.set(store, plan);
  }

  /** The fields of a store that are saved. */
  #of(store: string, isValue: boolean): Fields {
    const read: ReadText = (key) => {
      const text = this.#storage()?.getItem(key) ?? null;
      if (typeof text === 'object' && text !== null)
        throw new NotReadable('It answers later: takeSaved waits for that.');
      return text;
    };
    return this.#read(store, isValue, read);
  }

  /**
   * Takes in what a storage has, in one transaction, and saves there from then on. The storage may answer later. Fields
   * that have changed since the stores were made keep their values, which are written.
   */
  readonly takeSaved = async (storage: StorageToTake): Promise<Outcome> => {
    // A store that is attached meanwhile is not among those that are asked for.
    const plans = [...this.#plans];
    const keys = plans.flatMap(([, plan]) => keysOf(plan));
    const answers = keys.map((key) => answerOf(() => storage.getItem(key)));
    let readAt = (i: number): string | null => answers[i] as string | null;
    // One that answers at once is taken in at once.
    if (answers.some((answer) => typeof answer === 'object' && answer !== null)) {
      const settled = await Promise.allSettled(answers.map((answer) => Promise.resolve(answer)));
      readAt = (i) => {
        const one = settled[i];
        if (one?.status === 'rejected') throw one.reason;
        return one?.value ?? null;
      };
    }
    const changed = new Set<string>();
    const work = this.#engine.transaction<undefined>(() => {
      this.#engine.turns.does?.(takenIn);
      for (const [store, plan] of plans) {
        const read = this.#read(store, plan.fields === undefined, (key) =>
          readAt(keys.indexOf(key)),
        );
        const [now, first] = [this.#keptOf(store, plan), this.#first.get(store)];
        for (const [i, field] of fieldsOf(plan).entries())
          if (first !== undefined && !Object.is(now[i], first[i])) changed.add(store);
          else if (Object.hasOwn(read, field ?? 'value'))
            this.#engine.put(store, field, read[field ?? 'value']);
      }
    });
    const outcome = this.#engine.turns.take(takenIn, undefined, undefined, {
      ...work,
      act: () => {
        this.#isTaking = true;
        this.#taken = storage;
        work.act(undefined);
      },
    });
    const last = outcome.status === 'queued' ? await outcome.outcome : outcome;
    for (const store of changed) this.#write(store, this.#plans.get(store) as SavedPlan);
    return last;
  };

  #read(store: string, isValue: boolean, read: ReadText): Fields {
    const plan = this.#plans.get(store);
    if (plan === undefined) return {};
    this.#spared.delete(store);
    try {
      const types = fieldTypes(this.#engine.checks[store], isValue);
      const names = fieldsOf(plan).map((field = 'value') => field);
      const own = Object.fromEntries(names.map((name) => [name, types[name]]));
      const fields = storedFields(plan, read);
      return fields === undefined ? {} : fittingFields(fields, own);
    } catch (error) {
      if (error instanceof NotReadable) this.#spared.add(store);
      this.#engine.turns.report({ kind: 'storage', at: `${store}.saved`, error });
      return {};
    }
  }

  #storage(): StorageToTake | undefined {
    if (this.#taken !== undefined) return this.#taken;
    if ('storage' in this.#options) return this.#options.storage;
    return browser.document === undefined ? undefined : browser.localStorage;
  }

  /** Notes the saved fields before a transaction. */
  begin(): void {
    this.#isTaking = false;
    for (const [store, plan] of this.#plans) {
      const now = this.#keptOf(store, plan);
      this.#before.set(store, now);
      if (!this.#first.has(store)) this.#first.set(store, now);
    }
  }

  /** Saves the stores whose saved fields a transaction has changed. A storage that throws is reported. */
  keep(_action: string, changed: boolean): boolean {
    if (!changed || this.#isTaking) return false;
    for (const [store, plan] of this.#plans) {
      const [before, now] = [this.#before.get(store) ?? [], this.#keptOf(store, plan)];
      if (!now.every((value, i) => Object.is(value, before[i]))) this.#write(store, plan);
    }
    return false;
  }

  /** A store that is attached begins with what is saved: that need not be saved again. */
  attached(): void {
    this.begin();
  }

  #write(store: string, plan: SavedPlan): void {
    if (this.#spared.has(store)) return;
    const { key, version } = plan;
    const kept = this.#keptOf(store, plan);
    const fields = Object.fromEntries(
      fieldsOf(plan).map((field = 'value', i) => [field, kept[i]] as const),
    );
    const text = JSON.stringify(version === undefined ? fields : { version, fields });
    const under = this.#writing.get(key);
    if (under === undefined) this.#put(store, key, text);
    else under.next = text;
  }

  /** Writes a text; what is written meanwhile waits, so that no older text comes last. */
  #put(store: string, key: string, text: string): void {
    const failed = (error: unknown): void => {
      this.#engine.turns.report({ kind: 'storage', at: `${store}.saved`, error });
    };
    try {
      const written = this.#storage()?.setItem(key, text);
      if (typeof written !== 'object' || written === null) return;
      const under: { next: string | undefined } = { next: undefined };
      this.#writing.set(key, under);
      void Promise.resolve(written)
        .catch(failed)
        .then(() => {
          this.#writing.delete(key);
          if (under.next !== undefined) this.#put(store, key, under.next);
        });
    } catch (error) {
      failed(error);
    }
  }

  #keptOf(store: string, plan: SavedPlan): readonly unknown[] {
    return fieldsOf(plan).map((field) => this.#engine.read(store, field));
  }
}

/** The saved fields; `undefined` for the one value of a store. */
const fieldsOf = ({ fields }: SavedPlan): readonly (string | undefined)[] => fields ?? [undefined];

/** What a storage answers; a promise that is rejected if it throws. */
function answerOf<T>(ask: () => T | PromiseLike<T>): T | PromiseLike<T> {
  try {
    return ask();
  } catch (error) {
    // eslint-disable-next-line @typescript-eslint/prefer-promise-reject-errors -- what the storage throws
    return Promise.reject(error);
  }
}

/** The keys under which a store may find something. */
const keysOf = ({ key, old }: SavedPlan): readonly string[] => [key, ...(old?.keys ?? [])];

/** The fields in stored data, brought up to the present version; nothing if there are none. */
function storedFields(plan: SavedPlan, read: ReadText): unknown {
  const { key, version, from = {} } = plan;
  const text = read(key);
  if (plan.old?.isOwn(text, key) === false) return plan.old.make(read);
  if (text === null) return undefined;
  const data: unknown = JSON.parse(text);
  const [own, fields] =
    hasVersion(data) && !namesBoth(plan) ? [data.version, data.fields] : [0, data];
  if (own > (version ?? 0)) throw new NotReadable('It is of a later version.');
  if (own === (version ?? 0)) return fields;
  const make = from[own];
  if (make === undefined || !isObject(fields)) throw new TypeError('It is of an unknown version.');
  return { ...fields, ...make(fields) };
}

/** True if fields of a store without a version look like what is saved with one. */
const namesBoth = ({ version, fields = [] }: SavedPlan): boolean =>
  version === undefined && fields.includes('version') && fields.includes('fields');

export function hasVersion(
  data: unknown,
): data is { readonly version: number; readonly fields: object } {
  if (!isObject(data)) return false;
  const told: { readonly version?: unknown; readonly fields?: unknown } = data;
  return Number.isInteger(told.version) && isObject(told.fields);
}
