/** Says that nobody waits for an answer any more: an `AbortSignal` has this shape. */
export interface Signal {
  readonly aborted: boolean;
  addEventListener(type: 'abort', listener: () => void): void;
}

/** An operation: it answers with a promise, a stream or a value, unless the signal is aborted before. */
export type Call = (payload: unknown, signal: Signal) => unknown;
export type Services = Readonly<Record<string, Readonly<Record<string, Call>>>>;

/** Timers; the platform's own functions have this shape. */
export interface Timers {
  readonly setTimeout: (run: () => void, ms: number) => unknown;
  readonly clearTimeout: (timer: never) => void;
}
