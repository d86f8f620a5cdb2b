// Work that takes its time. What goes on is part of a transaction, kept or dropped with it; calls and timers are around it.
import { errorOf, judged, rejectionOf } from './answers.js';
import { LiveRun, makeCall, type Caller, type GivenServices } from './call.js';
import { handOver, type Engine } from './engine.js';
import { misfit } from './judging.js';
import { waitable, type Run, type Runner, type TaskPlan } from './task-plan.js';
import type {
  Ended,
  StartOutcome,
  TaskError,
  TaskOptions,
  TaskReadings,
  Timers,
} from './task-outcomes.js';
import { Refusal, refuse, type Capability, type Outcome } from './transaction.js';
import type { TaskCheck } from './value-types.js';
import { freeze, same } from './values.js';

/** A start that waits for the end of a run. */
export interface SetAside {
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

/** What browsers and servers alike have, whatever types of theirs the compiler knows. */
const platform = globalThis as unknown as Timers;

const idle: TaskState = {
  runs: [],
  waiting: [],
  readings: Object.freeze({ running: false, runs: Object.freeze([]), waiting: Object.freeze([]) }),
};

/** The tasks of an application. */
export class Tasks implements Capability, Runner {
  readonly engine: Engine;
  /** By full name, in the order of their stores. */
  plans: Record<string, TaskPlan> = {};
  /** What goes on, as it was committed, and as the transaction under way has made it. */
  states: TaskStates = {};
  pending: TaskStates = {};
  /** The number of the run that was started last. */
  protected numbers = 0;
  /** What is done with the commit of the transaction under way. */
  #then: (() => void) | undefined;
  #waitMs = 0;
  readonly #services: GivenServices;
  readonly #timers: Timers;
  readonly #live = new Map<number, LiveRun>();
  /** The set-aside start whose turn it is. */
  #turning: SetAside | undefined;

  constructor(engine: Engine, { services = {}, timers = platform }: TaskOptions) {
    this.engine = engine;
    this.#services = services as GivenServices;
    this.#timers = timers;
    handOver(engine, this);
  }

  checkOf(task: string): TaskCheck | undefined {
    const [store = '', name = ''] = task.split('.');
    return this.engine.checks[store]?.tasks?.[name];
  }

  /** What can be read of a task. */
  readings(name: string): TaskReadings {
    return stateOf(this.states, name).readings;
  }

  /** Starts a task, or has it wait for its turn. */
  start(name: string, payload?: unknown): StartOutcome {
    let begun: StartOutcome | undefined;
    const work = this.engine.transaction((accepted) => (begun = this.startWith(name, accepted)));
    const tell = (outcome: Outcome): StartOutcome =>
      outcome.status === 'queued'
        ? { status: 'queued', outcome: outcome.outcome.then(tell).then(last) }
        : outcome.status === 'done'
          ? (begun as StartOutcome)
          : outcome;
    return tell(this.engine.turns.take(`${name}.start`, payload, this.checkOf(name), work));
  }

  /** Abandons the runs of a task, or with `per` those of one value. */
  cancel(name: string, ...per: readonly unknown[]): Outcome {
    const work = this.engine.transaction(() => {
      this.abandonOf(name, ...per);
    });
    return this.engine.turns.take(`${name}.cancel`, undefined, undefined, work);
  }

  protected abandonOf(name: string, ...per: readonly unknown[]): void {
    this.abandon([name], ...per);
  }

  /** Asks for a start after the transaction. */
  readonly ask = (name: string, payload?: unknown): void => {
    const go = (): void => {
      this.#later(name, payload);
    };
    this.engine.turns.asked.push({ name, payload, go });
  };

  /** Sets how long the start under way waits before its call. */
  readonly delay = (ms: number): void => {
    this.#waitMs = waitable(ms) ?? refuse('does not fit');
  };

