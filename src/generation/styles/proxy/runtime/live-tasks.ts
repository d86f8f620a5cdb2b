// Tasks of live stores: each is a function that starts it, with what can be read of it.
import { addTasks, type WorkingStore } from '../../../runtime/defined-tasks.js';
import type { StartOutcome } from '../../../runtime/task-outcomes.js';
import type { Tasks } from '../../../runtime/tasks.js';
import type { Outcome } from '../../../runtime/transaction.js';
import type { Live, Work } from './proxies.js';

export type TaskedStore = WorkingStore<Work>;

/** A task: it is called to start it. */
export type LiveTask<Given extends readonly unknown[]> = ((...given: Given) => StartOutcome) & {
  /** Abandons its runs; with a value, those that were started for it. */
  cancel(...per: readonly unknown[]): Outcome;
};

/** Runs the tasks of live stores. */
export function workOn(live: Live, tasks: Tasks): void {
  addTasks(live, tasks, (task) => {
    const start = (payload?: unknown): StartOutcome => tasks.start(task, payload);
    const cancel = (...per: readonly unknown[]): Outcome => tasks.cancel(task, ...per);
    return Object.assign(start, { cancel });
  });
  Object.assign(live.around, {
    start: (task: string, payload?: unknown) => {
      tasks.ask(task, live.working.edits.plain(payload));
    },
    cancel: tasks.abandon,
    delay: tasks.delay,
  });
}
