import { AsyncLocalStorage } from 'node:async_hooks';
import { TextStorage } from '../base/text-storage.js';
import type { BroughtGlobals, RequestOptions } from '../model/brought.js';
import type { Environment, Services, Signal, Timers } from '../model/participant.js';

/** The world outside of one instance of a participant's stores. */
interface World {
  readonly services: Services;
  readonly timers: Timers;
  readonly now: () => number;
  readonly globals: BroughtGlobals;
  readonly storage: TextStorage;
  /** The timers that stand for intervals now, by what `setInterval` gave. */
  readonly intervals: Map<unknown, unknown>;
}

/** Each instance has its own world, and so has all that it sets off: several may be there side by side. */
const worlds = new AsyncLocalStorage<World>();

/** The world of the instance that was made last: for what is called by none, such as the listener of a stream. */
let last: World | undefined;

/** The world of the code that runs; code that is loaded before any instance sees one in which nothing happens. */
function current(): World {
  return (
    worlds.getStore() ??
    (last ??= {
      services: {},
      timers: { setTimeout: () => 0, clearTimeout: () => undefined },
      now: () => 0,
      globals: {},
      storage: new TextStorage(),
      intervals: new Map(),
    })
  );
}

/** Calls code of an instance, in the world that belongs to it. */
export type Within = <T>(call: () => T) => T;

/** A new instance begins: gives what calls its code, which finds its own world in global places. */
export function beginRun(globals: BroughtGlobals, environment: Environment): Within {
  const { services = {}, timers, now, storage } = environment;
  const world = (last = {
    services,
    timers: timers ?? current().timers,
    now,
    globals,
    storage: storage instanceof TextStorage ? storage : new TextStorage(),
    intervals: new Map<unknown, unknown>(),
  });
  return (call) => worlds.run(world, call);
}

let isInstalled = false;

/** Puts stand-ins into the global places that old code uses: timers, the clock, `fetch`, `localStorage`. */
export function installGlobals(): void {
  if (isInstalled) return;
  isInstalled = true;
  // Some are made when they are first asked for: that is no change by the code that asks.
  for (const name of Object.getOwnPropertyNames(globalThis))
    if (/^[A-Z]/.test(name)) Reflect.get(globalThis, name);
  const RealDate = Date;
  class VirtualDate extends RealDate {
    constructor(...given: readonly unknown[]) {
      if (given.length === 0) super(current().now());
      else super(...(given as [number]));
    }

    static override now(): number {
      return current().now();
    }
  }
  const later = (run: unknown, ms: unknown = 0, ...given: readonly unknown[]): unknown =>
    current().timers.setTimeout(
      () => {
        (run as (...args: readonly unknown[]) => void)(...given);
      },
      Math.max(0, Number(ms) || 0),
    );
  const never = (timer: unknown): void => {
    const { timers, intervals } = current();
    timers.clearTimeout((intervals.get(timer) ?? timer) as never);
    intervals.delete(timer);
  };
  const again = (run: unknown, ms: unknown = 0, ...given: readonly unknown[]): unknown => {
    const { intervals } = current();
    const id = later(() => {
      repeat();
    }, ms);
    const repeat = (): void => {
      intervals.set(id, later(repeat, Math.max(1, Number(ms) || 0)));
      (run as (...args: readonly unknown[]) => void)(...given);
    };
    return id;
  };
  const timeout = (ms: number): AbortSignal => {
    const controller = new AbortController();
    later(() => {
      controller.abort(new DOMException('The operation timed out.', 'TimeoutError'));
    }, ms);
    return controller.signal;
  };
  AbortSignal.timeout = timeout;
  Object.assign(globalThis, {
    setTimeout: later,
    clearTimeout: never,
    setInterval: again,
    clearInterval: never,
    fetch: fetched,
  });
  Object.defineProperty(globalThis, 'Date', {
    configurable: true,
    writable: true,
    value: VirtualDate,
  });
  Object.defineProperty(globalThis, 'localStorage', {
    configurable: true,
    get: () => current().storage,
  });
}

const idle: Signal = { aborted: false, addEventListener: () => undefined };

/** What a request says that is an object, with the options that are given beside it. */
async function optionsOf(input: Request, init?: RequestOptions): Promise<RequestOptions> {
  const body = input.body === null ? {} : { body: await input.clone().text() };
  return { method: input.method, signal: input.signal, ...body, ...init };
}

/** A request, as a call of the operation that the participant file says it is. */
function fetched(input: unknown, init?: RequestOptions): Promise<unknown> {
  // The text of a request that is an object has to be waited for; others are called at once.
  if (input instanceof Request)
    return optionsOf(input, init).then((options) => asked(input.url, options));
  const url = typeof input === 'object' && input !== null && 'href' in input ? input.href : input;
  return asked(String(url), init);
}

function asked(url: string, init: RequestOptions | undefined): Promise<unknown> {
  const { services, globals } = current();
  const { request, response } = globals;
  return new Promise((resolve, reject) => {
    const signal = init?.signal ?? idle;
    const abort = () => {
      reject((signal as AbortSignal).reason as Error);
    };
    if (signal.aborted) {
      abort();
      return;
    }
    if (request === undefined || response === undefined)
      throw new TypeError(
        "fetch was called, and the participant file has no 'request' and 'response'",
      );
    const meant = request(url, init);
    const [service = '', operation = ''] = meant.operation.split('.');
    const call = services[service]?.[operation];
    if (call === undefined)
      throw new TypeError(
        `'request' gives '${meant.operation}', which is no operation of the schema`,
      );
    signal.addEventListener('abort', abort);
    Promise.resolve(call(meant.with, signal))
      .then(
        (result: unknown) => response(meant.operation, { result }),
        (error: unknown) => response(meant.operation, { error }),
      )
      .then(resolve, reject);
  });
}