  /** Abandons runs within a transaction, with what is set aside and what was asked for. */
  readonly abandon = (names: readonly string[], ...per: readonly unknown[]): void => {
    const isMeant = (one: { readonly per: unknown }) => per.length === 0 || same(one.per, per[0]);
    const { turns } = this.engine;
    const gone = names.flatMap((name) => {
      const { runs, waiting } = stateOf(this.pending, name);
      this.put(
        name,
        runs.filter((one) => !isMeant(one)),
        waiting.filter((one) => !isMeant(one)),
      );
      turns.asked = turns.asked.filter(
        (asked) => asked.name !== name || !isMeant({ per: this.#perOf(name, asked.payload) }),
      );
      return runs.filter(isMeant).map((run) => ({ name, run }));
    });
    gone.sort((a, b) => a.run.number - b.run.number);
    for (const { name, run } of gone) this.perform(name, 'cancel', run);
  };

  attached(placeOf: (name: string) => number): void {
    const sorted = Object.entries(this.plans).sort(([a], [b]) => placeOf(a) - placeOf(b));
    this.plans = Object.fromEntries(sorted);
  }

  begin(): void {
    this.pending = this.states;
    this.#then = undefined;
  }

  /** Keeps what a transaction has made of the tasks, with all that follows; whether anything is new. */
  keep(): boolean {
    const before = this.states;
    this.states = this.pending;
    this.kept();
    const gone: LiveRun[] = [];
    for (const name of before === this.states ? [] : Object.keys(this.plans)) {
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
    }
    if (before !== this.states) this.engine.renew();
    gone.sort((a, b) => a.number - b.number);
    for (const live of gone) this.#end(live, { status: 'abandoned' });
    const then = this.#then;
    this.#then = undefined;
    then?.();
    return before !== this.states;
  }

  /** What a transaction has made of the tasks is kept. */
  protected kept(): void {
    // Nobody notes it.
  }

  protected put(name: string, runs: readonly Run[], waiting: readonly SetAside[]): void {
    const old = stateOf(this.pending, name);
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
      readings: this.engine.turns.guard ? freeze(kept(readings, next)) : kept(readings, next),
    };
    this.pending = { ...this.pending, [name]: state };
  }

  perform(name: string, moment: string, { payload, given }: Run, more?: object): void {
    this.engine.perform(`${name}.${moment}`, payload, { ...given, ...more });
  }

  #perOf(name: string, payload: unknown): unknown {
    const per = this.plans[name]?.per;
    return per && this.engine.ask(per, payload, {});
  }

  /** Starts a task within a transaction; `from`: its start was set aside. */
  protected startWith(name: string, payload: unknown, from?: SetAside): StartOutcome {
    const { overlap = 'latest', wait = 0 } = this.plans[name] as TaskPlan;
    const per = this.#perOf(name, payload);
    const others = stateOf(this.pending, name).runs.filter((run) => same(run.per, per));
    if (others.length > 0) {
      if (overlap === 'first') refuse('running');
      if (overlap === 'queue') return this.setAside(name, payload, per);
    }
    this.#waitMs = wait;
    const given = this.engine.perform(`${name}.start`, payload, {}) ?? {};
    const waitMs = this.#waitMs;
    const run: Run = { number: (this.numbers += 1), payload, given, per };
    const { runs, waiting } = stateOf(this.pending, name);
    const left = overlap === 'latest' ? runs.filter((one) => !others.includes(one)) : runs;
    this.put(
      name,
      [...left, run],
      waiting.filter((one) => one !== from),
    );
    const ended = new Promise<Ended>((settle) => {
      const live = new LiveRun(name, run.number, this.#timers, settle);
      this.#then = () => {
        this.goOn(live, waitMs);
      };
    });
    return { status: 'done', ended };
  }

  protected setAside(name: string, payload: unknown, per: unknown): StartOutcome {
    const { runs, waiting } = stateOf(this.pending, name);
    const outcome = new Promise<StartOutcome>((tell) => {
      this.put(name, runs, [...waiting, { payload, per, tell }]);
    });
    return { status: 'queued', outcome };
  }

  /** A run that was started goes on to its call. */
  protected goOn(live: LiveRun, waitMs: number): void {
    this.#live.set(live.number, live);
    this.#callAfter(live, waitMs);
  }

  /** A start that a step has asked for, or nobody. */
  #later(name: string, payload: unknown): void {
    // Of a store that is not attached: refused, and nobody hears of it.
    if (!Object.hasOwn(this.plans, name)) return;
    const { payload: type, default: otherwise } = this.checkOf(name) ?? {};
    const given = payload ?? otherwise;
    const start = (): boolean =>
      this.transact(() => {
        const found = type === undefined ? undefined : misfit(given, type);
        if (found !== undefined) refuse('does not fit', `/payload${found}`);
        this.startWith(name, given);
      });
    this.#unasked(`${name}.start`, start);
  }

  /** A task starts by itself. */
  startUnasked(name: string, payload?: unknown): void {
    this.#later(name, payload);
  }

