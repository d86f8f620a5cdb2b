// Stores of streams that are attached later.
import { attachTo } from '../../../runtime/attaching.js';
import type { Outcome } from '../../../runtime/transaction.js';
import type { StoreChecks } from '../../../runtime/value-types.js';
import { Stream, type Streams } from './streams.js';

/** A store that is attached later. */
export interface LazyStore<Made = object> {
  readonly name: string;
  readonly checks?: StoreChecks;
  readonly create: (around: never) => Made;
}

/** A stream of a store that may not be there yet: of `undefined` until then. */
class LazyStream<T> extends Stream<T | undefined> {
  readonly #find: () => Stream<T> | undefined;

  constructor(streams: Streams, find: () => Stream<T> | undefined) {
    super(streams);
    this.#find = find;
  }

  protected override read(): T | undefined {
    return this.#find()?.peek();
  }

  protected override within(): T | undefined {
    return this.#find()?.peek();
  }

  protected override giveOut(value: T | undefined): T | undefined {
    return value;
  }
}

/** The stores that are attached later, among the others. */
export class LazyStores {
  readonly #streams: Streams;
  readonly #order: readonly string[];

  /** `order`: all stores in the order of the schema. */
  constructor(streams: Streams, order: readonly string[]) {
    this.#streams = streams;
    this.#order = order;
    streams.committed = Object.fromEntries(order.map((name) => [name, null]));
    for (const name of order) streams.latestOf[name] = null;
  }

  /** A stream of a store that may not be there yet. */
  readonly lazily = <T>(find: () => Stream<T> | undefined): Stream<T | undefined> =>
    new LazyStream(this.#streams, find);

  /** Attaches a store; does nothing if it is attached already. */
  attach({ name, checks = {}, create }: LazyStore, around: object, stores: object): Outcome {
    const streams = this.#streams;
    const make = (): unknown => {
      streams.checks[name] = checks;
      Object.assign(stores, { [name]: create(around as never) });
      for (const { reactions } of streams.deeds.values())
        reactions.sort((a, b) => this.#order.indexOf(a.store) - this.#order.indexOf(b.store));
      return undefined;
    };
    return attachTo(streams, name, this.#order, () => streams.committed[name] !== null, make);
  }
}
