// The operations that the application asks of the world outside.

/** A signal that says that nobody waits any more: the platform's own type, where the compiler knows it. */
export type CallSignal = typeof globalThis extends { AbortSignal: { prototype: infer Signal } }
  ? Signal
  : BareSignal;

interface BareSignal {
  readonly aborted: boolean;
  addEventListener(type: 'abort', listener: () => void): void;
  removeEventListener(type: 'abort', listener: () => void): void;
}

/** Many values, one after the other: an async iterable, or something that can be subscribed to. */
export type ManyValues<T> = AsyncIterable<T> | Subscribable<T>;

interface Subscribable<T> {
  subscribe(observer: {
    next(value: T): void;
    error(error: unknown): void;
    complete(result?: unknown): void;
  }): { unsubscribe(): void } | (() => void);
}
