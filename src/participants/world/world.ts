import { AsyncLocalStorage } from 'node:async_hooks';
import { clearTimeout, setTimeout } from 'node:timers';
import { TextStorage } from '../../base/text-storage.js';
import type { ExternalGlobals } from '../../model/external.js';
import type { Environment, Services, Timers } from '../../model/participant.js';
import { Chance } from './chance.js';

/** The world outside of one instance of a participant's stores. */
export interface World {
  readonly services: Services;
  /** Timers in the time of the comparison; real ones where no time passes in it. */
  readonly timers?: Timers | undefined;
  readonly now: () => number;
  readonly chance: Chance;
  readonly globals: ExternalGlobals;
  /** What is kept, and what is kept for as long as the page is open. */
  readonly storage: TextStorage;
  readonly ofSession: TextStorage;
  /** The timers that stand for intervals now, by what `setInterval` gave. */
  readonly intervals: Map<unknown, unknown>;
}

/** Each instance has its own world, and so has all that it sets off: several may be there side by side. */
const worlds = new AsyncLocalStorage<World>();

/** The world of the instance that was made last: for what is called by none, such as the listener of a stream. */
let last: World | undefined;

/** Where no time passes. */
export const noTimers: Timers = { setTimeout: () => 0, clearTimeout: () => undefined };

/** A world in which nothing happens. */
const still = (): World => ({
  services: {},
  timers: noTimers,
  now: () => 0,
  chance: new Chance(),
  globals: {},
  storage: new TextStorage(),
  ofSession: new TextStorage(),
  intervals: new Map(),
});

/** The world of the code that runs. */
export const current = (): World => worlds.getStore() ?? (last ??= still());

/** The world of the code that runs; none if that is code of ours. */
export const ownWorld = (): World | undefined => worlds.getStore();

/** Loads code before there is any instance: its timers go off as long as it is loaded, and then nothing happens in its world. */
export async function loadingIn<T>(load: () => Promise<T>): Promise<T> {
  const timers = new Set<number>();
  let isLoaded = false;
  const world: World = {
    ...still(),
    timers: {
      setTimeout(run, ms) {
        if (isLoaded) return 0;
        const timer = Number(setTimeout(run, ms));
        timers.add(timer);
        return timer;
      },
      clearTimeout,
    },
  };
  try {
    return await worlds.run(world, load);
  } finally {
    isLoaded = true;
    for (const timer of timers) clearTimeout(timer);
  }
}

/** Calls code of an instance, in the world that belongs to it. */
export type Within = <T>(call: () => T) => T;

/** What outlasts the stores of a run: chance goes on when they are made anew, and what is kept for as long as the page is open. */
interface Lasting {
  readonly chance: Chance;
  readonly ofSession: TextStorage;
}

const lasting = new WeakMap<Environment, Lasting>();

function lastingOf(run: Environment): Lasting {
  let found = lasting.get(run);
  if (found === undefined) {
    found = { chance: new Chance(run.random), ofSession: new TextStorage() };
    lasting.set(run, found);
  }
  return found;
}

/**
 * A new instance begins: gives what calls its code, which finds its own world in global places. `run`: the same for all
 * instances of a run.
 */
export function beginRun(
  globals: ExternalGlobals,
  environment: Environment,
  run: Environment = environment,
): Within {
  const { services = {}, timers, now } = environment;
  const storage =
    environment.storage instanceof TextStorage ? environment.storage : new TextStorage();
  const world = (last = {
    services,
    timers,
    now,
    globals,
    storage,
    ...lastingOf(run),
    intervals: new Map<unknown, unknown>(),
  });
  return (call) => worlds.run(world, call);
}