  /** The runs of a task are abandoned, since what it follows is over. */
  cancelUnasked(name: string): void {
    this.#unasked(`${name}.cancel`, () =>
      this.transact(() => {
        this.abandonOf(name);
      }),
    );
  }

  /** A turn that no caller has asked for: somebody hears of what does not fit. */
  #unasked(at: string, work: () => boolean): void {
    const { turns } = this.engine;
    turns.turn(at, work, (outcome) => {
      if (outcome.status === 'refused' && outcome.reason === 'does not fit')
        turns.report({ kind: 'task', at });
    });
  }

  /** The oldest of the starts that are set aside and meet no run has the next turn. */
  #next(name: string, { runs, waiting }: TaskState): void {
    const aside = nextOf(runs, waiting);
    if (aside === undefined) return;
    const { turns } = this.engine;
    let begun: StartOutcome | undefined;
    const work = this.engine.transaction<void>(
      () => (begun = this.startWith(name, aside.payload, aside)),
    );
    const settle = (outcome: Outcome): void => {
      this.#turning = undefined;
      aside.tell(outcome.status === 'done' ? (begun as StartOutcome) : (outcome as StartOutcome));
      if (outcome.status === 'done') return;
      this.#turning = aside;
      turns.run(name, () => {
        this.forget(name, aside);
        return false;
      });
      this.#turning = undefined;
    };
    const take = (): boolean => {
      this.#turning = aside;
      return turns.transact(work);
    };
    turns.turn(`${name}.start`, take, settle, true);
  }

  /** Makes the call of a run when a time is over: at once if there is none. */
  #callAfter(live: LiveRun, ms: number): void {
    const call = (): void => {
      this.call(live);
    };
    if (ms > 0) live.after(ms, this.timed(live, call));
    else call();
  }

  /** Something that a timer does for a run: it makes its call, or a turn. */
  timed(_live: LiveRun, work: () => void): () => void {
    return work;
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
  turn(live: LiveRun, work: (run: Run) => boolean): void {
    const { calls } = live;
    const { turns } = this.engine;
    turns.turn(
      live.name,
      () => {
        const run = this.#live.has(live.number) ? this.#runOf(live) : undefined;
        return run === undefined || calls !== live.calls ? this.late() : work(run);
      },
      (outcome) => {
        if (outcome.status !== 'done' && this.#runOf(live) !== undefined)
          turns.run(live.name, () => this.#endOnly(live, { status: 'abandoned' }));
      },
    );
  }

  /** A turn comes too late: it changes nothing. */
  late(): boolean {
    return false;
  }

  /** Forgets a start that was set aside. */
  protected forget(name: string, aside: SetAside): void {
    const { runs, waiting } = stateOf(this.pending, name);
    this.put(
      name,
      runs,
      waiting.filter((one) => one !== aside),
    );
  }

  endWith(live: LiveRun, error: TaskError): boolean {
    return this.#endOnly(live, { status: 'failed', error });
  }

  /** Ends a run and changes nothing else. */
  #endOnly(live: LiveRun, ended: Ended): boolean {
    this.engine.turns.begin();
    this.remove(live);
    this.#end(live, ended);
    return false;
  }

  /** A run is no more among those that go on. */
  protected remove({ name, number }: Pick<LiveRun, 'name' | 'number'>): void {
    const { runs, waiting } = stateOf(this.pending, name);
    this.put(
      name,
      runs.filter((run) => run.number !== number),
      waiting,
    );
  }

  find<T>(live: LiveRun, what: string, ask: (run: Run) => T): { readonly value: T } | undefined {
    try {
      return { value: ask(this.#runOf(live) as Run) };
    } catch (error) {
      this.engine.turns.report({ kind: 'task', at: `${live.name}.${what}`, error });
      live.isLast = true;
      this.turn(live, (run) => this.fail(live, run, errorOf('broken')));
      return undefined;
    }
  }

  answer(of: Parameters<Engine['ask']>[0], { payload, given }: Run, more?: object): unknown {
    return this.engine.ask(of, payload, { ...given, ...more });
  }

  call(live: LiveRun): void {
    const plan = this.plans[live.name] as TaskPlan;
    const { operation, timeLimit } = plan;
    if (operation === undefined) {
      this.turn(live, (run) => this.#finish(live, run));
      return;
    }
    const asked = this.find(live, 'with', (run) =>
      plan.with === undefined ? run.payload : this.answer(plan.with, run),
    );
    if (asked === undefined) return;
    const limit = timeLimit?.(this, live);
    if (timeLimit !== undefined && limit === undefined) return;
    this.calls(live, operation);
    makeCall(
      live,
      operation,
      asked.value,
      this.#services,
      this.callerOf(live),
      limit,
      plan.stream?.listen,
    );
  }

  /** A call is about to be made. */
  protected calls(_live: LiveRun, _operation: string): void {
    // Nobody notes it.
  }

  /** Who is told what comes of the call of a run. */
  protected callerOf(live: LiveRun): Caller {
    const plan = this.plans[live.name] as TaskPlan;
    const failed = (error: TaskError): void => {
      this.turn(live, (run) => this.lost(live, run, error));
    };
    return {
      answer: (result) => {
        this.turn(live, (run) => this.#answered(live, run, result));
      },
      reject: (error) => {
        failed(rejectionOf(error, this.checkOf(live.name)));
      },
      fail: (kind) => {
        failed(errorOf(kind));
      },
      value: (value) => {
        this.turn(live, (run) => plan.stream?.take(this, live, run, value) === true);
      },
    };
  }

  judged(live: LiveRun, value: unknown, part: 'result' | 'results') {
    return judged(value, this.checkOf(live.name), part);
  }

  #answered(live: LiveRun, run: Run, result: unknown): boolean {
    const taken = this.judged(live, result, 'result');
    if (taken !== undefined) return this.#finish(live, run, { result: taken.value });
    return this.lost(live, run, errorOf('bad result'));
  }

  lost(live: LiveRun, run: Run, error: TaskError): boolean {
    if (this.plans[live.name]?.retry?.(this, live, error) === true) return false;
    return this.fail(live, run, error);
  }

  callAgain(live: LiveRun, ms: number, _error: TaskError): void {
    live.attempt += 1;
    this.#callAfter(live, ms);
  }

  transact(act: () => void): boolean {
    return this.engine.turns.transact(this.engine.transaction(act));
  }

  #finish(live: LiveRun, run: Run, more?: object): boolean {
    try {
      return this.#round(live, { status: 'finished' }, () => {
        this.perform(live.name, 'finish', run, more);
      });
    } catch (error) {
      return this.fail(live, run, this.errorOf(live, 'finish', error));
    }
  }

  errorOf({ name }: LiveRun, moment: string, error: unknown): TaskError {
    if (error instanceof Refusal) return { ...errorOf('refused'), message: error.reason };
    this.engine.turns.report({ kind: 'task', at: `${name}.${moment}`, error });
    return errorOf('broken');
  }

  fail(live: LiveRun, run: Run, error: TaskError): boolean {
    const ended: Ended = { status: 'failed', error };
    try {
      return this.#round(live, ended, () => {
        this.perform(live.name, 'fail', run, { error });
      });
    } catch (thrown) {
      if (!(thrown instanceof Refusal)) this.errorOf(live, 'fail', thrown);
      return this.#endOnly(live, ended);
    }
  }

  /** The end of a round is a transaction; that of the last is the end of the run. */
  #round(live: LiveRun, ended: Ended, act: () => void): boolean {
    const { every } = this.plans[live.name] as TaskPlan;
    if (every !== undefined && !live.isLast) return every(this, live, act);
    const changed = this.transact(() => {
      act();
      this.remove(live);
    });
    this.#end(live, ended);
    return changed;
  }

  then(work: () => void): void {
    this.#then = work;
  }

  restart(name: string, run: Run): void {
    const given = this.engine.perform(`${name}.start`, run.payload, {}) ?? {};
    const { runs, waiting } = stateOf(this.pending, name);
    this.put(
      name,
      runs.map((one) => (one === run ? { ...run, given } : one)),
      waiting,
    );
  }

  /** Everything is abandoned. */
  close(): void {
    const names = Object.keys(this.plans);
    const before = this.states;
    this.states = this.pending = {};
    for (const name of names)
      for (const live of [...this.#live.values()])
        if (live.name === name) this.#end(live, { status: 'abandoned' });
    for (const name of names)
      for (const { tell } of stateOf(before, name).waiting)
        tell({ status: 'refused', reason: 'closed' });
    this.engine.renew();
  }
}

export const stateOf = (states: TaskStates, name: string): TaskState => states[name] ?? idle;

/** The oldest of the starts that are set aside and meet no run. */
export const nextOf = (runs: readonly Run[], waiting: readonly SetAside[]): SetAside | undefined =>
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
