// Tasks of reducer stores: they are started by dispatching, and what they do is recorded.
import { addTasks, type WorkingStore } from '../../../runtime/defined-tasks.js';
import type { States } from '../../../runtime/derived.js';
import { handOver } from '../../../runtime/engine.js';
import type { RecordedAction, RecordedTasks } from '../../../runtime/recorded-tasks.js';
import type { StartOutcome, TaskReadings } from '../../../runtime/task-outcomes.js';
import type { Outcome } from '../../../runtime/transaction.js';
import { drawing, type Draws } from './draws.js';
import type { ActionValue, Handler, Reducers } from './reducer.js';

export type TaskedStore = WorkingStore<Handler>;

/** What was done, as plain data, with what it has asked of the environment. */
export interface DoneAction extends RecordedAction {
  readonly draws?: Draws;
}

export interface RecordOptions {
  /** Told of everything that is kept, as plain data: a replay gives the same states again. */
  readonly record?: (action: DoneAction) => void;
}

/** What goes on of the tasks, by store. */
type TasksOfStores = Readonly<Record<string, Readonly<Record<string, TaskReadings>>>>;

/** `timetable.load` of the tasks of all stores. */
type StartOf<Tasks> = {
  [Store in keyof Tasks & string]: `${Store}.${keyof NonNullable<Tasks[Store]> & string}`;
}[keyof Tasks & string];

/** What a reducer store has more that has tasks. */
export interface TaskStore<Action extends ActionValue, Tasks> {
  /** Does an action: all of it or nothing. Of the start of a task it tells how that ends. */
  readonly dispatch: <Given extends Action>(
    action: Given,
  ) => Given['type'] extends StartOf<Tasks> ? StartOutcome : Outcome;
  /** What goes on of the tasks. */
  readonly tasks: () => Tasks;
}

/** The tasks of reducer stores. */
export class ReducerTasks {
  readonly engine: Reducers;
  readonly tasks: RecordedTasks;
  /** Gives what was drawn while something is done again. */
  readonly draws: ReturnType<typeof drawing>;
  /** What was drawn, while something is done again. */
  drawn: Draws | undefined;
  #known: { readonly of: object; readonly readings: TasksOfStores } | undefined;

  constructor(engine: Reducers, tasks: RecordedTasks, { record }: RecordOptions) {
    this.engine = engine;
    this.tasks = tasks;
    this.draws = drawing(engine.turns.tools);
    Object.assign(engine.around, this.draws.tools);
    handOver(engine, {
      begin: () => {
        this.draws.begin(this.drawn);
      },
    });
    if (record !== undefined) this.#recordTo(record);
    addTasks(engine, tasks, () => ({}));
    engine.made.push(() => {
      this.#known = undefined;
    });
    engine.others.push((action) => this.#dispatch(action));
    this.#giveAround();
  }

  #recordTo(record: (action: DoneAction) => void): void {
    this.tasks.record = (action) => {
      const drawn = this.draws.noted();
      try {
        record(drawn === undefined ? action : { ...action, draws: drawn });
      } catch (error) {
        this.engine.turns.report({ kind: 'watcher', at: 'record', error });
      }
    };
  }

  /** What handlers are given for tasks. */
  #giveAround(): void {
    const { engine, tasks } = this;
    const readings = (): TasksOfStores => this.readings();
    Object.defineProperty(engine.around, 'tasks', { enumerable: true, get: readings });
    Object.assign(engine.around, {
      start: tasks.ask,
      cancel(app: States, names: readonly string[], ...per: readonly unknown[]): States {
        engine.next = app;
        tasks.abandon(names, ...per);
        return engine.next;
      },
      delay: tasks.delay,
    });
  }

  #dispatch({ type, payload }: ActionValue): Outcome | undefined {
    const { tasks } = this;
    if (Object.hasOwn(tasks.plans, type)) return tasks.start(type, payload);
    const [, task = ''] = /^(.*)\.cancel$/.exec(type) ?? [];
    if (!Object.hasOwn(tasks.plans, task)) return undefined;
    return payload === undefined ? tasks.cancel(task) : tasks.cancel(task, payload);
  }

  /** What goes on of the tasks; the same object until that changes. */
  readings(): TasksOfStores {
    const { states, plans } = this.tasks;
    if (this.#known?.of !== states) {
      const readings: Record<string, Record<string, TaskReadings>> = {};
      for (const task of Object.keys(plans)) {
        const [store = '', name = ''] = task.split('.');
        (readings[store] ??= {})[name] = this.tasks.readings(task);
      }
      this.#known = { of: states, readings };
    }
    return this.#known.readings;
  }

  /** What the stores have more by their tasks. */
  store<Action extends ActionValue, Tasks>(): TaskStore<Action, Tasks> {
    const dispatch = (action: ActionValue): Outcome => this.engine.dispatch(action);
    return {
      dispatch: dispatch as TaskStore<Action, Tasks>['dispatch'],
      tasks: () => this.readings() as Tasks,
    };
  }
}
