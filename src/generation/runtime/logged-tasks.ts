// Tasks whose turns are logged with what set them off, and what came of their calls.
import { rejectionOf } from './answers.js';
import type { Caller, LiveRun } from './call.js';
import type { Engine } from './engine.js';
import type { Log, LogAnswer } from './log.js';
import { RecordedTasks } from './recorded-tasks.js';
import type { TaskError, TaskOptions } from './task-outcomes.js';

export class LoggedTasks extends RecordedTasks {
  /** The turn that a run began in, and the number of its newest call over all tasks. */
  readonly #startedIn = new WeakMap<LiveRun, number | undefined>();
  readonly #callOf = new WeakMap<LiveRun, number>();
  readonly #logOf: () => Log | undefined;

  /** `logOf`: the log, which begins once all stores are made. */
  constructor(engine: Engine, options: TaskOptions, logOf: () => Log | undefined) {
    super(engine, options);
    this.#logOf = logOf;
  }

  protected override kept(): void {
    const log = this.#logOf();
    const [store, task] = this.doing?.type.split('.') ?? [];
    if (log !== undefined && Object.hasOwn(this.plans, `${store ?? ''}.${task ?? ''}`))
      log.did = this.doing;
    super.kept();
  }

  override startUnasked(name: string, payload?: unknown): void {
    this.#logOf()?.from({ by: 'auto' });
    super.startUnasked(name, payload);
  }

  override cancelUnasked(name: string): void {
    this.#logOf()?.from({ by: 'auto' });
    super.cancelUnasked(name);
  }

  override late(): boolean {
    this.#logOf()?.drop();
    return super.late();
  }

  override timed(live: LiveRun, work: () => void): () => void {
    return () => {
      this.#timer(live);
      work();
      this.#logOf()?.from();
    };
  }

  override callAgain(live: LiveRun, ms: number, error: TaskError): void {
    const log = this.#logOf();
    if (log !== undefined)
      log.did = { type: `${live.name}.retry`, run: live.number, given: { error } };
    super.callAgain(live, ms, error);
  }

  protected override goOn(live: LiveRun, waitMs: number): void {
    this.#startedIn.set(live, this.#logOf()?.turn);
    super.goOn(live, waitMs);
  }

  protected override calls(live: LiveRun, operation: string): void {
    const log = this.#logOf();
    if (log !== undefined) this.#callOf.set(live, log.called(operation));
  }

  protected override callerOf(live: LiveRun): Caller {
    const { answer, reject, fail, value } = super.callerOf(live);
    return {
      answer: (result) => {
        this.#answers(live, result === undefined ? { end: true } : { result });
        answer(result);
      },
      reject: (error) => {
        this.#answers(live, { error: rejectionOf(error, this.checkOf(live.name)) });
        reject(error);
      },
      fail: (kind) => {
        if (kind === 'timeout') this.#timer(live);
        else this.#answers(live, { end: true });
        fail(kind);
      },
      value: (one) => {
        this.#answers(live, { value: one });
        value(one);
      },
    };
  }

  /** The next turn is set off by a timer. */
  #timer(live: LiveRun): void {
    this.#logOf()?.from({ by: 'timer', cause: this.#startedIn.get(live) });
  }

  /** The next turn is what comes of a call. */
  #answers(live: LiveRun, answer: LogAnswer): void {
    const [cause, call = 0] = [this.#startedIn.get(live), this.#callOf.get(live)];
    this.#logOf()?.from({ by: 'answer', cause, call, answer });
  }
}
