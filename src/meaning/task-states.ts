import type { TaskReading } from '../model/task-readings.js';
import { freeze } from './freeze.js';

/** A name that a run keeps, with its value of then. */
export interface Bound {
  readonly name: string;
  readonly value: unknown;
}

/** A run of a task that goes on. */
export interface Run {
  /** In the order of the starts. */
  readonly number: number;
  /** `timetable.loadSailings`. */
  readonly of: string;
  readonly payload: unknown;
  /** What its requirements and its `let` have bound. */
  readonly bound: readonly Bound[];
  /** Runs of other values do not meet it. */
  readonly per: unknown;
}

/** A start that waits until a run has ended. */
export interface SetAside {
  readonly payload: unknown;
  readonly per: unknown;
  /** Tells its caller what became of it. */
  readonly id: number;
}

/** What goes on of a task. */
export interface TaskState {
  readonly runs: readonly Run[];
  readonly waiting: readonly SetAside[];
}

/** What goes on of all tasks, by their full names; never changed. */
export type TaskStates = ReadonlyMap<string, TaskState>;

const idle: TaskState = { runs: [], waiting: [] };

export function taskState(states: TaskStates, name: string): TaskState {
  return states.get(name) ?? idle;
}

const known = new WeakMap<TaskState, Readonly<Record<TaskReading, unknown>>>();

/** What can be read of a task: the same objects as long as it is the same. */
export function readingsOf(state: TaskState): Readonly<Record<TaskReading, unknown>> {
  let found = known.get(state);
  if (found === undefined) {
    const payloads = (of: readonly { readonly payload: unknown }[]) =>
      of.map(({ payload }) => payload ?? null);
    const { runs, waiting } = state;
    found = freeze({
      running: runs.length > 0,
      runs: payloads(runs),
      waiting: payloads(waiting),
    });
    known.set(state, found);
  }
  return found;
}

export function readingOf(
  states: TaskStates,
  store: string,
  name: string,
  reading: TaskReading,
): unknown {
  return readingsOf(taskState(states, `${store}.${name}`))[reading];
}
