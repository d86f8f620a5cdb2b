// Live objects: read like plain ones, changed in place by actions, with every read noted.
import {
  Draw,
  environmentOf,
  Turns,
  type Options,
  type Outcome,
} from '../../common/transaction.js';
import { freeze, keep, same } from '../../common/values.js';
import { Watchers } from '../../common/watchers.js';
import { Drafting } from './draft.js';

type Fields = Readonly<Record<string, unknown>>;
type Derivations = Readonly<Record<string, (app: never) => unknown>>;

/** What a store is made of. */
export interface StoreParts {
  readonly fields: Fields;
  readonly derived: Derivations;
}

/** Something that was read: what it was, and how to read it again. */
interface Read {
  readonly seen: unknown;
  readonly again: () => unknown;
}

/** A result with what was read for it, so that it is known when it must be computed anew. */
interface Remembered {
  readonly value: unknown;
  readonly reads: ReadonlyMap<string, Read>;
}

/** One view of all stores: the committed state, or that of a transaction under way. */
class Layer {
  readonly #parts: ReadonlyMap<string, StoreParts>;
  readonly #remembered = new Map<string, Remembered>();
  readonly #finish: <T>(value: T) => T;
  readonly state = new Map<string, Fields>();
  readonly app: Readonly<Record<string, object>>;
  #reading: Map<string, Read> | undefined;

  constructor(parts: ReadonlyMap<string, StoreParts>, finish: <T>(value: T) => T) {
    this.#parts = parts;
    this.#finish = finish;
    const views = [...parts.keys()].map((store) => [store, this.#view(store)] as const);
    this.app = Object.fromEntries(views);
  }

  /** A field or a derived value; the read is noted. */
  read(store: string, name: string): unknown {
    const derivation = this.#parts.get(store)?.derived[name];
    if (derivation !== undefined)
      return this.tracked(`${store}.${name}`, () => derivation(this.app as never));
    const seen = this.state.get(store)?.[name];
    this.#reading?.set(`${store}.${name}`, { seen, again: () => this.state.get(store)?.[name] });
    return seen;
  }

  /**
   * What `compute` gives: anew only if something that it read has changed, and the same object if equal.
   * This too is noted as read by whatever asks for it.
   */
  tracked<T>(name: string, compute: () => T): T;
  tracked(name: string, compute: () => unknown): unknown {
    const outer = this.#reading;
    const last = this.#remembered.get(name);
    const seen =
      last !== undefined && this.#isUnchanged(last)
        ? last.value
        : this.#computed(name, compute, last);
    outer?.set(name, { seen, again: () => this.tracked(name, compute) });
    return seen;
  }

  #computed(name: string, compute: () => unknown, last: Remembered | undefined): unknown {
    const outer = this.#reading;
    const reads = new Map<string, Read>();
    this.#reading = reads;
    try {
      const now = this.#finish(compute());
      const value = last !== undefined && same(last.value, now) ? last.value : now;
      this.#remembered.set(name, { value, reads });
      return value;
    } finally {
      this.#reading = outer;
    }
  }

  forget(name: string): void {
    this.#remembered.delete(name);
  }

  forgetAll(): void {
    this.#remembered.clear();
  }

  #isUnchanged({ reads }: Remembered): boolean {
    const outer = this.#reading;
    this.#reading = undefined;
    try {
      for (const { seen, again } of reads.values()) if (!Object.is(again(), seen)) return false;
      return true;
    } finally {
      this.#reading = outer;
    }
  }

  /** A store as a live object that can only be read. */
  #view(store: string): object {
    const parts = this.#parts.get(store);
    const names = [...Object.keys(parts?.fields ?? {}), ...Object.keys(parts?.derived ?? {})];
    const refuse = (_target: object, key: PropertyKey): never => {
      throw new TypeError(`${store}.${String(key)} is changed by actions only.`);
    };
    return new Proxy(Object.fromEntries(names.map((name) => [name, undefined])), {
      get: (_target, key) =>
        typeof key === 'string' && names.includes(key) ? this.read(store, key) : undefined,
      getOwnPropertyDescriptor: (_target, key) =>
        typeof key === 'string' && names.includes(key)
          ? { value: this.read(store, key), enumerable: true, configurable: true, writable: true }
          : undefined,
      set: refuse,
      defineProperty: refuse,
      deleteProperty: refuse,
    });
  }
}

