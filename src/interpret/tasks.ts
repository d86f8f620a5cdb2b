import { same } from '../base/same.js';
import { operationNamed, type Application } from '../model/application.js';
import {
  reasons,
  type Ended,
  type Environment,
  type Outcome,
  type TaskError,
} from '../model/participant.js';
import { failures, type Failure, type Moment, type Operation, type Task } from '../model/tasks.js';
import { delayOf } from './delay.js';
import { evaluate, type Frame } from './compile-expression.js';
import type { Judge } from './judge.js';
import { listen, streamIn } from './streams.js';
import { takeIn } from './take-in.js';
import { tasksOf, type TaskOf } from './task-of.js';
import { taskState, type Bound, type Run, type SetAside, type TaskState } from './task-states.js';
import type { Begun, Transaction } from './transaction.js';
import type { Turns } from './turns.js';
import { withoutExtra } from './without-extra.js';

/** What became of something that was tried. */
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
  /** Notes that a point was reached. */
  cover(at: string, what: string): void;
}

/** What is under way for a run, besides what a transaction knows of it. */
interface Live {
  readonly of: TaskOf;
  readonly number: number;
  /** The signal of the call that is not answered yet. */
  controller: AbortController | undefined;
  readonly timers: Set<unknown>;
  /** How many calls were made, and which repetition of a call is next. */
  calls: number;
  attempt: number;
  /** Ends the listening to a stream. */
  stop: (() => void) | undefined;
  readonly settle: (ended: Ended) => void;
}

/** Who waits for what becomes of a start that was set aside. */
type Told = (outcome: Outcome) => void;

/** Runs the tasks of the reference: calls, waits, retries and repeats, around transactions. */
export class Tasks {
  readonly #host: TaskHost;
  readonly #live = new Map<number, Live>();
  readonly #aside = new Map<number, Told>();
  readonly #seen = new Map<TaskOf, { readonly value: unknown }>();
  #numbers = 0;
  /** The start that was set aside and has its turn. */
  #turning: number | undefined;
  /** The tasks whose value to follow threw when it was last asked for. */
  readonly #broken = new Set<TaskOf>();

  constructor(host: TaskHost) {
    this.#host = host;
  }

  get #all(): Iterable<TaskOf> {
    return tasksOf(this.#host.application).values();
  }

