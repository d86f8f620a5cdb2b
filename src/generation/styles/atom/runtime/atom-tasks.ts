// Tasks of stores of atoms: each is a function that starts it, with atoms that tell of it.
import type { TaskPlan } from '../../../runtime/task-plan.js';
import type { StartOutcome, TaskReadings } from '../../../runtime/task-outcomes.js';
import type { Tasks } from '../../../runtime/tasks.js';
import type { Outcome } from '../../../runtime/transaction.js';
import { Reading } from './atom-reading.js';
import type { AtomView, Graph, Work } from './atoms.js';

/** What is given out of the tasks of a store. */
export type TaskViews<Of> = {
  readonly [Name in keyof Of]: {
    readonly [Reading in keyof Of[Name]]: AtomView<Of[Name][Reading]>;
  };
};

/** A task: it is called to start it. */
export type AtomTask<P, Given extends readonly unknown[]> = ((...given: Given) => StartOutcome) &
  TaskViews<{ task: TaskReadings<P> }>['task'] & {
    /** Abandons its runs; with a value, those that were started for it. */
    cancel(...per: readonly unknown[]): Outcome;
  };

const moments = ['start', 'each', 'finish', 'fail', 'cancel'] as const;

/** What a task does, and when. */
type AtomTaskPlan = TaskPlan & { readonly [Moment in (typeof moments)[number]]?: Work };

/** The tasks of a graph. */
export class AtomTasks {
  /** Asks for the start of a task after the action under way. */
  readonly start: Tasks['ask'];
  /** Abandons the runs of tasks, or those of one value. */
  readonly cancel: Tasks['abandon'];
  /** Sets how long the start under way waits before its call, in milliseconds. */
  readonly delay: Tasks['delay'];
  readonly #graph: Graph;
  readonly #tasks: Tasks;

  constructor(graph: Graph, tasks: Tasks) {
    this.#graph = graph;
    this.#tasks = tasks;
    this.start = tasks.ask;
    this.cancel = tasks.abandon;
    this.delay = tasks.delay;
  }

  /** A task: what it does at each moment is kept whole, or not at all. */
  task<P = null, Given extends readonly unknown[] = P extends null ? [] : [payload: P]>(
    name: string,
    plan: AtomTaskPlan,
  ): AtomTask<P, Given> {
    const [graph, tasks] = [this.#graph, this.#tasks];
    tasks.plans[name] = plan;
    for (const moment of moments)
      if (plan[moment] !== undefined) graph.actions.set(`${name}.${moment}`, plan[moment]);
    const reading = <T>(of: keyof TaskReadings): AtomView<T> =>
      new Reading(graph, `${name}.${of}`, () => tasks.readings(name)[of] as T);
    const start = (...[payload]: Given): StartOutcome => tasks.start(name, payload);
    return Object.assign(start, {
      cancel: (...per: readonly unknown[]) => tasks.cancel(name, ...per),
      running: reading<boolean>('running'),
      runs: reading<readonly P[]>('runs'),
      waiting: reading<readonly P[]>('waiting'),
    });
  }
}
