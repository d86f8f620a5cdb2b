import { TextStorage } from '../base/text-storage.js';
import type { BroughtGlobals, RequestOptions } from '../model/brought.js';
import type { Environment, Services, Signal, Timers } from '../model/participant.js';

/** The world outside of the participant that runs now. */
interface World {
  readonly services: Services;
  readonly timers: Timers;
  readonly now: () => number;
  readonly globals: BroughtGlobals;
  readonly storage: TextStorage;
}

let world: World | undefined;

/** The world of the run that goes on; code that is loaded before any sees one in which nothing happens. */
function current(): World {
  return (world ??= {
    services: {},
    timers: { setTimeout: () => 0, clearTimeout: () => undefined },
    now: () => 0,
    globals: {},
    storage: new TextStorage(),
  });
}

/** A new run begins: what the code finds in global places belongs to it from now on. */
export function beginRun(globals: BroughtGlobals, environment: Environment): void {
  const { services = {}, timers, now, storage } = environment;
  world = {
    services,
    timers: timers ?? current().timers,
    now,
    globals,
    storage: storage instanceof TextStorage ? storage : new TextStorage(),
  };
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
    const { timers } = current();
    timers.clearTimeout((intervals.get(timer) ?? timer) as never);
    intervals.delete(timer);
  };
  const intervals = new Map<unknown, unknown>();
  const again = (run: unknown, ms: unknown = 0, ...given: readonly unknown[]): unknown => {
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

/** A request, as a call of the operation that the participant file says it is. */
function fetched(input: unknown, init?: RequestOptions): Promise<unknown> {
  const { services, globals } = current();
  const { request, response } = globals;
  const url = typeof input === 'object' && input !== null && 'url' in input ? input.url : input;
  return new Promise((resolve, reject) => {
    if (request === undefined || response === undefined)
      throw new TypeError(
        "fetch was called, and the participant file has no 'request' and 'response'",
      );
    const asked = request(String(url), init);
    const [service = '', operation = ''] = asked.operation.split('.');
    const call = services[service]?.[operation];
    if (call === undefined)
      throw new TypeError(
        `'request' gives '${asked.operation}', which is no operation of the schema`,
      );
    const signal = init?.signal ?? idle;
    signal.addEventListener('abort', () => {
      reject((signal as AbortSignal).reason as Error);
    });
    Promise.resolve(call(asked.with, signal))
      .then(
        (result: unknown) => response(asked.operation, { result }),
        (error: unknown) => response(asked.operation, { error }),
      )
      .then(resolve, reject);
  });
}
