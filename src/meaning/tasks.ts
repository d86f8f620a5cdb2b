import { same } from '../base/same.js';
import { operationNamed, type Application } from '../model/application.js';
import {
  reasons,
  type Ended,
  type Environment,
  type Outcome,
  type TaskError,
} from '../model/participant.js';
import { changedMeanwhile } from '../model/changed-meanwhile.js';
import type { Moment, Operation, Task } from '../model/tasks.js';
import { delayOf } from './delay.js';
import { errorOf, judged, rejectionOf } from './answers.js';
import { makeCall } from './call.js';
import { evaluate, localOf, type Frame } from './compile-expression.js';
import { Following } from './following.js';
import type { Judge } from './judge.js';
import { fieldOf } from './state.js';
import { LiveRun } from './live-run.js';
import { tasksOf, type TaskOf } from '../model/task-of.js';
import { taskState, type Bound, type Run, type SetAside, type TaskState } from './task-states.js';
import type { Begun, Transaction } from './transaction.js';
import type { Turns } from './turns.js';

/** The outcome of something that was tried. */
export type Tried =
  | { readonly status: 'done'; readonly transaction: Transaction }
  | { readonly status: 'refused'; readonly reason: string; readonly at?: string }
  | { readonly status: 'broken' };

/** What tasks need of the stores. */
export interface TaskHost {
  readonly application: Application;
  readonly environment: Environment;
  readonly judge: Judge;
  readonly turns: Turns;
  /** Does something as a transaction that is not kept yet. */
  attempt(work: (transaction: Transaction) => void): Tried;
  /** Keeps what a transaction has made, with all that follows; `calls` is done before watchers are told. */
  commit(transaction: Transaction, calls?: () => void): void;
  /** A transaction that has made nothing yet, for what only asks. */
  look(): Transaction;
  /** True if the store of a task is attached. */
  isAttached(of: TaskOf): boolean;
  /** Notes that a point was reached, or how near it came. */
  cover(at: string, what: string): void;
  near(at: string, what: string, distance: () => number): void;
}

/** What is noted of an end that meets something else than the beginning of its run. */
const changed = 'changed-meanwhile';

/** Who waits for what becomes of a start that was set aside. */
type Told = (outcome: Outcome) => void;

/** Runs the tasks of the reference: calls, waits, retries and repeats, around transactions. */
export class Tasks {
  readonly #host: TaskHost;
  readonly #live = new Map<number, LiveRun>();
  readonly #aside = new Map<number, Told>();
  #numbers = 0;
  /** The start that was set aside and has its turn. */
  #turning: number | undefined;
  readonly #following: Following;

