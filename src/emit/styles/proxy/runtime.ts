// Live objects: read like plain ones, changed in place by actions, with every read noted.
import {
  Draw,
  environmentOf,
  Turns,
  type Environment,
  type Options,
  type Outcome,
} from '../../common/transaction.js';
import type { Followed } from '../../common/followed.js';
import { Following } from '../../common/following.js';
import { Watchers } from '../../common/watchers.js';
import { Drafting } from './draft.js';
import { Field, Tracked, Tracker, type Readable } from './tracking.js';

/** What a store is made of: what its fields are at the start, and how its derived values are computed. */
export interface StoreParts {
  readonly fields: Readonly<Record<string, unknown>>;
  readonly derived: Readonly<Record<string, (app: never) => unknown>>;
}

interface LiveStore {
  readonly fields: ReadonlyMap<string, Field>;
  readonly derived: ReadonlyMap<string, Readable>;
}

type Objects = Record<string, object>;

/** Reads and changes a store through a proxy: quickly made, for those who are not outside. */
function through(
  read: (what: Readable) => unknown,
  write?: (field: Field, value: unknown) => void,
): ProxyHandler<LiveStore> {
  return {
    get({ fields, derived }, key) {
      const what = fields.get(key as string) ?? derived.get(key as string);
      return what && read(what);
    },
    set({ fields }, key, value) {
      const field = fields.get(key as string);
      if (field !== undefined) write?.(field, value);
      return field !== undefined && write !== undefined;
    },
  };
}

/** A store as an object with a property for each field and derived value, and with its actions. */
function viewOf({ fields, derived }: LiveStore, name: string, actions: object): object {
  const view = {};
  for (const [action, value] of Object.entries(actions))
    Object.defineProperty(view, action, { value, configurable: true });
  for (const [key, what] of [...fields, ...derived]) {
    if (Object.hasOwn(actions, key) && !fields.has(key)) continue;
    Object.defineProperty(view, key, {
      enumerable: true,
      get: () => what.get(),
      set() {
        throw new TypeError(`${name}.${key} is changed by actions only.`);
      },
    });
  }
  return Object.freeze(view);
}

/** The live objects of an application: `App` to be read, `Drafts` to be changed in actions. */
export class Live<App extends object, Drafts extends object> {
  readonly #environment: Environment;
  readonly #turns: Turns;
  readonly #watchers: Watchers;
  readonly #tracker: Tracker;
  readonly #stores = new Map<string, LiveStore>();
  /** The stores as derived values read them, and as they read them in the middle of an action. */
  readonly #app: Objects = {};
  readonly #appWithin: Objects = {};
  readonly #drafts: Objects = {};
  readonly #reading = through((what) => what.read());
  readonly #readingWithin = through((what) => what.within());
  readonly #changing = through(
    (what) => (what instanceof Field ? what.draft(this.#drafting) : what.within()),
    (field, value) => {
      field.set(value, this.#drafting);
    },
  );
  #drafting = new Drafting(() => undefined);

  constructor(parts: Readonly<Record<string, StoreParts>>, options: Options) {
    this.#environment = environmentOf(options);
    this.#tracker = new Tracker(this.#environment.guard);
    this.#turns = new Turns(this.#environment, () => {
      this.#watchers.round();
    });
    this.#watchers = new Watchers((problem) => {
      this.#turns.report(problem);
    });
    for (const [name, part] of Object.entries(parts)) this.#add(name, part);
  }

  #add(name: string, parts: StoreParts): void {
    const fields = Object.entries(parts.fields).map(
      ([field, initial]) => [field, new Field(this.#tracker, initial)] as const,
    );
    const derived = Object.entries(parts.derived).map(([value, compute]) => {
      const tracked = new Tracked(
        this.#tracker,
        () => compute(this.#app as never),
        () => compute(this.#appWithin as never),
      );
      return [value, tracked] as const;
    });
    const store: LiveStore = { fields: new Map(fields), derived: new Map(derived) };
    this.#stores.set(name, store);
    this.#app[name] = new Proxy(store, this.#reading);
    this.#appWithin[name] = new Proxy(store, this.#readingWithin);
    this.#drafts[name] = new Proxy(store, this.#changing);
  }

  /** All stores, as derived values read them. */
  get app(): App {
    return this.#app as App;
  }

  guarded<T>(value: T): T {
    return this.#tracker.guarded(value);
  }

  /** A store as a live object: its fields and derived values are read from it, its actions called on it. */
  store<K extends keyof App & string, A extends object>(name: K, actions: A): App[K] & A;
  store(name: string, actions: object): object {
    const store = this.#stores.get(name) as LiveStore;
    const toJSON = () =>
      Object.fromEntries([...store.fields].map(([field, what]) => [field, what.get()]));
    const isTaken = store.fields.has('toJSON') || store.derived.has('toJSON');
    const members = isTaken ? actions : { toJSON, ...actions };
    return viewOf(store, name, members);
  }

  /** Gives what `compute` gives: anew only if something that it read has changed, and the same object if equal. */
  tracked<T>(compute: () => T): () => T {
    const tracked = new Tracked(this.#tracker, compute);
    return () => tracked.get();
  }

  /** Calls back after every change of what `read` gives; what it reads is noted while it reads. */
  watch<T>(read: () => T, changed: (now: T, before: T) => void): () => void {
    return this.#watchers.add('watch', this.tracked(read), changed);
  }

  /** What `read` gives, to be subscribed to or iterated over. */
  follow<T>(read: () => T): Followed<T> {
    return new Following<T>(
      this.tracked(read),
      (changed) => this.watch(read, changed),
      (problem) => {
        this.#turns.report(problem);
      },
    );
  }

  /** Does an action on drafts of the stores: all of it or nothing. */
  act(action: string, work: (drafts: Drafts, draw: Draw) => void): Outcome {
    return this.#turns.take(action, () => {
      const tracker = this.#tracker;
      const drafting = new Drafting(() => {
        tracker.write();
      });
      this.#drafting = drafting;
      tracker.turn();
      try {
        work(this.#drafts as Drafts, new Draw(this.#environment));
      } catch (error) {
        drafting.settle(false);
        tracker.turn();
        throw error;
      }
      const changed = drafting.settle(true);
      tracker.turn(changed);
      return changed;
    });
  }
}
