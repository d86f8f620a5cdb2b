// Work that takes its time. What goes on is part of a transaction, kept or dropped with it; calls and timers are around it.
import { errorOf, judged, rejectionOf } from './answers.js';
import { LiveRun, makeCall, type GivenServices } from './call.js';
import { misfit } from './fitting.js';
import type { TaskCheck } from './value-types.js';
// <log>
import type { LogAnswer } from './log.js';
// </log>
// <auto>
import { Following } from './following.js';
// </auto>
import type { Ask, TaskPlan } from './task-plan.js';
import {
  Refusal,
  refuse,
  type Ended,
  type Options,
  type Outcome,
  type StartOutcome,
  type TaskError,
  type Timers,
  type Transaction,
  type Turns,
} from './transaction.js';
import { freeze, same } from './values.js';
/** What can be read of a task: whether a run goes on, the payloads of runs, oldest first, and of starts that are set aside. */
export interface TaskReadings<P = unknown> {
  readonly running: boolean;
  readonly runs: readonly P[];
  readonly waiting: readonly P[];
}

interface Run {
  readonly number: number;
  readonly payload: unknown;
  /** What was bound at the start. */
  readonly given: object;
  readonly per: unknown;
}

/** A start that waits for the end of a run. */
interface SetAside {
  readonly payload: unknown;
  readonly per: unknown;
  readonly tell: (outcome: StartOutcome) => void;
}

export interface TaskState {
  readonly runs: readonly Run[];
  readonly waiting: readonly SetAside[];
  readonly readings: TaskReadings;
}

export type TaskStates = Readonly<Record<string, TaskState>>;

// <doing>
/** Something that was done, as plain data: an action, a start, what came of a run, or a cancel. */
export interface RecordedAction {
  /** `deck.admit`, `timetable.load` for a start, `timetable.load.finish` for what came of a run. */
  readonly type: string;
  readonly payload?: unknown;
  /** The number of the run, counted from 1. */
  readonly run?: number;
  /** The result, or the error. */
  readonly given?: object;
  /** Whether the run is over. */
  readonly ends?: boolean;
  /** Whether it is the turn of a start that was set aside. */
  readonly isAside?: boolean;
}

// </doing>
/** What the tasks need of the stores of a style. */
export interface TaskHost {
  /** Does what belongs to a moment, `timetable.load.finish`, with the reactions to it; gives what it binds. */
  readonly perform: (moment: string, payload: unknown, given: object) => unknown;
  /** Asks a function of a plan. */
  readonly ask: (of: Ask, payload: unknown, given: object) => unknown;
  /** A transaction that does something. */
  readonly transaction: <P>(act: (payload: P) => void) => Transaction<P>;
  // <history>
  /** Does `deck.undo` or `deck.redo` in a turn of its own. */
  readonly later?: (name: string) => void;
  // </history>
  /** Told of each task of which other things can be read than before. */
  readonly changed?: (name: string) => void;
}

/** What browsers and servers alike have, whatever types of theirs the compiler knows. */
const platform = globalThis as unknown as Timers;

const idle: TaskState = {
  runs: [],
  waiting: [],
  readings: Object.freeze({ running: false, runs: Object.freeze([]), waiting: Object.freeze([]) }),
};

/** The tasks of an application. */
export class Tasks {
  /** What goes on, as it was committed, and as the transaction under way has made it. */
  states: TaskStates = {};
  #pending: TaskStates = {};
  #asked: (readonly [name: string, payload: unknown])[] = [];
  /** What is done with the commit of the transaction under way. */
  #then: (() => void) | undefined;
  #waitMs = 0;
  #numbers = 0;
  readonly #plans: Readonly<Record<string, TaskPlan>>;
  readonly #checks: (name: string) => TaskCheck | undefined;
  readonly #host: TaskHost;
  readonly #turns: Turns;
  readonly #services: GivenServices;
  readonly #timers: Timers;
  readonly #live = new Map<number, LiveRun>();
  /** The set-aside start whose turn it is. */
  #turning: SetAside | undefined;
  // <replay>
  /** Told of what is kept. */
  record: ((action: RecordedAction) => void) | undefined;
  // </replay>
  // <doing>
  /** What the transaction under way does. */
  doing: RecordedAction | undefined;
  // </doing>
  // <auto>
  readonly #following: Following;
  // </auto>

