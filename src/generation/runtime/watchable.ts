// Values that can be watched from outside, by protocols that others speak.
import type { Problem } from './transaction.js';

/** Who is told of the values of something: an observer of the ECMAScript Observable contract. */
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

/** Closed by whoever has it; then it stops what it was made for. */
class Stoppable implements Subscription {
  stop: (() => void) | undefined = undefined;
  #isClosed = false;

  get closed(): boolean {
    return this.#isClosed;
  }

  unsubscribe(): void {
    if (this.#isClosed) return;
    this.#isClosed = true;
    this.stop?.();
  }
}

/** Something whose value changes: it can be watched, subscribed to and iterated over. */
export abstract class Watchable<T> {
  abstract readonly name: string;

  /** Calls back after every change, and with `ended` when the stores are closed; returns what stops it. */
  abstract watch(changed: (now: T, before: T) => void, ended?: () => void): () => void;

  /** The value of now, as JSON data. */
  abstract toJSON(): T;

  /** Tells where no caller can be told. */
  protected abstract report(problem: Problem): void;

  /** Tells the observer of every new value from now on, until the stores are closed. */
  subscribe(observer: Observer<T> | ((value: T) => void)): Subscription {
    const callbacks = typeof observer === 'function' ? { next: observer } : observer;
    if (Object(callbacks) !== callbacks)
      throw new TypeError('An observer is an object or a function.');
    const subscription = new Stoppable();
    try {
      callbacks.start?.(subscription);
    } catch (error) {
      this.report({ kind: 'watcher', at: this.name, error });
    }
    const end = (): void => {
      subscription.unsubscribe();
      callbacks.complete?.();
    };
    if (!subscription.closed) subscription.stop = this.watch((now) => callbacks.next?.(now), end);
    return subscription;
  }

  /** Every new value from now on, none left out, until the stores are closed. */
  [Symbol.asyncIterator](): AsyncIterableIterator<T> {
    const values: T[] = [];
    const waiting: ((result: IteratorResult<T>) => void)[] = [];
    const end: IteratorResult<T> = { done: true, value: undefined };
    let isOver = false;
    const finish = (): void => {
      isOver = true;
      for (const resolve of waiting.splice(0)) resolve(end);
    };
    const stop = this.watch((value) => {
      const first = waiting.shift();
      if (first === undefined) values.push(value);
      else first({ done: false, value });
    }, finish);
    return {
      next() {
        if (values.length > 0) return Promise.resolve({ done: false, value: values.shift() as T });
        if (isOver) return Promise.resolve(end);
        return new Promise((resolve) => waiting.push(resolve));
      },
      return() {
        stop();
        values.length = 0;
        finish();
        return Promise.resolve(end);
      },
      [Symbol.asyncIterator]() {
        return this;
      },
    };
  }
}

const interop = Reflect.get(Symbol, 'observable') as symbol | undefined;
Object.defineProperty(Watchable.prototype, interop ?? '@@observable', {
  configurable: true,
  writable: true,
  value(this: Watchable<unknown>) {
    return this;
  },
});

/** What a function reads, as something that can be watched. */
export class WatchableRead<T> extends Watchable<T> {
  readonly name: string;
  override readonly toJSON: () => T;
  override readonly watch: Watchable<T>['watch'];
  protected override readonly report: (problem: Problem) => void;

  constructor(
    name: string,
    read: () => T,
    watch: Watchable<T>['watch'],
    report: (problem: Problem) => void,
  ) {
    super();
    this.name = name;
    this.toJSON = read;
    this.watch = watch;
    this.report = report;
  }
}
