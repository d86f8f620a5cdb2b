// Streams of values that follow the ECMAScript Observable contract.
import {
  Draw,
  environmentOf,
  Turns,
  type Environment,
  type Options,
  type Outcome,
  type Problem,
} from '../../common/transaction.js';
import { Cell, GivenOut } from '../../common/cell.js';
import { Followed } from '../../common/followed.js';
import { freeze, same } from '../../common/values.js';
import { Watchers } from '../../common/watchers.js';

/** A stream of values over time: it tells each new value once, after the transaction that made it. */
export abstract class Stream<T> extends Followed<T> {
  readonly name: string;
  protected readonly hub: Hub;

  constructor(hub: Hub, name: string) {
    super();
    this.hub = hub;
    this.name = name;
  }

  /** The latest value. */
  abstract get value(): T;

  /** The latest value for what is combined from it: nothing is given out. */
  abstract read(): T;

  /** The latest value within a transaction. */
  abstract within(change: Change): T;

  override watch(changed: (now: T, before: T) => void): () => void {
    return this.hub.watchers.add(this.name, () => this.value, changed);
  }

  override toJSON(): T {
    return this.value;
  }

  protected override report(problem: Problem): void {
    this.hub.report(problem);
  }
}

/** The stream of a field: actions put its next values in. */
export class Source<T> extends Stream<T> {
  readonly #cell: Cell<T>;

  constructor(hub: Hub, name: string, initial: T) {
    super(hub, name);
    this.#cell = new Cell(hub.guarded(initial));
  }

  override get value(): T {
    return this.#cell.value;
  }

  override read(): T {
    return this.#cell.value;
  }

  override within(): T {
    return this.#cell.within;
  }

  /** Takes its next value within a transaction; false if it had one already. */
  put(value: T): boolean {
    return this.#cell.put(value);
  }

  /** Ends a transaction, and keeps what was put in if that is wanted; false if nothing is new. */
  settle(isKept: boolean): boolean {
    return this.#cell.settle(isKept, this.hub.environment.guard);
  }
}

/** The streams that a combined stream is made of, by the types of their values. */
type Sources<V extends readonly unknown[]> = readonly [...{ [K in keyof V]: Stream<V[K]> }];

/** A stream that projects the latest values of others: never of two moments at once. */
export class Combined<V extends readonly unknown[], T> extends Stream<T> {
  readonly #findSources: () => Sources<V>;
  readonly #project: (...values: V) => T;
  #sources: readonly Stream<unknown>[] | undefined;
  #last: { readonly values: readonly unknown[]; readonly result: T } | undefined;
  readonly #given = new GivenOut<T>();
  #within: { readonly change: Change; readonly moment: number; readonly result: T } | undefined;
  /** The moment of the hub for which the last result is known to hold. */
  #moment = -1;

  constructor(hub: Hub, name: string, sources: () => Sources<V>, project: (...values: V) => T) {
    super(hub, name);
    this.#findSources = sources;
    this.#project = project;
  }

  override get value(): T {
    return this.#given.of(this.read());
  }

  override read(): T {
    const last = this.#last;
    if (last !== undefined && this.#moment === this.hub.moment) return last.result;
    if (last === undefined || !this.#isUnchanged(last.values)) {
      const values = this.#streams().map((source) => source.read());
      const projected = this.#project(...(values as unknown as V));
      const isEqual = last !== undefined && same(last.result, projected);
      this.#last = { values, result: isEqual ? last.result : this.hub.guarded(projected) };
    }
    this.#moment = this.hub.moment;
    return (this.#last as { readonly result: T }).result;
  }

  override within(change: Change): T {
    const { moment } = change;
    if (moment === 0) return this.read();
    const known = this.#within;
    if (known?.change === change && known.moment === moment) return known.result;
    const last = this.#last;
    const result =
      last !== undefined && this.#isUnchanged(last.values, change)
        ? last.result
        : this.#project(
            ...(this.#streams().map((source) => source.within(change)) as unknown as V),
          );
    this.#within = { change, moment, result };
    return result;
  }

  /** Found when first asked for: streams of other stores may be made later than this. */
  #streams(): readonly Stream<unknown>[] {
    return (this.#sources ??= this.#findSources());
  }

  #isUnchanged(values: readonly unknown[], change?: Change): boolean {
    const streams = this.#streams();
    for (let i = 0; i < streams.length; i++) {
      const source = streams[i] as Stream<unknown>;
      const now = change === undefined ? source.read() : source.within(change);
      if (!Object.is(now, values[i])) return false;
    }
    return true;
  }
}

/** What one action puts into the streams; nothing of it is seen outside before the action is done. */
export class Change extends Draw {
  readonly #sources: Source<unknown>[] = [];
  #moment = 0;

  /** How often something was put in. */
  get moment(): number {
    return this.#moment;
  }

  /** The latest value of a stream. */
  latest<T>(stream: Stream<T>): T {
    return stream.within(this);
  }

  /** Puts the next value into the stream of a field. */
  next<T>(source: Stream<T>, value: NoInfer<T>): void {
    if (!(source instanceof Source))
      throw new TypeError(`${source.name} is combined of others: nothing is put into it.`);
    this.#moment += 1;
    if (source.put(value)) this.#sources.push(source);
  }

  /** Ends it, and keeps what was put in if that is wanted; false if nothing is new. */
  settle(isKept: boolean): boolean {
    let changed = false;
    for (const source of this.#sources) if (source.settle(isKept)) changed = true;
    return changed;
  }
}

/** Where the streams of an application meet: actions come in one by one, and values go out in order. */
export class Hub {
  readonly environment: Environment;
  readonly #turns: Turns;
  readonly watchers: Watchers;
  #moment = 0;

  constructor(options: Options) {
    this.environment = environmentOf(options);
    this.#turns = new Turns(this.environment, () => {
      this.watchers.round();
    });
    this.watchers = new Watchers((problem) => {
      this.report(problem);
    });
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
      try {
        work(change);
      } catch (error) {
        change.settle(false);
        throw error;
      }
      if (!change.settle(true)) return false;
      this.#moment += 1;
      return true;
    });
  }

  guarded<T>(value: T): T {
    return this.environment.guard ? freeze(value) : value;
  }

  report(problem: Problem): void {
    this.#turns.report(problem);
  }
}
