// What becomes of tasks, and what they are given.
import type { Outcome } from './transaction.js';

/** The outcome of the start of a task: `ended` tells how the run ended, and never rejects. */
export type StartOutcome =
  | Exclude<Outcome, { readonly status: 'done' | 'queued' }>
  | { readonly status: 'done'; readonly ended: Promise<Ended> }
  | { readonly status: 'queued'; readonly outcome: Promise<StartOutcome> };

/** The end of a run of a task. */
export interface Ended {
  readonly status: 'finished' | 'failed' | 'abandoned';
  readonly error?: TaskError;
}

/** Why a run failed. */
export interface TaskError<Data = unknown> {
  readonly kind: 'rejected' | 'timeout' | 'bad result' | 'broken' | 'refused';
  readonly message: string;
  /** What the rejection carried, if it fits. */
  readonly data: Data | null;
}

/** What can be read of a task: whether a run goes on, the payloads of runs, oldest first, and of starts that are set aside. */
export interface TaskReadings<P = unknown> {
  readonly running: boolean;
  readonly runs: readonly P[];
  readonly waiting: readonly P[];
}

/** Timers; the platform's own functions have this shape. */
export interface Timers {
  readonly setTimeout: (run: () => void, ms: number) => unknown;
  readonly clearTimeout: (timer: never) => void;
}

/** Whom tasks ask, by service and operation, and what sets them off later; the platform's timers if not given. */
export interface TaskOptions {
  readonly services?: object;
  readonly timers?: Timers;
}