/** The live objects of an application: `App` to be read, `Drafts` to be changed in actions. */
export class Live<App extends object, Drafts extends object> {
  readonly #turns: Turns;
  readonly #watchers: Watchers;
  readonly #committed: Layer;
  readonly #working: Layer;
  readonly #parts: ReadonlyMap<string, StoreParts>;
  #watched = 0;

  constructor(parts: Readonly<Record<string, StoreParts>>, options: Options) {
    const environment = environmentOf(options);
    this.#turns = new Turns(environment);
    this.#watchers = new Watchers(this.#turns);
    this.#parts = new Map(Object.entries(parts));
    const finish: <T>(value: T) => T = environment.guard ? freeze : (value) => value;
    this.#committed = new Layer(this.#parts, finish);
    this.#working = new Layer(this.#parts, (value) => value);
    for (const [store, { fields }] of this.#parts)
      this.#committed.state.set(store, finish({ ...fields }));
  }

  /** All stores, to be read. */
  get app(): App {
    return this.#committed.app as App;
  }

  guarded<T>(value: T): T {
    return this.#turns.environment.guard ? freeze(value) : value;
  }

  /** A store as a live object: its fields and derived values are read from it, its actions called on it. */
  store<K extends keyof App & string, A extends object>(name: K, actions: A): App[K] & A;
  store(name: string, actions: object): object {
    return new Proxy(this.#committed.app[name] ?? {}, {
      get: (view, key) => Reflect.get(Object.hasOwn(actions, key) ? actions : view, key) as unknown,
    });
  }

  /** What `compute` gives: anew only if something that it read has changed, and the same object if equal. */
  tracked<T>(name: string, compute: () => T): T {
    return this.#committed.tracked(name, compute);
  }

  /** Calls back after every change of what `read` gives; what it reads is noted while it reads. */
  watch<T>(read: () => T, changed: (now: T, before: T) => void): () => void {
    const name = `watch ${(this.#watched += 1)}`;
    const stop = this.#watchers.add(name, () => this.#committed.tracked(name, read), changed);
    return () => {
      stop();
      this.#committed.forget(name);
    };
  }

  /** Does an action on drafts of the stores: all of it or nothing. */
  act(action: string, work: (drafts: Drafts, draw: Draw) => void): Outcome {
    return this.#turns.take(action, () => {
      const drafts = this.#begin();
      work(drafts as Drafts, new Draw(this.#turns.environment));
      const changed = this.#commit();
      return () => {
        if (changed) this.#watchers.round();
      };
    });
  }

  /** Drafts of all stores: fields to read and write, derived values to read. */
  #begin(): object {
    const working = this.#working;
    const drafting = new Drafting(() => {
      working.forgetAll();
    });
    working.forgetAll();
    const drafts = [...this.#parts].map(([store, { derived }]) => {
      const fields = this.#committed.state.get(store) ?? {};
      working.state.set(store, fields);
      const draft = drafting.draft(fields, (copy) => working.state.set(store, copy as Fields));
      return [store, withDerived(draft, derived, (name) => working.read(store, name))] as const;
    });
    return Object.fromEntries(drafts);
  }

  #commit(): boolean {
    let changed = false;
    const { guard } = this.#turns.environment;
    for (const [store, before] of this.#committed.state) {
      const kept = keep(before, this.#working.state.get(store) ?? before);
      if (kept === before) continue;
      changed = true;
      this.#committed.state.set(store, guard ? freeze(kept) : kept);
    }
    return changed;
  }
}

/** A draft of a store through which its derived values can be read too. */
function withDerived(draft: object, derived: Derivations, read: (name: string) => unknown): object {
  return new Proxy(draft, {
    get: (target, key) =>
      typeof key === 'string' && Object.hasOwn(derived, key)
        ? read(key)
        : (Reflect.get(target, key) as unknown),
    set: (target, key, value) => Reflect.set(target, key, value),
  });
}
