// A call of a run: it is made, and answered, given up or forgotten.
import type { Ended, TaskError, Timers } from './task-outcomes.js';

/** What browsers and servers alike have, whatever types of theirs the compiler knows. */
interface AbortController {
  readonly signal: unknown;
  abort(): void;
}

const platform = globalThis as unknown as { readonly AbortController?: new () => AbortController };

/** What aborts a call; where the platform has nothing for it, services are given no signal, and their answers are dropped. */
const newController = (): AbortController =>
  platform.AbortController
    ? new platform.AbortController()
    : { signal: undefined, abort: () => undefined };

/** What is under way for a run. */
export class LiveRun {
  readonly name: string;
  readonly number: number;
  readonly settle: (ended: Ended) => void;
  /** The number of calls that were made, and how often the last was made again. */
  calls = 0;
  attempt = 0;
  controller: AbortController | undefined;
  /** Ends the listening to a stream. */
  stop: (() => void) | undefined;
  /** True if the run ends with its round, though it repeats. */
  isLast = false;
  readonly #timers: Timers;
  readonly #set = new Set<unknown>();

  constructor(name: string, number: number, timers: Timers, settle: (ended: Ended) => void) {
    this.name = name;
    this.number = number;
    this.#timers = timers;
    this.settle = settle;
  }

  /** Does something when a time is over; returns what stops that. */
  after(ms: number, work: () => void): () => void {
    const timer = this.#timers.setTimeout(() => {
      this.#set.delete(timer);
      work();
    }, ms);
    this.#set.add(timer);
    return () => {
      this.#timers.clearTimeout(timer as never);
      this.#set.delete(timer);
    };
  }

  /** The call that is under way counts no more, and nothing waits for a time. */
  quit(isAborted: boolean): void {
    this.calls += 1;
    for (const timer of this.#set) this.#timers.clearTimeout(timer as never);
    this.#set.clear();
    const { controller, stop } = this;
    this.controller = this.stop = undefined;
    stop?.();
    if (isAborted) controller?.abort();
  }
}

/** Whom an application asks, by service. */
export type GivenServices = Readonly<Record<string, object | undefined>>;

/** Who is told what a stream gives. */
export interface Listener {
  readonly next: (value: unknown) => void;
  readonly error: (error: unknown) => void;
  readonly end: (result: unknown) => void;
}

/** Listens to what a call gives up to its end; returns what ends it before, or nothing if that is no stream. */
export type Listen = (stream: unknown, listener: Listener) => (() => void) | undefined;

/** Who is told what comes of a call. */
export interface Caller {
  readonly answer: (result: unknown) => void;
  readonly reject: (error: unknown) => void;
  readonly fail: (kind: TaskError['kind']) => void;
  /** Told of each of many values. */
  readonly value: (value: unknown) => void;
}

/** Makes a call of a run; in `limit` milliseconds, if given, it has failed. `listen`, if given, finds its many values. */
export function makeCall(
  live: LiveRun,
  operation: string,
  given: unknown,
  services: GivenServices,
  caller: Caller,
  limit: number | undefined,
  listen: Listen | undefined,
): void {
  const call = (live.calls += 1);
  const unlimit =
    limit === undefined
      ? undefined
      : live.after(limit, () => {
          live.quit(true);
          caller.fail('timeout');
        });
  const controller = (live.controller = newController());
  const answered = (isLast: boolean): boolean => {
    if (live.calls !== call) return false;
    unlimit?.();
    if (isLast) live.controller = live.stop = undefined;
    return true;
  };
  const reject = (error: unknown): void => {
    if (answered(true)) caller.reject(error);
  };
  const answer = (result: unknown): void => {
    if (answered(true)) caller.answer(result);
  };
  try {
    const [service = '', name = ''] = operation.split('.');
    const owner = services[service];
    const does = owner && (Reflect.get(owner, name) as unknown);
    if (typeof does !== 'function') throw new TypeError(`'${operation}' is not given`);
    const said: unknown = does.call(owner, given, controller.signal);
    if (listen !== undefined) {
      const next = (value: unknown): void => {
        if (answered(false)) caller.value(value);
      };
      const stop = listen(said, { next, error: reject, end: answer });
      if (stop === undefined) {
        if (answered(true)) caller.fail('bad result');
      } else if (live.controller === controller) live.stop = stop;
      else stop();
      return;
    }
    if (isThenable(said)) void Promise.resolve(said).then(answer, reject);
    else answer(said);
  } catch (error) {
    reject(error);
  }
}

function isThenable(value: unknown): value is PromiseLike<unknown> {
  return Object(value) === value && typeof (value as { then?: unknown }).then === 'function';
}
