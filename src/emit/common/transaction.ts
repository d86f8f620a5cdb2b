// What becomes of an action: done, refused, broken, or queued while another is under way.
import { guardByDefault } from './guard.js';
import { takeIn } from './values.js';

/** What became of an action. */
export type Outcome =
  | { readonly status: 'done' }
  | {
      readonly status: 'refused';
      readonly reason: string;
      /** Where in the schema. */
      readonly at: string;
      /** The actions that led there. */
      readonly via: readonly string[];
    }
  | { readonly status: 'broken'; readonly at: string }
  | { readonly status: 'queued'; readonly outcome: Promise<Outcome> };

/** What went wrong where no caller can be told. */
export interface Problem {
  readonly kind: 'action' | 'derived' | 'watcher' | 'unsettled';
  readonly at: string;
  readonly error?: unknown;
}

/** Where identifiers, time and problems come from and go to; the platform's own if not given. */
export interface Options {
  readonly newId?: () => string;
  readonly now?: () => number;
  readonly random?: () => number;
  readonly onProblem?: (problem: Problem) => void;
  /** Whether snapshots are frozen, so that who writes to one is told at once. */
  readonly guard?: boolean;
}

export type Environment = Required<Options>;

/** What browsers and servers alike have, whatever types of theirs the compiler knows. */
interface Platform {
  readonly crypto: { randomUUID(): string };
  readonly console: { error(problem: Problem): void };
}

export function environmentOf(options: Options): Environment {
  const platform = globalThis as unknown as Platform;
  return {
    newId: options.newId ?? (() => platform.crypto.randomUUID()),
    now: options.now ?? Date.now,
    random: options.random ?? Math.random,
    onProblem: options.onProblem ?? ((problem) => platform.console.error(problem)),
    guard: options.guard ?? guardByDefault(),
  };
}

/** What one transaction asks the environment for: the time is asked for once and stays. */
export class Draw {
  readonly #environment: Environment;
  #moment: number | undefined;

  constructor(environment: Environment) {
    this.#environment = environment;
  }

  newId(): string {
    return this.#environment.newId();
  }

  now(): number {
    return (this.#moment ??= this.#environment.now());
  }

  random(): number {
    return this.#environment.random();
  }
}

/** Under this key a refusal says that it is one. */
const refused = Symbol('refused');

/** What an action throws that is refused: nothing of it is kept. It is caught here, and needs no stack of its own. */
interface Refusal extends Error {
  readonly [refused]: true;
  readonly at: string;
  /** The actions that led there, within the one that was asked for. */
  readonly via: string[];
}

/** Refuses the action that is under way. */
export function refuse(reason: string, at: string): never {
  const refusal: Refusal = { [refused]: true, name: 'Refusal', message: reason, at, via: [] };
  throw refusal;
}

/** Whether an action has thrown that since it is refused. */
export const isRefusal = (error: unknown): error is Refusal =>
  typeof error === 'object' && error !== null && refused in error;

/** The payload, or what it is if none is given, if it fits; else the action is refused. */
export function accept<T>(
  payload: unknown,
  fits: (value: unknown) => value is T,
  action: string,
  otherwise?: T,
): T {
  const taken = takeIn(payload === undefined ? otherwise : payload);
  return fits(taken) ? taken : refuse('does not fit', `${action}.payload`);
}

/** A value that is about to be stored, if it fits; else the action is refused. */
export function fit<T>(value: T, fits: (value: unknown) => boolean, at: string): T {
  return fits(value) ? value : refuse('does not fit', at);
}

const mostTurns = 1000;

const done: Outcome = Object.freeze({ status: 'done' });

interface Waiting {
  readonly action: string;
  readonly work: () => boolean;
  readonly settle: (outcome: Outcome) => void;
}

/** Takes actions one after the other: one that is sent while another is under way waits for its turn. */
export class Turns {
  readonly environment: Environment;
  readonly #notify: () => void;
  readonly #waiting: Waiting[] = [];
  #busy = false;

  /** `notify` tells the watchers, after each action that changed something. */
  constructor(environment: Environment, notify: () => void) {
    this.environment = environment;
    this.#notify = notify;
  }

  /** `work` does the action and keeps it, or throws; it returns whether that changed anything. */
  take(action: string, work: () => boolean): Outcome {
    if (this.#busy) {
      const outcome = new Promise<Outcome>((settle) => {
        this.#waiting.push({ action, work, settle });
      });
      return { status: 'queued', outcome };
    }
    this.#busy = true;
    try {
      const outcome = this.#run(action, work);
      if (this.#waiting.length > 0) this.#drain(action);
      return outcome;
    } finally {
      this.#busy = false;
    }
  }

  #run(action: string, work: () => boolean): Outcome {
    let changed: boolean;
    try {
      changed = work();
    } catch (error) {
      if (isRefusal(error)) {
        const { message, at, via } = error;
        return { status: 'refused', reason: message, at, via: [action, ...via] };
      }
      this.report({ kind: 'action', at: action, error });
      return { status: 'broken', at: action };
    }
    if (changed) this.#notify();
    return done;
  }

  #drain(action: string): void {
    for (let turns = 1; ; turns++) {
      const next = this.#waiting.shift();
      if (next === undefined) return;
      if (turns === mostTurns) this.report({ kind: 'unsettled', at: action });
      next.settle(
        turns < mostTurns
          ? this.#run(next.action, next.work)
          : { status: 'refused', reason: 'does not settle', at: next.action, via: [next.action] },
      );
    }
  }

  report(problem: Problem): void {
    try {
      this.environment.onProblem(problem);
    } catch {
      // What onProblem throws is dropped: there is nobody left to tell.
    }
  }
}