  constructor(
    turns: Turns,
    options: Options,
    plans: Readonly<Record<string, TaskPlan>>,
    checks: (name: string) => TaskCheck | undefined,
    host: TaskHost,
  ) {
    this.#turns = turns;
    this.#plans = plans;
    this.#checks = checks;
    this.#host = host;
    this.#services = (options.services ?? {}) as GivenServices;
    this.#timers = options.timers ?? platform;
    turns.tasks = this;
    // <auto>
    this.#following = new Following(plans, {
      ask: (of) => host.ask(of, undefined, {}),
      start: (name, payload) => {
        // <log>
        turns.log?.from({ by: 'auto' });
        // </log>
        this.#later(name, payload);
      },
      cancel: (name) => {
        // <log>
        turns.log?.from({ by: 'auto' });
        // </log>
        this.#cancelLater(name);
      },
      broken: (name, error) => {
        turns.report({ kind: 'task', at: `${name}.auto`, error });
      },
    });
    // </auto>
  }

  /** What can be read of a task. */
  readings(name: string): TaskReadings {
    return stateOf(this.states, name).readings;
  }

  /** Starts a task, or has it wait for its turn. */
  start(name: string, payload?: unknown): StartOutcome {
    let begun: StartOutcome | undefined;
    const work = this.#host.transaction((accepted) => (begun = this.#begin(name, accepted)));
    const tell = (outcome: Outcome): StartOutcome =>
      outcome.status === 'queued'
        ? { status: 'queued', outcome: outcome.outcome.then(tell).then(last) }
        : outcome.status === 'done'
          ? (begun as StartOutcome)
          : outcome;
    return tell(this.#turns.take(`${name}.start`, payload, this.#checks(name), work));
  }

  /** Abandons the runs of a task, or with `per` those of one value. */
  cancel(name: string, ...per: readonly unknown[]): Outcome {
    const work = this.#host.transaction(() => {
      this.#cancel(name, ...per);
    });
    return this.#turns.take(`${name}.cancel`, undefined, undefined, work);
  }

  #cancel(name: string, ...per: readonly unknown[]): void {
    // <doing>
    this.doing =
      per.length === 0 ? { type: `${name}.cancel` } : { type: `${name}.cancel`, payload: per[0] };
    // </doing>
    this.abandon([name], ...per);
  }

  /** Asks for a start after the transaction. */
  readonly ask = (name: string, payload?: unknown): void => {
    this.#asked.push([name, payload]);
  };

  /** Sets how long the start under way waits before its call. */
  readonly delay = (ms: number): void => {
    this.#waitMs = waitable(ms) ?? refuse('does not fit');
  };

  /** Abandons runs within a transaction, with what is set aside and what was asked for. */
  readonly abandon = (names: readonly string[], ...per: readonly unknown[]): void => {
    const isMeant = (one: { readonly per: unknown }) => per.length === 0 || same(one.per, per[0]);
    const gone = names.flatMap((name) => {
      const { runs, waiting } = stateOf(this.#pending, name);
      this.#put(
        name,
        runs.filter((one) => !isMeant(one)),
        waiting.filter((one) => !isMeant(one)),
      );
      this.#asked = this.#asked.filter(
        ([asked, payload]) => asked !== name || !isMeant({ per: this.#perOf(name, payload) }),
      );
      return runs.filter(isMeant).map((run) => ({ name, run }));
    });
    gone.sort((a, b) => a.run.number - b.run.number);
    for (const { name, run } of gone) this.#perform(name, 'cancel', run);
  };

  /** A transaction begins: what an earlier one made and did not keep is forgotten. */
  begin(): void {
    this.#pending = this.states;
    this.#asked = [];
    this.#then = undefined;
    // <doing>
    this.doing = undefined;
    // </doing>
  }

  /** Keeps what a transaction has made of the tasks, with all that follows; whether anything is new. */
  apply(): boolean {
    const before = this.states;
    this.states = this.#pending;
    // <replay>
    if (this.doing !== undefined) this.record?.(this.doing);
    // </replay>
    // <log>
    const { log } = this.#turns;
    const isOfTask = Object.hasOwn(this.#plans, taskIn(this.doing?.type));
    if (log !== undefined && isOfTask) log.did = this.doing;
    // </log>
    // <history>
    for (const [name, payload] of this.#asked.splice(0))
      if (/\.(?:undo|redo)$/.test(name)) this.#host.later?.(name);
      else this.#later(name, payload);
    //- for (const [name, payload] of this.#asked.splice(0))
    //-   this.#later(name, payload);
    // </history>
    const gone: LiveRun[] = [];
    for (const name of before === this.states ? [] : Object.keys(this.#plans)) {
      const [old, now] = [stateOf(before, name), stateOf(this.states, name)];
      if (old === now) continue;
      for (const { number } of old.runs) {
        const live = this.#live.get(number);
        if (live !== undefined && !has(now, number)) gone.push(live);
      }
      for (const aside of old.waiting)
        if (aside !== this.#turning && !now.waiting.includes(aside))
          aside.tell({ status: 'refused', reason: 'cancelled' });
      this.#next(name, now);
      if (old.readings !== now.readings) this.#host.changed?.(name);
    }
    gone.sort((a, b) => a.number - b.number);
    for (const live of gone) this.#end(live, { status: 'abandoned' });
    const then = this.#then;
    this.#then = undefined;
    then?.();
    return before !== this.states;
  }

  #put(name: string, runs: readonly Run[], waiting: readonly SetAside[]): void {
    const old = stateOf(this.#pending, name);
    if (areSame(old.runs, runs) && areSame(old.waiting, waiting)) return;
    const { readings } = old;
    const next = {
      running: runs.length > 0,
      runs: kept(readings.runs, payloadsOf(runs)),
      waiting: kept(readings.waiting, payloadsOf(waiting)),
    };
    const state = {
      runs,
      waiting,
      readings: this.#turns.guard ? freeze(kept(readings, next)) : kept(readings, next),
    };
    this.#pending = { ...this.#pending, [name]: state };
  }

  // <doing>
  #perform(name: string, moment: string, { payload, given, number }: Run, more?: object): void {
    //- #perform(name: string, moment: string, { payload, given }: Run, more?: object): void {
    // </doing>
    // <doing>
    if (moment !== 'cancel')
      this.doing = { type: `${name}.${moment}`, run: number, ...(more && { given: more }) };
    // </doing>
    this.#host.perform(`${name}.${moment}`, payload, { ...given, ...more });
  }

  #perOf(name: string, payload: unknown): unknown {
    const per = this.#plans[name]?.per;
    return per && this.#host.ask(per, payload, {});
  }

  #begin(name: string, payload: unknown, from?: SetAside): StartOutcome {
    const { overlap = 'latest', wait = 0 } = this.#plans[name] as TaskPlan;
    const per = this.#perOf(name, payload);
    const others = stateOf(this.#pending, name).runs.filter((run) => same(run.per, per));
    if (others.length > 0) {
      if (overlap === 'first') refuse('running');
      if (overlap === 'queue') {
        const { runs, waiting } = stateOf(this.#pending, name);
        // <doing>
        this.doing = { type: name, payload };
        // </doing>
        const outcome = new Promise<StartOutcome>((tell) => {
          this.#put(name, runs, [...waiting, { payload, per, tell }]);
        });
        return { status: 'queued', outcome };
      }
    }
    this.#waitMs = wait;
    const given = this.#host.perform(`${name}.start`, payload, {}) ?? {};
    const waitMs = this.#waitMs;
    const run: Run = { number: (this.#numbers += 1), payload, given, per };
    // <doing>
    this.doing = { type: name, payload, run: run.number, ...(from && { isAside: true }) };
    // </doing>
    const { runs, waiting } = stateOf(this.#pending, name);
    const left = overlap === 'latest' ? runs.filter((one) => !others.includes(one)) : runs;
    this.#put(
      name,
      [...left, run],
      waiting.filter((one) => one !== from),
    );
    const ended = new Promise<Ended>((settle) => {
      const live = new LiveRun(name, run.number, this.#timers, settle);
      this.#then = () => {
        // <log>
        live.turn = this.#turns.log?.turn;
        // </log>
        this.#live.set(run.number, live);
        this.#callAfter(live, waitMs);
      };
    });
    return { status: 'done', ended };
  }

  /** A start that no caller has asked for. */
  #later(name: string, payload: unknown): void {
    // <lazy>
    // Of a store that is not attached: refused, and nobody hears of it.
    if (!Object.hasOwn(this.#plans, name)) return;
    // </lazy>
    const { payload: type, default: otherwise } = this.#checks(name) ?? {};
    const given = payload ?? otherwise;
    const start = (): boolean =>
      this.#transact(() => {
        const found = type === undefined ? undefined : misfit(given, type);
        if (found !== undefined) refuse('does not fit', `/payload${found}`);
        this.#begin(name, given);
      });
    this.#unasked(`${name}.start`, start);
  }

  /** A turn that no caller has asked for: somebody hears of what does not fit. */
  #unasked(at: string, work: () => boolean): void {
    this.#turns.turn(at, work, (outcome) => {
      if (outcome.status === 'refused' && outcome.reason === 'does not fit')
        this.#turns.report({ kind: 'task', at });
    });
  }

  /** The oldest of the starts that are set aside and meet no run has the next turn. */
  #next(name: string, { runs, waiting }: TaskState): void {
    const aside = nextOf(runs, waiting);
    if (aside === undefined) return;
    let begun: StartOutcome | undefined;
    const work = this.#host.transaction(() => (begun = this.#begin(name, aside.payload, aside)));
    const settle = (outcome: Outcome): void => {
      this.#turning = undefined;
      aside.tell(outcome.status === 'done' ? (begun as StartOutcome) : (outcome as StartOutcome));
      if (outcome.status === 'done') return;
      this.#turning = aside;
      this.#turns.run(name, () => {
        this.begin();
        this.#drop(name, aside);
        return false;
      });
      this.#turning = undefined;
    };
    const take = (): boolean => {
      this.#turning = aside;
      return this.#turns.transact(work);
    };
    this.#turns.turn(`${name}.start`, take, settle, true);
  }

  /** Makes the call of a run when a time is over: at once if there is none. */
  #callAfter(live: LiveRun, ms: number): void {
    const call = (): void => {
      this.#call(live);
    };
    // <log>
    const timed = (): void => {
      this.#turns.log?.from({ by: 'timer', cause: live.turn });
      call();
      this.#turns.log?.from();
    };
    if (ms > 0) live.after(ms, timed);
    //- if (ms > 0) live.after(ms, call);
    // </log>
    else call();
  }

  /** A run is over. */
  #end(live: LiveRun, ended: Ended): void {
    this.#live.delete(live.number);
    live.quit(ended.status === 'abandoned');
    live.settle(ended);
  }

  #runOf({ name, number }: LiveRun): Run | undefined {
    return stateOf(this.states, name).runs.find((run) => run.number === number);
  }

  /** A turn for something that has happened to a run; nothing if that is over by then, or the call made again. */
  #turn(live: LiveRun, work: (run: Run) => boolean): void {
    const { calls } = live;
    this.#turns.turn(
      live.name,
      () => {
        const run = this.#live.has(live.number) ? this.#runOf(live) : undefined;
        // <log>
        if (run === undefined || calls !== live.calls) this.#turns.log?.drop();
        // </log>
        if (run === undefined || calls !== live.calls) return false;
        return work(run);
      },
      (outcome) => {
        if (outcome.status !== 'done' && this.#runOf(live) !== undefined)
          this.#turns.run(live.name, () => this.#endOnly(live, { status: 'abandoned' }));
      },
    );
  }

  /** Forgets a start that was set aside. */
  #drop(name: string, aside: SetAside): void {
    // <doing>
    this.doing = { type: `${name}.drop` };
    // </doing>
    const { runs, waiting } = stateOf(this.#pending, name);
    this.#put(
      name,
      runs,
      waiting.filter((one) => one !== aside),
    );
  }

  /** Ends a run and changes nothing else. */
  #endOnly(live: LiveRun, ended: Ended): boolean {
    this.begin();
    this.#remove(live);
    this.#end(live, ended);
    return false;
  }

  #remove({ name, number }: Pick<LiveRun, 'name' | 'number'>): void {
    // <doing>
    this.doing = { ...(this.doing ?? { type: `${name}.end`, run: number }), ends: true };
    // </doing>
    const { runs, waiting } = stateOf(this.#pending, name);
    this.#put(
      name,
      runs.filter((run) => run.number !== number),
      waiting,
    );
  }

  /** The value of an expression of a run; nothing if that throws: then the run ends. */
  #ask<T>(live: LiveRun, what: string, ask: (run: Run) => T): { readonly value: T } | undefined {
    try {
      return { value: ask(this.#runOf(live) as Run) };
    } catch (error) {
      this.#turns.report({ kind: 'task', at: `${live.name}.${what}`, error });
      // <every>
      live.isLast = true;
      // </every>
      this.#turn(live, (run) => this.#fail(live, run, errorOf('broken')));
      return undefined;
    }
  }

  // <times>
  #askMs(live: LiveRun, what: string, of: number | Ask, more?: object): number | undefined {
    return this.#ask(live, what, ({ payload, given }) => {
      const ms =
        typeof of === 'number'
          ? of
          : waitable(this.#host.ask(of, payload, { ...given, ...more }) as number);
      if (ms === undefined) throw new RangeError('No timer can wait as long as that.');
      return ms;
    })?.value;
  }
  // </times>

  #call(live: LiveRun): void {
    const plan = this.#plans[live.name] as TaskPlan;
    const { operation } = plan;
    if (operation === undefined) {
      this.#turn(live, (run) => this.#finish(live, run));
      return;
    }
    const asked = this.#ask(live, 'with', ({ payload, given }) =>
      plan.with === undefined ? payload : this.#host.ask(plan.with, payload, given),
    );
    if (asked === undefined) return;
    // <timeLimit>
    const { timeLimit } = plan;
    const limit = timeLimit === undefined ? undefined : this.#askMs(live, 'timeLimit', timeLimit);
    if (timeLimit !== undefined && limit === undefined) return;
    // </timeLimit>
    const check = this.#checks(live.name);
    // <log>
    const { log } = this.#turns;
    if (log !== undefined) live.call = log.called(operation);
    // </log>
    const caller = {
      answer: (result: unknown) => {
        // <log>
        this.#answers(live, result === undefined ? { end: true } : { result });
        // </log>
        this.#turn(live, (run) => this.#answered(live, run, result));
      },
      reject: (error: unknown) => {
        // <log>
        this.#answers(live, { error: rejectionOf(error, check) });
        // </log>
        this.#failed(live, rejectionOf(error, check));
      },
      fail: (kind: TaskError['kind']) => {
        // <log>
        if (kind === 'timeout') this.#turns.log?.from({ by: 'timer', cause: live.turn });
        else this.#answers(live, { end: true });
        // </log>
        this.#failed(live, errorOf(kind));
      },
      // <streams>
      value:
        check?.results &&
        ((value: unknown) => {
          // <log>
          this.#answers(live, { value });
          // </log>
          this.#turn(live, (run) => this.#value(live, run, value));
        }),
      // </streams>
    };
    // <timeLimit>
    makeCall(live, operation, asked.value, this.#services, caller, limit);
    //- makeCall(live, operation, asked.value, this.#services, caller);
    // </timeLimit>
  }

  // <log>
  /** The next turn is what comes of a call. */
  #answers(live: LiveRun, answer: LogAnswer): void {
    this.#turns.log?.from({ by: 'answer', cause: live.turn, call: live.call, answer });
  }

  // </log>
  // <streams>
  /** One of many values. */
  #value(live: LiveRun, run: Run, value: unknown): boolean {
    const taken = judged(value, this.#checks(live.name), 'results');
    if (taken === undefined) {
      live.quit(true);
      return this.#lost(live, run, errorOf('bad result'));
    }
    try {
      const changed = this.#transact(() => {
        this.#perform(live.name, 'each', run, { result: taken.value });
      });
      live.attempt = 0;
      return changed;
    } catch (error) {
      live.quit(true);
      return this.#fail(live, run, this.#errorOf(live, 'each', error));
    }
  }
  // </streams>

  #answered(live: LiveRun, run: Run, result: unknown): boolean {
    const taken = judged(result, this.#checks(live.name), 'result');
    if (taken !== undefined) return this.#finish(live, run, { result: taken.value });
    return this.#lost(live, run, errorOf('bad result'));
  }

  #failed(live: LiveRun, error: TaskError): void {
    this.#turn(live, (run) => this.#lost(live, run, error));
  }

  /** A call has failed: it is made again, or the round has failed. */
  #lost(live: LiveRun, run: Run, error: TaskError): boolean {
    // <retry>
    if (this.#retries(live, error)) return false;
    // </retry>
    return this.#fail(live, run, error);
  }

  // <retry>
  /** Whether a call that has failed is made again. */
  #retries(live: LiveRun, error: TaskError): boolean {
    const { retry } = this.#plans[live.name] as TaskPlan;
    if (retry === undefined || live.attempt >= retry.times) return false;
    const more = { error, attempt: live.attempt + 1 };
    const { when } = retry;
    if (when !== undefined) {
      const wanted = this.#ask(live, 'retry', ({ payload, given }) =>
        this.#host.ask(when, payload, { ...given, ...more }),
      );
      if (wanted === undefined) return true;
      if (wanted.value !== true) return false;
    }
    const ms = this.#askMs(live, 'retry', retry.wait ?? 0, more);
    if (ms === undefined) return true;
    // <log>
    const { log } = this.#turns;
    if (log !== undefined)
      log.did = { type: `${live.name}.retry`, run: live.number, given: { error } };
    // </log>
    live.attempt += 1;
    this.#callAfter(live, ms);
    return true;
  }
  // </retry>

  #transact(act: () => void): boolean {
    return this.#turns.transact(this.#host.transaction(act));
  }

  #finish(live: LiveRun, run: Run, more?: object): boolean {
    try {
      return this.#round(live, { status: 'finished' }, () => {
        this.#perform(live.name, 'finish', run, more);
      });
    } catch (error) {
      return this.#fail(live, run, this.#errorOf(live, 'finish', error));
    }
  }

  #errorOf({ name }: LiveRun, moment: string, error: unknown): TaskError {
    if (error instanceof Refusal) return { ...errorOf('refused'), message: error.reason };
    this.#turns.report({ kind: 'task', at: `${name}.${moment}`, error });
    return errorOf('broken');
  }

  #fail(live: LiveRun, run: Run, error: TaskError): boolean {
    const ended: Ended = { status: 'failed', error };
    try {
      return this.#round(live, ended, () => {
        this.#perform(live.name, 'fail', run, { error });
      });
    } catch (thrown) {
      if (!(thrown instanceof Refusal)) this.#errorOf(live, 'fail', thrown);
      return this.#endOnly(live, ended);
    }
  }

  /** The end of a round is a transaction; that of the last is the end of the run. */
  #round(live: LiveRun, ended: Ended, act: () => void): boolean {
    // <every>
    const { every } = this.#plans[live.name] as TaskPlan;
    if (every !== undefined && !live.isLast) {
      const goesOn = this.#transact(act);
      live.attempt = 0;
      this.#then = () => {
        const ms = this.#askMs(live, 'every', every);
        if (ms === undefined) return;
        live.after(ms, () => {
          // <log>
          this.#turns.log?.from({ by: 'timer', cause: live.turn });
          // </log>
          this.#turn(live, (run) => this.#repeat(live, run));
        });
      };
      return goesOn;
    }
    // </every>
    const changed = this.#transact(() => {
      act();
      this.#remove(live);
    });
    this.#end(live, ended);
    return changed;
  }

  // <every>
  #startAgain(name: string, run: Run): void {
    const given = this.#host.perform(`${name}.start`, run.payload, {}) ?? {};
    // <doing>
    this.doing = { type: `${name}.start`, run: run.number };
    // </doing>
    const { runs, waiting } = stateOf(this.#pending, name);
    this.#put(
      name,
      runs.map((one) => (one === run ? { ...run, given } : one)),
      waiting,
    );
  }

  #repeat(live: LiveRun, run: Run): boolean {
    const { name } = live;
    try {
      const changed = this.#transact(() => {
        this.#startAgain(name, run);
      });
      this.#then = () => {
        this.#call(live);
      };
      return changed;
    } catch (error) {
      return this.#endOnly(live, { status: 'failed', error: this.#errorOf(live, 'start', error) });
    }
  }
  // </every>

  // <auto>
  /** At creation: what starts by itself. */
  create(): void {
    this.#turns.turn(
      '',
      () => {
        // <log>
        this.#turns.log?.drop();
        // </log>
        // <lazy>
        this.follow();
        //- this.follow(true);
        // </lazy>
        return false;
      },
      () => undefined,
    );
  }

  /** After a commit: tasks that follow something, if that has changed. */
  // <lazy>
  follow(): void {
    this.#following.follow();
  }
  // </lazy>
  // <!lazy>
  //+ follow(isFirst = false): void {
  //+   this.#following.follow(isFirst);
  //+ }
  // </!lazy>

  #cancelLater(name: string): void {
    this.#unasked(`${name}.cancel`, () =>
      this.#transact(() => {
        this.#cancel(name);
      }),
    );
  }
  // </auto>

  // <replay>
  /** What is kept when something is done again: what goes on after it. `act` does an action. */
  replay(from: TaskStates, action: RecordedAction, act: () => void): TaskStates {
    this.states = from;
    this.#transact(() => {
      this.#replay(action, act);
    });
    return (this.states = this.#pending);
  }

  #replay(
    { type, payload, run: number = 1, given, ends, isAside }: RecordedAction,
    act: () => void,
  ) {
    const [store = '', task = '', what] = type.split('.');
    const name = `${store}.${task}`;
    if (!Object.hasOwn(this.#plans, name)) {
      act();
      return;
    }
    const { runs, waiting } = stateOf(this.#pending, name);
    const run = runs.find((one) => one.number === number);
    const aside = nextOf(runs, waiting);
    if (what === undefined) {
      this.#numbers = number - 1;
      if (isAside !== true) this.#begin(name, payload);
      else if (aside !== undefined) this.#begin(name, aside.payload, aside);
    } else if (what === 'cancel') this.#cancel(name, ...(payload === undefined ? [] : [payload]));
    else if (what === 'drop') {
      if (aside !== undefined) this.#drop(name, aside);
    } else if (run !== undefined) {
      // <every>
      if (what === 'start') this.#startAgain(name, run);
      // </every>
      if (what !== 'start' && what !== 'end') this.#perform(name, what, run, given);
      if (ends === true) this.#remove({ name, number });
    }
  }
  // </replay>

  /** Everything is abandoned. */
  close(): void {
    const names = Object.keys(this.#plans);
    const before = this.states;
    this.states = this.#pending = {};
    for (const name of names)
      for (const live of [...this.#live.values()])
        if (live.name === name) this.#end(live, { status: 'abandoned' });
    for (const name of names) {
      for (const { tell } of stateOf(before, name).waiting)
        tell({ status: 'refused', reason: 'closed' });
      this.#host.changed?.(name);
    }
  }
}

// <log>
/** The task in `timetable.load.finish`. */
const taskIn = (type = ''): string => type.split('.').slice(0, 2).join('.');

// </log>
const stateOf = (states: TaskStates, name: string): TaskState => states[name] ?? idle;

/** The oldest of the starts that are set aside and meet no run. */
const nextOf = (runs: readonly Run[], waiting: readonly SetAside[]): SetAside | undefined =>
  waiting.find((one) => !runs.some((run) => same(run.per, one.per)));

const has = ({ runs }: TaskState, number: number): boolean =>
  runs.some((run) => run.number === number);

const areSame = (one: readonly unknown[], other: readonly unknown[]): boolean =>
  one.length === other.length && one.every((item, i) => item === other[i]);

const payloadsOf = (of: readonly { readonly payload: unknown }[]): readonly unknown[] =>
  of.map(({ payload }) => payload ?? null);

/** A value, or the one before if that is equal. */
const kept = <T>(before: T, now: T): T => (same(before, now) ? before : now);

/** The outcome that a start has in the end: one that was set aside is queued once more. */
const last = (outcome: StartOutcome): StartOutcome | Promise<StartOutcome> =>
  outcome.status === 'queued' ? outcome.outcome : outcome;

/** A time to wait, in whole milliseconds; nothing if no timer can wait like that. */
function waitable(ms: number): number | undefined {
  return ms >= 0 && ms <= 2_147_483_647 ? Math.ceil(ms) : undefined;
}
