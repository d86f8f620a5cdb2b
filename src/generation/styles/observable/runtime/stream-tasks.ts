// Tasks of stores of streams: each is a function that starts it, with streams that tell of it.
import type { TaskPlan } from '../../../runtime/task-plan.js';
import type { StartOutcome, TaskReadings } from '../../../runtime/task-outcomes.js';
import type { Tasks } from '../../../runtime/tasks.js';
import type { Outcome } from '../../../runtime/transaction.js';
import { ReadingStream } from './reading-stream.js';
import type { Change, Done, Stream, Streams } from './streams.js';

/** What is given out of the tasks of a store. */
export type TaskStreams<Of> = {
  readonly [Name in keyof Of]: {
    readonly [Reading in keyof Of[Name]]: Stream<Of[Name][Reading]>;
  };
};

/** A task: it is called to start it, and mapped to changes at the moments of a run. */
export type StreamTask<P, Given extends readonly unknown[]> = ((...given: Given) => StartOutcome) &
  TaskStreams<{ task: TaskReadings<P> }>['task'] & {
    /** Abandons its runs; with a value, those that were started for it. */
    cancel(...per: readonly unknown[]): Outcome;
    /** What happens at a moment of a run. */
    at<Bound = undefined>(
      moment: 'start' | 'each' | 'finish' | 'fail' | 'cancel',
    ): Pick<Done<P, Bound>, 'map'>;
  };

/** The tasks of stores of streams. */
export class StreamTasks {
  /** Asks for the start of a task after the action under way. */
  readonly start: Tasks['ask'];
  /** Sets how long the start under way waits before its call, in milliseconds. */
  readonly delay: Tasks['delay'];
  readonly #streams: Streams;
  readonly #tasks: Tasks;

  constructor(streams: Streams, tasks: Tasks) {
    this.#streams = streams;
    this.#tasks = tasks;
    this.start = tasks.ask;
    this.delay = tasks.delay;
  }

  /** A task: a function that starts it, and streams of what goes on of it. */
  task<P = null, Given extends readonly unknown[] = P extends null ? [] : [payload: P]>(
    name: string,
    plan: TaskPlan,
  ): StreamTask<P, Given> {
    const [streams, tasks] = [this.#streams, this.#tasks];
    tasks.plans[name] = plan;
    streams.readings.set(name, () => tasks.readings(name));
    const reading = <T>(of: keyof TaskReadings): Stream<T> =>
      new ReadingStream(streams, `${name}.${of}`, () => tasks.readings(name)[of] as T);
    const start = (...[payload]: Given): StartOutcome => tasks.start(name, payload);
    return Object.assign(start, {
      cancel: (...per: readonly unknown[]) => tasks.cancel(name, ...per),
      at: <Bound>(moment: string): Pick<Done<P, Bound>, 'map'> => ({
        map: <S>(change: (payload: P, given: Bound) => (state: S) => S) => ({
          actions: [`${name}.${moment}`],
          to: change as Change<S>['to'],
        }),
      }),
      running: reading<boolean>('running'),
      runs: reading<readonly P[]>('runs'),
      waiting: reading<readonly P[]>('waiting'),
    });
  }

  /** Abandons the runs of tasks, or those of one value, on a state of all stores. */
  cancel<App extends object>(app: App, tasks: readonly string[], ...per: readonly unknown[]): App {
    this.#streams.write(app as Readonly<Record<string, unknown>>);
    this.#tasks.abandon(tasks, ...per);
    return this.#streams.pending as App;
  }
}
