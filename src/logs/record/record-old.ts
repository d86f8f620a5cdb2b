import { Recorder, type RecordSettings } from './recorder.js';
import { recordedStore, type StoreSettings } from './recorded-store.js';
import { recordedTimers, type TimerFunctions } from './recorded-timers.js';
import {
  recordedFetch,
  recordedListener,
  recordedService,
  type AnyFunction,
  type ReadCall,
  type ReadRequest,
} from './recorded-services.js';

/** What makes lines of a log out of what an old application does. */
export interface OldRecord {
  /**
   * The store itself, but calls of its methods from outside become lines, and so do values that are assigned to its properties.
   * Use what is returned in place of the store. A frozen object of functions is copied.
   */
  store<Store extends object>(store: Store, settings?: StoreSettings): Store;
  /** A function whose calls become lines under a name, such as the `dispatch` of a store that has nothing else. */
  method<Method extends AnyFunction>(name: string, method: Method): Method;
  /** A function that asks a service and returns a promise: what comes of it becomes a line. `read` says which operation it is. */
  service<Call extends AnyFunction>(call: Call, read: ReadCall<Call>): Call;
  /**
   * `fetch`: bodies are read at once, as JSON if they are; an answer that is not `ok` is a failure with its `status`.
   * `read` says which operation a request is; `undefined` for one that is passed over.
   */
  fetch(fetch: typeof globalThis.fetch, read: ReadRequest): typeof globalThis.fetch;
  /** A function that a socket or the like calls with each value of an operation that gives many. */
  listener<Listen extends AnyFunction>(operation: string, listen: Listen, asked?: unknown): Listen;
  /**
   * Timers under which what stores do later becomes lines: `Object.assign(globalThis, record.timers())`. Without them, `replay`
   * lets timers go off by the times of the lines.
   */
  timers(): TimerFunctions;
}

/**
 * Records what an old application does, line by line, in the form that `leeshore replay` and `leeshore timeline` read. It runs in
 * browsers and in Node, and needs nothing else. Calls of one recorded store by another are no lines of their own: the line that
 * they belong to lists them as `included`. A method that returns `false` or throws counts as refused.
 *
 * What goes wrong with recording (`state` or `write` throws) is told once on the console: the application goes on.
 */
export function recordOld(settings: RecordSettings): OldRecord {
  const recorder = new Recorder(settings);
  return {
    store: (store, of = {}) => recordedStore(recorder, store, of),
    method: (name, method) => recorder.wrapped(name, method),
    service: (call, read) => recordedService(recorder, call, read),
    fetch: (fetch, read) => recordedFetch(recorder, fetch, read),
    listener: (operation, listen, asked) => recordedListener(recorder, operation, listen, asked),
    timers: () => recordedTimers(recorder),
  };
}