  constructor(host: TaskHost) {
    this.#host = host;
    this.#following = new Following(this.#all, {
      frame: () => ({ world: host.look().world, locals: undefined }),
      start: (of, payload) => {
        this.later(of, payload);
      },
      cancel: (of) => {
        this.#cancelLater(of);
      },
      broken: (of) => {
        this.#report(of, 'auto');
      },
      isThere: (of) => host.isAttached(of),
    });
  }

  get #all(): Iterable<TaskOf> {
    return tasksOf(this.#host.application).values();
  }

  /** Abandons runs, as a transaction of its own. */
  cancel(tasks: readonly TaskOf[], per: { readonly value: unknown } | undefined): Outcome {
    const tried = this.#host.attempt((transaction) => {
      transaction.cancel(tasks, per);
    });
    if (tried.status === 'done') this.#host.commit(tried.transaction);
    return this.#outcomeOf(tried, tasks[0] as TaskOf, 'cancel');
  }

  #outcomeOf(tried: Tried, of: TaskOf, moment: Moment): Outcome {
    switch (tried.status) {
      case 'done':
        return { status: 'done' };
      case 'refused':
        return tried;
      case 'broken':
        this.#report(of, moment);
        return { status: 'broken', action: `${of.name}.${moment}` };
    }
  }

  #report(of: TaskOf, where: string): void {
    this.#host.environment.onProblem({ kind: 'task', at: `${of.name}.${where}` });
  }

  /** A start, in its turn; `from` is what was set aside, if it was. */
  start(of: TaskOf, payload: unknown, from?: SetAside): Outcome {
    let begun: Begun | undefined;
    const tried = this.#host.attempt((transaction) => {
      begun = transaction.start(of, payload, (this.#numbers += 1), from);
    });
    if (tried.status !== 'done' || begun === undefined) return this.#outcomeOf(tried, of, 'start');
    if (begun.kind === 'aside') {
      const { aside } = begun;
      const outcome = new Promise<Outcome>((resolve) => this.#aside.set(aside.id, resolve));
      this.#host.commit(tried.transaction);
      return { status: 'queued', outcome };
    }
    const { run, waitMs } = begun;
    const ended = new Promise<Ended>((settle) => {
      const live = new LiveRun(of, run.number, this.#host.environment, settle);
      this.#live.set(run.number, live);
      this.#host.commit(tried.transaction, () => {
        live.begunWith = this.#host.look().state;
        this.#callAfter(live, waitMs);
      });
    });
    return { status: 'done', ended };
  }

  /** Ends what a commit has abandoned, and begins what can begin now: before calls are made and watchers told. */
  apply(transaction: Transaction, before: Transaction['tasks']): void {
    const gone: LiveRun[] = [];
    for (const of of this.#all) {
      const [old, now] = [taskState(before, of.name), taskState(transaction.tasks, of.name)];
      if (old === now) continue;
      const ended = old.runs.filter(({ number }) => !now.runs.some((run) => run.number === number));
      gone.push(...ended.flatMap(({ number }) => this.#live.get(number) ?? []));
      this.#refuseAside(old.waiting, now);
      this.#next(of, now);
    }
    for (const live of gone.sort((a, b) => a.number - b.number)) this.#abandon(live);
  }

  /** A start that no caller asks for. */
  later(of: TaskOf, payload: unknown): void {
    const run = (): Outcome =>
      this.#host.isAttached(of)
        ? this.#noticed(of, 'start', this.start(of, payload))
        : { status: 'refused', reason: reasons.notAttached };
    this.#host.turns.later(run, of.name, () => undefined);
  }

  /** Starts that were set aside and are gone, without a run of theirs, were cancelled. */
  #refuseAside(waiting: readonly SetAside[], now: TaskState): void {
    for (const { id } of waiting) {
      // One whose turn has come is told what became of it.
      if (id === this.#turning || now.waiting.some((one) => one.id === id)) continue;
      this.#tell(id, { status: 'refused', reason: reasons.cancelled });
    }
  }

  #tell(id: number, outcome: Outcome): void {
    this.#aside.get(id)?.(outcome);
    this.#aside.delete(id);
  }

  /** The oldest start that was set aside, of each value without a run, has the next turn. */
  #next(of: TaskOf, { runs, waiting }: TaskState): void {
    const first = waiting.find(
      (one, i) =>
        !runs.some((run) => same(run.per, one.per)) &&
        !waiting.slice(0, i).some((other) => same(other.per, one.per)),
    );
    if (first === undefined) return;
    const drop = (outcome: Outcome) => {
      this.#tell(first.id, outcome);
      const transaction = this.#host.look();
      transaction.drop(of, first);
      this.#host.commit(transaction);
    };
    const run = (): Outcome => {
      this.#turning = first.id;
      const outcome = this.start(of, first.payload, first);
      if (outcome.status === 'done') this.#tell(first.id, outcome);
      else drop(outcome);
      this.#turning = undefined;
      return outcome;
    };
    const refused = () => {
      drop({ status: 'refused', reason: reasons.unsettled });
    };
    this.#host.turns.later(run, of.name, refused, true);
  }

  /** A commit that ends a run and changes nothing else. */
  #endOnly(of: TaskOf, number: number): void {
    const transaction = this.#host.look();
    transaction.end(of, number);
    this.#host.commit(transaction);
  }

  /** What a run has of timers, signals and streams is given up; whoever waits for its end is told. */
  #abandon(live: LiveRun): void {
    if (!this.#live.delete(live.number)) return;
    live.release();
    live.controller?.abort();
    live.settle({ status: 'abandoned' });
  }

  /** Makes the call of a run when a time is over: at once if there is none. */
  #callAfter(live: LiveRun, ms: number): void {
    const call = () => {
      this.#call(live);
    };
    if (ms === 0) call();
    else live.after(ms, call);
  }

  /** A turn for something that has happened to a run, unless that is over by then. */
  #turn(live: LiveRun, work: (run: Run) => void, isCurrent = () => true): void {
    const { turns } = this.#host;
    const run = (): Outcome => {
      const now = this.#runOf(live);
      if (now !== undefined && isCurrent()) work(now);
      return { status: 'done' };
    };
    turns.later(run, live.of.name, () => {
      if (this.#runOf(live) === undefined) return;
      this.#over(live, { status: 'abandoned' });
      this.#endOnly(live.of, live.number);
    });
  }

  #runOf({ of, number }: LiveRun): Run | undefined {
    const { runs } = taskState(this.#host.look().tasks, of.name);
    return this.#live.has(number) ? runs.find((run) => run.number === number) : undefined;
  }

  /** A run has ended by itself: its signal stays as it is. */
  #over(live: LiveRun, ended: Ended): void {
    this.#live.delete(live.number);
    live.release();
    live.controller = undefined;
    live.settle(ended);
  }

  /** The value of an expression of a run; if it throws, or is no time to wait, the run ends. */
  #ask<T>(live: LiveRun, where: string, ask: (frame: Frame) => T, more: readonly Bound[] = []) {
    const run = this.#runOf(live);
    if (run === undefined) return undefined;
    try {
      return { value: ask(this.#host.look().frameOf(live.of, run, more)) };
    } catch {
      this.#report(live.of, where);
      this.#turn(live, (now) => {
        this.#fail(live, now, errorOf('broken'), true);
      });
      return undefined;
    }
  }

  #askDelay(
    live: LiveRun,
    where: 'timeLimit' | 'retry' | 'every',
    of: Task['wait'],
    more?: Bound[],
  ) {
    const ask = (frame: Frame): number => {
      const ms = of === undefined ? 0 : delayOf(evaluate(of, frame));
      if (ms === undefined) throw new RangeError('no time to wait');
      return ms;
    };
    return this.#ask(live, where, ask, more)?.value;
  }

  #call(live: LiveRun): void {
    const { application, environment } = this.#host;
    const { task } = live.of;
    if (task.operation === undefined) {
      this.#turn(live, (run) => {
        this.#finish(live, run, []);
      });
      return;
    }
    const given = this.#ask(live, 'with', (frame) =>
      task.with === undefined ? localOf(frame, 'payload') : evaluate(task.with, frame),
    );
    if (given === undefined) return;
    const limit =
      task.timeLimit === undefined ? undefined : this.#askDelay(live, 'timeLimit', task.timeLimit);
    if (task.timeLimit !== undefined && limit === undefined) return;
    const { service } = task.operation;
    const operation = operationNamed(application, task.operation);
    const call = { service, operation, given: given.value, limit };
    makeCall(live, call, environment, {
      value: (value, isCurrent) => {
        const take = (run: Run) => {
          this.#value(live, run, operation, value);
        };
        this.#turn(live, take, isCurrent);
      },
      answer: (result, isCurrent) => {
        this.#answered(live, operation, result, isCurrent);
      },
      reject: (error, isCurrent) => {
        this.#failed(live, rejectionOf(error, operation, this.#host.judge), isCurrent);
      },
      noStream: (isCurrent) => {
        this.#failed(live, errorOf('bad result'), isCurrent);
      },
      expired: () => {
        this.#failed(live, errorOf('timeout'));
      },
    });
  }

  /** One of many values. */
  #value(live: LiveRun, run: Run, operation: Operation, value: unknown): void {
    const { of } = live;
    const { judge } = this.#host;
    const taken = judged(value, operation.results, operation, judge);
    const fail = (error: TaskError, mayRetry: boolean) => {
      live.quit();
      if (!mayRetry || !this.#retries(live, error)) this.#fail(live, run, error);
    };
    if (taken === undefined) return fail(errorOf('bad result'), true);
    const tried = this.#host.attempt((transaction) => {
      transaction.at('each', of, run, [{ name: 'result', value: taken.value }]);
    });
    if (tried.status === 'done') {
      live.attempt = 0;
      this.#host.commit(tried.transaction);
    } else fail(this.#errorOfTried(live, tried, 'each'), false);
  }

  #answered(live: LiveRun, operation: Operation, result: unknown, isCurrent: () => boolean): void {
    this.#turn(
      live,
      (run) => {
        const taken = judged(result, operation.result, operation, this.#host.judge);
        if (taken === undefined) {
          const error = errorOf('bad result');
          if (!this.#retries(live, error)) this.#fail(live, run, error);
          return;
        }
        const isRead = operation.result !== undefined;
        this.#finish(live, run, isRead ? [{ name: 'result', value: taken.value }] : []);
      },
      isCurrent,
    );
  }

  /** A call has failed: it is made again, or the run fails. */
  #failed(live: LiveRun, error: TaskError, isCurrent?: () => boolean): void {
    this.#turn(
      live,
      (run) => {
        if (!this.#retries(live, error)) this.#fail(live, run, error);
      },
      isCurrent,
    );
  }

  /** True if a failed call is made again; then that is under way. */
  #retries(live: LiveRun, error: TaskError): boolean {
    const { retry } = live.of.task;
    if (retry === undefined) return false;
    if (live.attempt >= retry.times) {
      this.#host.cover(`${live.of.name}.retry`, 'exhausted');
      return false;
    }
    const more = [
      { name: 'error', value: error },
      { name: 'attempt', value: live.attempt + 1 },
    ];
    const { when } = retry;
    if (when !== undefined) {
      const wanted = this.#ask(live, 'retry', (frame) => Boolean(evaluate(when, frame)), more);
      // The run ends another way.
      if (wanted === undefined) return true;
      if (!wanted.value) return false;
    }
    const ms = this.#askDelay(live, 'retry', retry.wait, more);
    if (ms === undefined) return true;
    live.attempt += 1;
    this.#host.cover(`${live.of.name}.retry`, 'again');
    this.#callAfter(live, ms);
    return true;
  }

  /** The round is over; without `every` the run is. */
  #finish(live: LiveRun, run: Run, more: readonly Bound[]): void {
    const tried = this.#host.attempt((transaction) => {
      transaction.at('finish', live.of, run, more);
      this.#endRound(live, transaction);
    });
    if (tried.status !== 'done')
      return this.#fail(live, run, this.#errorOfTried(live, tried, 'finish'));
    if (this.#hasChanged(live)) this.#host.cover(`${live.of.name}.finish`, changed);
    this.#keepRound(live, tried.transaction, { status: 'finished' });
  }

  /** True if something that a run works with has changed since it was started. */
  #hasChanged({ of, begunWith }: LiveRun): boolean {
    const { state } = this.#host.look();
    return changedMeanwhile(this.#host.application, of.store, of.task).some(
      ({ store, field }) => fieldOf(state, store, field) !== fieldOf(begunWith, store, field),
    );
  }

  /** Notes how near runs are to an end that meets something else than their beginning. */
  noteChanges(): void {
    for (const live of this.#live.values())
      this.#host.near(`${live.of.name}.finish`, changed, () => (this.#hasChanged(live) ? 1 : 2));
  }

  #errorOfTried(live: LiveRun, tried: Tried, moment: Moment): TaskError {
    if (tried.status === 'refused') return { ...errorOf('refused'), message: tried.reason };
    this.#report(live.of, moment);
    return errorOf('broken');
  }

  /** The round has failed; `isLast`: so the run is over. */
  #fail(live: LiveRun, run: Run, error: TaskError, isLast = false): void {
    const { of } = live;
    this.#host.cover(`${of.name}.fail`, error.kind === 'bad result' ? 'bad-result' : error.kind);
    const ended: Ended = { status: 'failed', error };
    const tried = this.#host.attempt((transaction) => {
      transaction.at('fail', of, run, [{ name: 'error', value: error }]);
      if (isLast) transaction.end(of, live.number);
      else this.#endRound(live, transaction);
    });
    if (tried.status === 'done') return this.#keepRound(live, tried.transaction, ended, isLast);
    if (tried.status === 'broken') this.#report(of, 'fail');
    this.#over(live, ended);
    this.#endOnly(of, live.number);
  }

  #endRound({ of, number }: LiveRun, transaction: Transaction): void {
    if (of.task.every === undefined) transaction.end(of, number);
  }

  #keepRound(live: LiveRun, transaction: Transaction, ended: Ended, isLast = false): void {
    const { every } = live.of.task;
    if (every === undefined || isLast) {
      this.#over(live, ended);
      this.#host.commit(transaction);
      return;
    }
    live.attempt = 0;
    this.#host.commit(transaction, () => {
      const ms = this.#askDelay(live, 'every', every);
      if (ms === undefined) return;
      live.after(ms, () => {
        this.#turn(live, (run) => {
          this.#repeat(live, run);
        });
      });
    });
  }

  /** The next round of a run; if it is refused, the run is over. */
  #repeat(live: LiveRun, run: Run): void {
    const { of } = live;
    const tried = this.#host.attempt((transaction) => {
      transaction.repeat(of, run);
    });
    if (tried.status === 'done')
      return this.#host.commit(tried.transaction, () => {
        this.#call(live);
      });
    const error =
      tried.status === 'refused'
        ? { ...errorOf('refused'), message: tried.reason }
        : errorOf('broken');
    if (tried.status === 'broken') this.#report(of, 'start');
    this.#over(live, { status: 'failed', error });
    this.#endOnly(of, live.number);
  }

  /** At creation: what starts by itself. */
  begin(): void {
    this.#following.follow();
  }

  /** After a commit: what follows a value that has changed. */
  follow(): void {
    this.#following.follow();
  }

  /** Abandons the runs of a task, which no caller asks for. */
  #cancelLater(of: TaskOf): void {
    const run = (): Outcome => this.#noticed(of, 'cancel', this.cancel([of], undefined));
    this.#host.turns.later(run, of.name, () => undefined);
  }

  /** What does not fit, and nobody has asked for, is reported. */
  #noticed(of: TaskOf, moment: Moment, outcome: Outcome): Outcome {
    if (outcome.status === 'refused' && outcome.reason === reasons.misfit) this.#report(of, moment);
    return outcome;
  }

  /** The stores were put into a state in which no run goes on. */
  restart(): void {
    for (const live of this.#live.values()) live.release();
    this.#live.clear();
    this.#following.restart();
  }

  /** Everything is abandoned. */
  close(): void {
    const inOrder = [...this.#all].flatMap((of) =>
      [...this.#live.values()].filter((live) => live.of === of),
    );
    for (const live of inOrder) this.#abandon(live);
    for (const id of [...this.#aside.keys()])
      this.#tell(id, { status: 'refused', reason: reasons.closed });
  }
}
