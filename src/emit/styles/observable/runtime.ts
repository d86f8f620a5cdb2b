// Streams of values that follow the ECMAScript Observable contract.
import {
  Draw,
  environmentOf,
  Turns,
  type Environment,
  type Options,
  type Outcome,
} from '../../common/transaction.js';
import { freeze, keep, same } from '../../common/values.js';

/** Who is told of the values of a stream. */
export interface Observer<T> {
  start?(subscription: Subscription): void;
  next?(value: T): void;
  error?(error: unknown): void;
  complete?(): void;
}

export interface Subscription {
  readonly closed: boolean;
  unsubscribe(): void;
}

/** A stream of values over time: it tells each new value once, after the transaction that made it. */
export abstract class Stream<T> {
  readonly name: string;
  protected readonly hub: Hub;

  constructor(hub: Hub, name: string) {
    this.hub = hub;
    this.name = name;
  }

  /** The latest value. */
  abstract get value(): T;

  /** The latest value within a transaction. */
  abstract within(change: Change): T;

  /** Tells the observer of every new value from now on; the present one is in `value`. */
  subscribe(observer: Observer<T> | ((value: T) => void)): Subscription {
    const told = typeof observer === 'function' ? { next: observer } : observer;
    return this.hub.subscribe(this, told);
  }
}

const interop = Reflect.get(Symbol, 'observable') as symbol | undefined;
Object.defineProperty(Stream.prototype, interop ?? '@@observable', {
  value(this: Stream<unknown>) {
    return this;
  },
});

/** The stream of a field: actions put its next values in. */
export class Source<T> extends Stream<T> {
  #value: T;

  constructor(hub: Hub, name: string, initial: T) {
    super(hub, name);
    this.#value = hub.guarded(initial);
  }

  override get value(): T {
    return this.#value;
  }

  override within(change: Change): T {
    return change.nextOf(this);
  }

  /** Takes its next value at the end of a transaction; false if it equals the present one. */
  push(value: T): boolean {
    const kept = keep(this.#value, value);
    if (kept === this.#value) return false;
    this.#value = this.hub.guarded(kept);
    return true;
  }
}

/** The streams that a combined stream is made of, by the types of their values. */
type Sources<V extends readonly unknown[]> = readonly [...{ [K in keyof V]: Stream<V[K]> }];

/** A stream that projects the latest values of others: never of two moments at once. */
export class Combined<V extends readonly unknown[], T> extends Stream<T> {
  readonly #sources: () => Sources<V>;
  readonly #project: (...values: V) => T;
  #last: { readonly values: V; readonly result: T } | undefined;
  #moment = -1;

  constructor(hub: Hub, name: string, sources: () => Sources<V>, project: (...values: V) => T) {
    super(hub, name);
    this.#sources = sources;
    this.#project = project;
  }

  override get value(): T {
    if (this.#last !== undefined && this.#moment === this.hub.moment) return this.#last.result;
    const last = this.#last;
    const values = this.#sources().map((source) => source.value) as unknown as V;
    this.#moment = this.hub.moment;
    if (last !== undefined && values.every((value, i) => Object.is(value, last.values[i])))
      return last.result;
    const projected = this.hub.guarded(this.#project(...values));
    const result = last !== undefined && same(last.result, projected) ? last.result : projected;
    this.#last = { values, result };
    return result;
  }

  override within(change: Change): T {
    if (change.isEmpty) return this.value;
    return change.remember(this, () => {
      const values = this.#sources().map((source) => change.latest(source)) as unknown as V;
      return this.#project(...values);
    });
  }
}

/** What one action puts into the streams; nothing of it is seen outside before the action is done. */
export class Change extends Draw {
  readonly #next = new Map<
    Source<unknown>,
    { readonly value: unknown; readonly push: () => boolean }
  >();
  readonly #combined = new Map<Stream<unknown>, unknown>();

  get isEmpty(): boolean {
    return this.#next.size === 0;
  }

  /** The latest value of a stream. */
  readonly latest = <T>(stream: Stream<T>): T => stream.within(this);

  /** Puts the next value into the stream of a field. */
  readonly next = <T>(source: Stream<T>, value: NoInfer<T>): void => {
    if (!(source instanceof Source))
      throw new TypeError(`${source.name} is combined of others: nothing is put into it.`);
    this.#next.set(source, { value, push: () => source.push(value) });
    this.#combined.clear();
  };

  nextOf<T>(source: Source<T>): T {
    const next = this.#next.get(source);
    return next === undefined ? source.value : (next.value as T);
  }

  remember<T>(stream: Stream<T>, project: () => T): T {
    if (!this.#combined.has(stream)) this.#combined.set(stream, project());
    return this.#combined.get(stream) as T;
  }

  /** Pushes everything; false if nothing is new. */
  push(): boolean {
    return [...this.#next.values()].filter(({ push }) => push()).length > 0;
  }
}

interface Listener {
  tellIfNew(): void;
}

/** Where the streams of an application meet: actions come in one by one, and values go out in order. */
export class Hub {
  readonly environment: Environment;
  readonly #turns: Turns;
  readonly #listeners = new Set<Listener>();
  #moment = 0;

  constructor(options: Options) {
    this.environment = environmentOf(options);
    this.#turns = new Turns(this.environment);
  }

  /** Counts the transactions that changed something. */
  get moment(): number {
    return this.#moment;
  }

  source<T>(name: string, initial: T): Source<T> {
    return new Source(this, name, initial);
  }

  combine<V extends readonly unknown[], T>(
    name: string,
    sources: () => Sources<V>,
    project: (...values: V) => T,
  ): Stream<T> {
    return new Combined(this, name, sources, project);
  }

  /** Does an action in one transaction: all of it or nothing. */
  act(name: string, work: (change: Change) => void): Outcome {
    return this.#turns.take(name, () => {
      const change = new Change(this.environment);
      work(change);
      if (!change.push()) return () => undefined;
      this.#moment += 1;
      return () => {
        this.#emit();
      };
    });
  }

  guarded<T>(value: T): T {
    return this.environment.guard ? freeze(value) : value;
  }

  subscribe<T>(stream: Stream<T>, observer: Observer<T>): Subscription {
    let told = stream.value;
    const listener: Listener = {
      tellIfNew: () => {
        const { value } = stream;
        if (Object.is(value, told)) return;
        told = value;
        this.#turns.tell(stream.name, () => observer.next?.(value));
      },
    };
    const listeners = this.#listeners;
    const subscription: Subscription = {
      get closed() {
        return !listeners.has(listener);
      },
      unsubscribe() {
        listeners.delete(listener);
      },
    };
    listeners.add(listener);
    this.#turns.tell(stream.name, () => observer.start?.(subscription));
    return subscription;
  }

  #emit(): void {
    for (const listener of [...this.#listeners]) {
      if (this.#listeners.has(listener)) listener.tellIfNew();
    }
  }
}
