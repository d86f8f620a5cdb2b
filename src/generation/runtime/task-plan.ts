// What the schema says of a task, besides what it does.
import type { Listen, LiveRun } from './call.js';
import type { Ask } from './engine.js';
import type { TaskError } from './task-outcomes.js';

/** A run, as it was started. */
export interface Run {
  readonly number: number;
  readonly payload: unknown;
  /** What was bound at the start. */
  readonly given: object;
  readonly per: unknown;
}

/** What the parts of a plan use of the tasks that they are for. */
export interface Runner {
  /** The value of an expression of a run; nothing if that throws: then the run fails. */
  find<T>(live: LiveRun, what: string, ask: (run: Run) => T): { readonly value: T } | undefined;
  /** What a function of a plan gives. */
  answer(of: Ask, run: Run, more?: object): unknown;
  /** A turn for something that has happened to a run; nothing if that is over by then. */
  turn(live: LiveRun, work: (run: Run) => boolean): void;
  /** Something that a timer does for a run. */
  timed(live: LiveRun, work: () => void): () => void;
  transact(act: () => void): boolean;
  /** Does what belongs to a moment of a run. */
  perform(name: string, moment: string, run: Run, more?: object): void;
  /** What came of a call, if it fits. */
  judged(live: LiveRun, value: unknown, part: 'results'): { readonly value: unknown } | undefined;
  /** Makes the call of a run. */
  call(live: LiveRun): void;
  /** Makes the call of a run again, after some time. */
  callAgain(live: LiveRun, ms: number, error: TaskError): void;
  /** A call has failed: it is made again, or the round has failed. */
  lost(live: LiveRun, run: Run, error: TaskError): boolean;
  fail(live: LiveRun, run: Run, error: TaskError): boolean;
  errorOf(live: LiveRun, moment: string, error: unknown): TaskError;
  /** Ends a run that could not begin its next round. */
  endWith(live: LiveRun, error: TaskError): boolean;
  /** A run goes on with what its start binds anew. */
  restart(name: string, run: Run): void;
  /** Does something with the commit of the transaction under way. */
  then(work: () => void): void;
}

/** A task: what it calls, when, and what else goes on meanwhile. */
export interface TaskPlan {
  /** `office.sailingsOn`; none for a delay. */
  readonly operation?: string;
  /** What it is called with; the payload if not given. */
  readonly with?: Ask;
  /** Milliseconds before the call. */
  readonly wait?: number;
  readonly overlap?: 'latest' | 'first' | 'queue' | 'parallel';
  /** Runs whose values differ do not meet. */
  readonly per?: Ask;
  /** The milliseconds after which a call has failed; nothing if finding them has failed. */
  readonly timeLimit?: (tasks: Runner, live: LiveRun) => number | undefined;
  /** True if a call that has failed is made again. */
  readonly retry?: (tasks: Runner, live: LiveRun, error: TaskError) => boolean;
  /** Ends a round that another follows; whether that changed anything. */
  readonly every?: (tasks: Runner, live: LiveRun, act: () => void) => boolean;
  /** How a call gives one value after the other. */
  readonly stream?: TaskStream;
  readonly auto?:
    'once' | { readonly follows: Ask; readonly first?: boolean } | { readonly while: Ask };
}

/** Calls that give one value after the other. */
export interface TaskStream {
  readonly listen: Listen;
  /** Takes a value; whether that changed anything. */
  readonly take: (tasks: Runner, live: LiveRun, run: Run, value: unknown) => boolean;
}

/** A time to wait, in whole milliseconds; nothing if no timer can wait like that. */
export function waitable(ms: number): number | undefined {
  return ms >= 0 && ms <= 2_147_483_647 ? Math.ceil(ms) : undefined;
}
