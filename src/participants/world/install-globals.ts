import crypto from 'node:crypto';
import { syncBuiltinESMExports } from 'node:module';
import * as real from 'node:timers';
import type { TextStorage } from '../../base/text-storage.js';
import { fetched } from './requests.js';
import { current, ownWorld } from './world.js';

type Call = (...given: readonly unknown[]) => unknown;

let isInstalled = false;

/**
 * Puts stand-ins into the global places that old code uses: timers, clocks, animation frames, chance, identifiers, `fetch`, and
 * what a browser stores. Code of ours is given the real clocks and chance.
 */
export function installGlobals(): void {
  if (isInstalled) return;
  isInstalled = true;
  // Some are made when they are first asked for: that is no change by the code that asks.
  for (const name of Object.getOwnPropertyNames(globalThis))
    if (/^[A-Z]/.test(name)) Reflect.get(globalThis, name);
  installDates();
  installChance();
  Object.assign(globalThis, timersInWorlds(), framesInWorlds(), { fetch: fetched });
  AbortSignal.timeout = timeout;
  installStorage('localStorage', () => current().storage);
  installStorage('sessionStorage', () => current().ofSession);
}

function installDates(): void {
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
  Object.defineProperty(globalThis, 'Date', {
    configurable: true,
    writable: true,
    value: VirtualDate,
  });
  replace(Reflect.getPrototypeOf(performance) as object, 'now', (own) => {
    const world = ownWorld();
    return world === undefined ? own() : world.now() - startOf(world.now) + world.chance.tick();
  });
}

/** When a clock was asked first: where a page counts from. */
const starts = new WeakMap<() => number, number>();

function startOf(clock: () => number): number {
  let start = starts.get(clock);
  if (start === undefined) starts.set(clock, (start = clock()));
  return start;
}

function installChance(): void {
  const prototype = Reflect.getPrototypeOf(globalThis.crypto) as object;
  replace(Math, 'random', (own) => ownWorld()?.chance.fraction() ?? own());
  const uuid = (own: Call) => ownWorld()?.chance.uuid() ?? own();
  const fill = (own: Call, array: unknown) =>
    ownWorld()?.chance.fill(array as Uint8Array) ?? own(array);
  replace(prototype, 'randomUUID', uuid);
  replace(prototype, 'getRandomValues', fill);
  replace(crypto, 'randomUUID', uuid);
  replace(crypto, 'randomFillSync', fill);
  replace(crypto, 'randomBytes', (own, size, ...more) => {
    const world = ownWorld();
    return world === undefined || more.length > 0
      ? own(size, ...more)
      : world.chance.fill(Buffer.alloc(size as number));
  });
  syncBuiltinESMExports();
}

/** Puts a function in the place of another, which it is given with what it is called with. */
function replace(of: object, name: string, by: (own: Call, ...given: unknown[]) => unknown): void {
  const own = Reflect.get(of, name) as Call;
  Object.defineProperty(of, name, {
    configurable: true,
    writable: true,
    enumerable: Object.getOwnPropertyDescriptor(of, name)?.enumerable ?? true,
    value: {
      [name](this: unknown, ...given: unknown[]) {
        return by((...passed) => Reflect.apply(own, this, passed), ...given);
      },
    }[name],
  });
}

const msOf = (ms: unknown): number => Math.max(0, Number(ms) || 0);

function later(run: unknown, ms?: unknown, ...given: readonly unknown[]): unknown {
  const { timers } = current();
  const call = () => {
    (run as Call)(...given);
  };
  if (timers !== undefined) return timers.setTimeout(call, msOf(ms));
  // Where no time passes, what is to come at once comes before the next step.
  return msOf(ms) === 0 ? real.setImmediate(call) : real.setTimeout(call, msOf(ms));
}

function never(timer: unknown): void {
  const { timers, intervals } = current();
  const id = intervals.get(timer) ?? timer;
  if (timers !== undefined) timers.clearTimeout(id as never);
  else {
    // It may be either; the other one does not mind.
    real.clearImmediate(id as NodeJS.Immediate);
    real.clearTimeout(id as NodeJS.Timeout);
  }
  intervals.delete(timer);
}

function again(run: unknown, ms?: unknown, ...given: readonly unknown[]): unknown {
  const { intervals } = current();
  const id = later(() => {
    repeat();
  }, ms);
  const repeat = (): void => {
    intervals.set(id, later(repeat, Math.max(1, msOf(ms))));
    (run as Call)(...given);
  };
  return id;
}

const timersInWorlds = () => ({
  setTimeout: later,
  clearTimeout: never,
  setInterval: again,
  clearInterval: never,
});

function timeout(ms: number): AbortSignal {
  const controller = new AbortController();
  later(() => {
    controller.abort(new DOMException('The operation timed out.', 'TimeoutError'));
  }, ms);
  return controller.signal;
}

/** Milliseconds from one frame to the next. */
const frameMs = 16;

/** Frames are drawn after each step, before it is looked at what it did; one that asks for the next has to wait for it. */
function framesInWorlds() {
  let isInFrame = false;
  return {
    requestAnimationFrame: (run: (time: number) => void) =>
      later(
        () => {
          isInFrame = true;
          try {
            run(performance.now());
          } finally {
            isInFrame = false;
          }
        },
        isInFrame ? frameMs : 0,
      ),
    cancelAnimationFrame: never,
  };
}

function installStorage(name: string, storage: () => TextStorage): void {
  Object.defineProperty(globalThis, name, { configurable: true, get: storage });
}
