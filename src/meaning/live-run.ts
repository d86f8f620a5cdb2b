import type { Ended, Environment } from '../model/participant.js';
import type { State } from './state.js';
import type { TaskOf } from '../model/task-of.js';

/** What is under way for a run, besides what a transaction knows of it. */
export class LiveRun {
  /** The number of calls that were made, and how often the last was made again. */
  calls = 0;
  attempt = 0;
  /** The signal of the call that is not answered yet. */
  controller: AbortController | undefined;
  /** The state after its start. */
  begunWith: State = {};
  /** Ends the listening to a stream. */
  stop: (() => void) | undefined;
  readonly #timers = new Set<unknown>();
  readonly #environment: Environment;

  constructor(
    readonly of: TaskOf,
    readonly number: number,
    environment: Environment,
    readonly settle: (ended: Ended) => void,
  ) {
    this.#environment = environment;
  }

  /** Does something when a time is over; returns what stops that. */
  after(ms: number, work: () => void): () => void {
    const { timers } = this.#environment;
    const timer = timers?.setTimeout(() => {
      this.#timers.delete(timer);
      work();
    }, ms);
    this.#timers.add(timer);
    return () => {
      timers?.clearTimeout(timer as never);
      this.#timers.delete(timer);
    };
  }

  /** The call that is under way is answered: whatever else comes of it counts no more. */
  answered(): void {
    this.stop = undefined;
    this.controller = undefined;
  }

  /** The call that is under way counts no more, and is given up. */
  quit(): void {
    this.calls += 1;
    this.stop?.();
    this.controller?.abort();
    this.answered();
  }

  /** What it has of timers and streams is given up. */
  release(): void {
    for (const timer of this.#timers) this.#environment.timers?.clearTimeout(timer as never);
    this.#timers.clear();
    this.stop?.();
    this.stop = undefined;
  }
}