  /** A start that a caller asks for, in its turn. */
  start(of: TaskOf, payload: unknown): Outcome {
    return this.#start(of, payload);
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

  #start(of: TaskOf, payload: unknown, from?: SetAside): Outcome {
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
      const live: Live = {
        of,
        number: run.number,
        controller: undefined,
        timers: new Set(),
        calls: 0,
        attempt: 0,
        stop: undefined,
        settle,
      };
      this.#live.set(run.number, live);
      this.#host.commit(tried.transaction, () => {
        this.#after(live, waitMs, () => {
          this.#call(live);
        });
      });
    });
    return { status: 'done', ended };
  }

  /** Starts and ends what a commit has asked for: before calls are made and watchers told. */
  apply(transaction: Transaction, before: Transaction['tasks']): void {
    for (const { task, payload } of transaction.asked) this.#later(task, payload);
    const gone: Live[] = [];
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
  #later(of: TaskOf, payload: unknown): void {
    const { turns } = this.#host;
    const run = (): Outcome => {
      const outcome = this.start(of, payload);
      if (outcome.status === 'refused' && outcome.reason === reasons.misfit)
        this.#report(of, 'start');
      return outcome;
    };
    turns.later(run, of.name, () => undefined);
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
      const outcome = this.#start(of, first.payload, first);
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
  #abandon(live: Live): void {
    if (!this.#live.delete(live.number)) return;
    this.#release(live);
    live.controller?.abort();
    live.settle({ status: 'abandoned' });
  }

  #release(live: Live): void {
    for (const timer of live.timers) this.#host.environment.timers?.clearTimeout(timer as never);
    live.timers.clear();
    live.stop?.();
    live.stop = undefined;
  }

  /** Does something when a time is over: at once if there is none. */
  #after(live: Live, ms: number, work: () => void, always = false): void {
    if (ms === 0 && !always) return work();
    const timer = this.#host.environment.timers?.setTimeout(() => {
      live.timers.delete(timer);
      work();
    }, ms);
    live.timers.add(timer);
  }

  /** A turn for something that has happened to a run, unless that is over by then. */
  #turn(live: Live, work: (run: Run) => void, isCurrent = () => true): void {
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

  #runOf({ of, number }: Live): Run | undefined {
    const { runs } = taskState(this.#host.look().tasks, of.name);
    return this.#live.has(number) ? runs.find((run) => run.number === number) : undefined;
  }

  /** A run has ended by itself: its signal stays as it is. */
  #over(live: Live, ended: Ended): void {
    this.#live.delete(live.number);
    this.#release(live);
    live.controller = undefined;
    live.settle(ended);
  }

  /** The value of an expression of a run; if it throws, or is no time to wait, the run ends. */
  #ask<T>(live: Live, where: string, ask: (frame: Frame) => T, more: readonly Bound[] = []) {
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

  #askDelay(live: Live, where: 'timeLimit' | 'retry' | 'every', of: Task['wait'], more?: Bound[]) {
    const ask = (frame: Frame): number => {
      const ms = of === undefined ? 0 : delayOf(evaluate(of, frame));
      if (ms === undefined) throw new RangeError('no time to wait');
      return ms;
    };
    return this.#ask(live, where, ask, more)?.value;
  }

  #call(live: Live): void {
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
    const call = ++live.calls;
    const controller = new AbortController();
    live.controller = controller;
    const isCurrent = () => live.calls === call;
    let limiting: unknown;
    const answered = () => {
      environment.timers?.clearTimeout(limiting as never);
      live.timers.delete(limiting);
    };
    if (limit !== undefined) {
      limiting = environment.timers?.setTimeout(() => {
        live.timers.delete(limiting);
        if (!isCurrent()) return;
        live.calls += 1;
        live.stop?.();
        live.stop = undefined;
        controller.abort();
        this.#failed(live, errorOf('timeout'));
      }, limit);
      live.timers.add(limiting);
    }
    const operation = operationNamed(application, task.operation);
    const reject = (error: unknown) => {
      if (!isCurrent()) return;
      answered();
      live.controller = undefined;
      this.#failed(live, this.#rejection(error, operation), isCurrent);
    };
    const answer = (result: unknown) => {
      if (!isCurrent()) return;
      answered();
      live.controller = undefined;
      this.#answered(live, operation, result, isCurrent);
    };
    try {
      const { service, operation: name } = task.operation;
      const asked = environment.services?.[service];
      if (asked?.[name] === undefined) throw new Error(`'${service}.${name}' is not given`);
      const given0 = task.with === undefined && task.payload === undefined;
      const said = asked[name](given0 ? undefined : given.value, controller.signal);
      if (operation.results !== undefined)
        this.#listen(live, operation, said, { isCurrent, answered, reject });
      else if (isThenable(said)) void Promise.resolve(said).then(answer, reject);
      else answer(said);
    } catch (error) {
      reject(error);
    }
  }

  #listen(
    live: Live,
    operation: Operation,
    said: unknown,
    {
      isCurrent,
      answered,
      reject,
    }: { isCurrent: () => boolean; answered: () => void; reject: (error: unknown) => void },
  ): void {
    const stream = streamIn(said);
    if (stream === undefined) {
      answered();
      live.controller = undefined;
      this.#failed(live, errorOf('bad result'), isCurrent);
      return;
    }
    const stop = listen(stream, {
      next: (value) => {
        if (!isCurrent()) return;
        answered();
        this.#turn(
          live,
          (run) => {
            this.#value(live, run, operation, value);
          },
          isCurrent,
        );
      },
      error: (error) => {
        live.stop = undefined;
        reject(error);
      },
      end: (result) => {
        if (!isCurrent()) return;
        answered();
        live.stop = undefined;
        live.controller = undefined;
        this.#answered(live, operation, result, isCurrent);
      },
    });
    if (isCurrent() && live.controller !== undefined) live.stop = stop;
  }

  /** One of many values. */
  #value(live: Live, run: Run, operation: Operation, value: unknown): void {
    const { of } = live;
    const taken = this.#judged(value, operation.results, operation.dropsExtra);
    const fail = (error: TaskError, mayRetry: boolean) => {
      live.calls += 1;
      live.stop?.();
      live.stop = undefined;
      live.controller?.abort();
      live.controller = undefined;
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

  /** What comes, as the stores keep it; `undefined` if it does not fit. */
  #judged(value: unknown, type: Operation['result'], dropsExtra: boolean) {
    if (type === undefined) return { value: undefined };
    const { judge } = this.#host;
    const taken = takeIn(value);
    const result = dropsExtra ? withoutExtra(taken, type, judge.types) : taken;
    return judge.fits(result, type) ? { value: result } : undefined;
  }

  #rejection(error: unknown, { error: type }: Operation): TaskError {
    const { judge } = this.#host;
    const taken = type === undefined ? undefined : takeIn(error);
    const fits = type !== undefined && judge.fits(taken, type);
    return { kind: 'rejected', message: messageOf(error), data: fits ? taken : null };
  }

  #answered(live: Live, operation: Operation, result: unknown, isCurrent: () => boolean): void {
    this.#turn(
      live,
      (run) => {
        const taken = this.#judged(result, operation.result, operation.dropsExtra);
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
  #failed(live: Live, error: TaskError, isCurrent?: () => boolean): void {
    this.#turn(
      live,
      (run) => {
        if (!this.#retries(live, error)) this.#fail(live, run, error);
      },
      isCurrent,
    );
  }

  /** Whether a failed call is made again; then that is under way. */
  #retries(live: Live, error: TaskError): boolean {
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
    this.#after(live, ms, () => {
      this.#call(live);
    });
    return true;
  }

  /** The round is over; without `every` the run is. */
  #finish(live: Live, run: Run, more: readonly Bound[]): void {
    const tried = this.#host.attempt((transaction) => {
      transaction.at('finish', live.of, run, more);
      this.#endRound(live, transaction);
    });
    if (tried.status !== 'done')
      return this.#fail(live, run, this.#errorOfTried(live, tried, 'finish'));
    this.#keepRound(live, tried.transaction, { status: 'finished' });
  }

  #errorOfTried(live: Live, tried: Tried, moment: Moment): TaskError {
    if (tried.status === 'refused') return { ...errorOf('refused'), message: tried.reason };
    this.#report(live.of, moment);
    return errorOf('broken');
  }

  /** The round has failed; `isLast`: so the run is over. */
  #fail(live: Live, run: Run, error: TaskError, isLast = false): void {
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

  #endRound({ of, number }: Live, transaction: Transaction): void {
    if (of.task.every === undefined) transaction.end(of, number);
  }

  #keepRound(live: Live, transaction: Transaction, ended: Ended, isLast = false): void {
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
      this.#after(
        live,
        ms,
        () => {
          this.#turn(live, (run) => {
            this.#repeat(live, run);
          });
        },
        true,
      );
    });
  }

  /** The next round of a run; if it is refused, the run is over. */
  #repeat(live: Live, run: Run): void {
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
    for (const of of this.#all) {
      const { auto } = of.task;
      if (auto?.kind === 'once') this.#later(of, undefined);
      if (auto === undefined || auto.kind === 'once') continue;
      const now = this.#autoValue(of);
      if (now === undefined) continue;
      this.#seen.set(of, now);
      if (auto.kind === 'while' ? now.value === true : auto.first && now.value !== null)
        this.#later(of, auto.kind === 'while' ? undefined : now.value);
    }
  }

  /** After a commit: what follows a value that has changed. */
  follow(): void {
    for (const of of this.#all) {
      const { auto } = of.task;
      if (auto === undefined || auto.kind === 'once') continue;
      const before = this.#seen.get(of);
      const now = this.#autoValue(of);
      if (now === undefined || (before !== undefined && same(before.value, now.value))) continue;
      this.#seen.set(of, now);
      const isOn = auto.kind === 'while' ? now.value === true : now.value !== null;
      if (isOn) this.#later(of, auto.kind === 'while' ? undefined : now.value);
      else if (before !== undefined)
        this.#host.turns.later(
          () => {
            const outcome = this.cancel([of], undefined);
            if (outcome.status === 'refused' && outcome.reason === reasons.misfit)
              this.#report(of, 'cancel');
            return outcome;
          },
          of.name,
          () => undefined,
        );
    }
  }

  /** What a task follows; nothing if that throws. */
  #autoValue(of: TaskOf): { readonly value: unknown } | undefined {
    const { auto } = of.task;
    if (auto === undefined || auto.kind === 'once') return undefined;
    const frame = { world: this.#host.look().world, locals: undefined };
    try {
      const value = evaluate(auto.kind === 'while' ? auto.test : auto.value, frame);
      this.#broken.delete(of);
      return { value: auto.kind === 'while' ? Boolean(value) : value };
    } catch {
      if (!this.#broken.has(of)) this.#report(of, 'auto');
      this.#broken.add(of);
      return undefined;
    }
  }

  /** The stores were put into a state in which no run goes on. */
  restart(): void {
    for (const live of this.#live.values()) this.#release(live);
    this.#live.clear();
    this.#seen.clear();
    for (const of of this.#all) {
      const now = this.#autoValue(of);
      if (now !== undefined) this.#seen.set(of, now);
    }
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

function errorOf(kind: Failure): TaskError {
  if (!failures.includes(kind)) throw new Error(`'${kind}' is no kind of failure`);
  return { kind, message: kind, data: null };
}

/** What a rejection says: the message if that is text, else the whole as text. */
function messageOf(error: unknown): string {
  try {
    const { message } = error as { message?: unknown };
    if (typeof message === 'string') return message;
  } catch {
    // There is nothing to ask, or the asking throws.
  }
  try {
    return String(error);
  } catch {
    return '';
  }
}

function isThenable(value: unknown): value is PromiseLike<unknown> {
  const isObject = (typeof value === 'object' && value !== null) || typeof value === 'function';
  return isObject && typeof (value as { then?: unknown }).then === 'function';
}

function localOf({ locals }: Frame, name: string): unknown {
  for (let local = locals; local !== undefined; local = local.outer)
    if (local.name === name) return local.value;
  return undefined;
}
