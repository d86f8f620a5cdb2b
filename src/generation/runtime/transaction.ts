// What becomes of an action: done, refused, broken, or queued while another is under way.
import { Misfit } from './judging.js';
import type { PayloadCheck } from './value-types.js';
import { guardByDefault } from './guard.js';

/** The outcome of an action. */
export type Outcome =
  | { readonly status: 'done' }
  | {
      readonly status: 'refused';
      readonly reason: string;
      /** What does not fit, as a JSON Pointer: `/payload/plate`. */
      readonly at?: string;
    }
  /** An expression or the environment threw. */
  | { readonly status: 'broken'; readonly action: string }
  | { readonly status: 'queued'; readonly outcome: Promise<Outcome> };

/** What went wrong where no caller can be told. */
export interface Problem {
  readonly kind: 'action' | 'payload' | 'task' | 'derived' | 'watcher' | 'storage' | 'unsettled';
  readonly at: string;
  /** What of a payload does not fit, as a JSON Pointer: `/payload/plate`. */
  readonly pointer?: string;
  readonly error?: unknown;
}

/** Where identifiers, time and problems come from and go to; the platform's own if not given. */
export interface EngineOptions {
  readonly newId?: () => string;
  readonly now?: () => number;
  readonly random?: () => number;
  readonly onProblem?: (problem: Problem) => void;
  /** True if snapshots are frozen, so that who writes to one is told at once. */
  readonly guard?: boolean;
}

/** What an action may ask for. The time is asked for once in a transaction, and stays. */
export interface Tools {
  readonly newId: () => string;
  readonly now: () => number;
  readonly random: () => number;
}

/** What browsers and servers alike have, whatever types of theirs the compiler knows. */
const platform = globalThis as unknown as { readonly console: { error(problem: Problem): void } };

/** What a transaction is called that takes in what is saved: it is nothing that undo takes back. */
export const takenIn = 'storage.saved';

/** Why an action of a store is refused that is not attached. */
export const notAttached = 'not attached';

/** The reason where nothing stands. */
export const missing = 'not found';

/** What an action throws that is refused: nothing of it is kept. It is caught here, and needs no stack of its own. */
export class Refusal {
  readonly reason: string;
  readonly at: string | undefined;

  constructor(reason: string, at?: string) {
    this.reason = reason;
    this.at = at;
  }
}

/** Refuses the action that is under way. */
export function refuse(reason: string, at?: string): never {
  throw new Refusal(reason, at);
}

const mostTurns = 1000;

const done: Outcome = Object.freeze({ status: 'done' });

const unsettled: Outcome = Object.freeze({ status: 'refused', reason: 'does not settle' });

const closed: Outcome = Object.freeze({ status: 'refused', reason: 'closed' });

/** What a capability is told of transactions; capabilities are told in the order in which they were handed over. */
export interface Capability {
  /** A transaction begins, of an action if it is named: what an earlier one has made and not kept is forgotten. */
  begin?(action: string, payload: unknown): void;
  /** A transaction is kept, and has changed a state or not; returns whether more that can be read is new. */
  keep?(action: string, changed: boolean): boolean;
  /** Those who watch were told of what a transaction has changed. */
  told?(): void;
  /** A store was attached; `placeOf` gives the place of something by its name: that of its store. */
  attached?(placeOf: (name: string) => number): void;
  /** The stores are closed. */
  close?(): void;
}

/** Who notes each turn as it goes on: a log. */
export interface Recorder {
  /** A turn is asked for, by a caller or not; while another is under way, or not. What it gives is given to `begin`. */
  asked(name: string, payload: unknown, isBusy: boolean, isCalled: boolean): object;
  begin(asked: object): void;
  accepted(payload: unknown): void;
  drew(what: keyof Tools, drawn: unknown): void;
  /** An action is done, or the moment of a task; or a store reacts to one. */
  include(name: string): void;
  end(outcome: Outcome): void;
}

/** Something to be done after the transaction that asked for it. */
export interface Later {
  readonly name: string;
  readonly payload?: unknown;
  readonly go: () => void;
}

interface Turn {
  readonly action: string;
  readonly work: () => boolean;
  readonly settle: (outcome: Outcome) => void;
  readonly asked: object | undefined;
}

/** Takes actions one after the other: one that is sent while another is under way waits for its turn. */
export class Turns {
  readonly guard: boolean;
  readonly tools: Tools;
  /** True if an action is under way; not while it asks the environment, which sees what outsiders see. */
  isActing = false;
  readonly #onProblem: (problem: Problem) => void;
  readonly #notify: () => void;
  readonly #waiting: Turn[] = [];
  #isBusy = false;
  /** What is told of transactions. */
  readonly capabilities: Capability[] = [];
  /** What the transaction under way has asked for. */
  asked: Later[] = [];
  log: Recorder | undefined;
  /** Told of what is done that is no action: `deck.undo`. */
  does: ((name: string, payload?: unknown) => void) | undefined;
  #newId: (() => string) | undefined;
  #isClosed = false;
  #close: (() => void) | undefined;
  #now: number | undefined;

  /** `notify` tells the watchers, after each action that changed something. */
  constructor(options: EngineOptions, notify: () => void) {
    this.#newId = options.newId;
    const now = options.now ?? Date.now;
    const random = options.random ?? Math.random;
    this.guard = options.guard ?? guardByDefault();
    this.#onProblem = options.onProblem ?? ((problem) => platform.console.error(problem));
    this.#notify = notify;
    this.tools = {
      newId: () => this.#outside('newId', this.#newId as () => string),
      now: () => (this.#now ??= this.#outside('now', now)),
      random: () => this.#outside('random', random),
    };
  }

  /** Has identifiers drawn like that, unless it was said how. */
  drawIds(newId: () => string): void {
    this.#newId ??= newId;
  }

  /** Runs code of the user's in the middle of an action: it sees what was committed, and can write nothing. */
  #outside<T>(what: keyof Tools, ask: () => T): T {
    const wasActing = this.isActing;
    this.isActing = false;
    try {
      const drawn = ask();
      this.log?.drew(what, drawn);
      return drawn;
    } finally {
      this.isActing = wasActing;
    }
  }

  /**
   * Does an action: `act` does it on the payload, judged if there is a check, and `commit` keeps it or refuses; it
   * returns whether that changed anything. `drop` forgets what was done so far.
   */
  take<P>(
    action: string,
    payload: unknown,
    check: PayloadCheck | undefined,
    work: Transaction<P>,
  ): Outcome {
    if (this.#isClosed) return closed;
    const run = () => this.#transaction(action, payload, check, work);
    const asked = this.log?.asked(action, payload, this.#isBusy, true);
    if (this.#isBusy) {
      const outcome = new Promise<Outcome>((settle) => {
        this.#waiting.push({ action, work: run, settle, asked });
      });
      return { status: 'queued', outcome };
    }
    let ended = closed;
    const settle = (outcome: Outcome) => (ended = outcome);
    this.#go({ action, work: run, settle, asked }, 0);
    return ended;
  }

  /** A turn that no caller waits for, before all else if it is the next; `settle` is told what became of it. */
  turn(
    action: string,
    work: () => boolean,
    settle: (outcome: Outcome) => void = () => undefined,
    isNext = false,
  ): void {
    if (this.#isClosed) return;
    const asked = this.log?.asked(action, undefined, this.#isBusy, false);
    const turn = { action, work, settle, asked };
    if (!this.#isBusy) this.#go(turn, 1);
    else if (isNext) this.#waiting.unshift(turn);
    else this.#waiting.push(turn);
  }

  /** A transaction of the turn that is under way; throws if it is not kept. */
  transact(work: Transaction<void>): boolean {
    return this.#transaction('', undefined, undefined, work);
  }

  /** From the end of this turn on all is refused. */
  close(end: () => void): void {
    if (this.#isClosed || this.#close !== undefined) return;
    this.#close = () => {
      this.#isClosed = true;
      for (const capability of this.capabilities) capability.close?.();
      end();
      for (const { settle } of this.#waiting.splice(0)) settle(closed);
    };
    if (!this.#isBusy) this.#close();
  }

  /** Does a turn, and all that wait for theirs: `turns` were done before it. */
  #go(first: Turn, turns: number): void {
    this.#isBusy = true;
    try {
      for (let next: Turn | undefined = first; next !== undefined; next = this.#waiting.shift()) {
        const { action, work, settle, asked } = next;
        if (turns === mostTurns) this.report({ kind: 'unsettled', at: first.action });
        if (asked !== undefined) this.log?.begin(asked);
        const outcome = turns < mostTurns ? this.run(action, work) : unsettled;
        if (asked !== undefined) this.log?.end(outcome);
        settle(outcome);
        turns += 1;
        if (!this.#isClosed) this.#close?.();
      }
    } finally {
      this.#isBusy = false;
    }
  }

  /** All that an earlier transaction has left is forgotten. */
  begin(action = '', payload?: unknown): void {
    if (this.asked.length > 0) this.asked = [];
    for (const capability of this.capabilities) capability.begin?.(action, payload);
  }

  #transaction<P>(
    action: string,
    payload: unknown,
    check: PayloadCheck | undefined,
    work: Transaction<P>,
  ): boolean {
    const accepted = check === undefined ? payload : this.#accept(action, payload, check);
    // A text that was converted is logged as it came.
    if (check !== undefined && check.from === undefined) this.log?.accepted(accepted);
    this.#now = undefined;
    this.begin(action, accepted);
    try {
      this.isActing = true;
      work.act(accepted as P);
      this.isActing = false;
      return work.commit();
    } catch (error) {
      this.isActing = false;
      work.drop?.();
      throw error;
    }
  }

  /** A payload as the stores keep it: copied, converted and judged; or the action is refused. */
  #accept(
    action: string,
    given: unknown,
    { payload: type, extra, from, tidy, default: otherwise }: PayloadCheck,
  ): unknown {
    if (type === undefined) return given === undefined ? otherwise : tidy ? tidy(given) : given;
    if (given === undefined && otherwise !== undefined) return otherwise;
    const whole = extra === undefined ? given : extra(given, type);
    const payload = type.judge(from === undefined ? whole : from(whole, type), true);
    if (!(payload instanceof Misfit)) return payload;
    const pointer = `/payload${payload.at}`;
    // The compiler lets wider values through, so while an application is developed somebody hears of it.
    if (this.guard) this.report({ kind: 'payload', at: action, pointer });
    return refuse('does not fit', pointer);
  }

  /** Does something in the turn that is under way, with the commit and the notices that follow. */
  run(action: string, work: () => boolean): Outcome {
    let changed: boolean;
    this.begin();
    try {
      changed = work();
    } catch (error) {
      if (error instanceof Refusal) {
        const { reason, at } = error;
        return at === undefined ? { status: 'refused', reason } : { status: 'refused', reason, at };
      }
      this.report({ kind: action.split('.').length > 2 ? 'task' : 'action', at: action, error });
      return { status: 'broken', action };
    }
    if (this.asked.length > 0) for (const { go } of this.asked.splice(0)) go();
    for (const capability of this.capabilities)
      if (capability.keep?.(action, changed) === true) changed = true;
    if (changed) this.#notify();
    for (const capability of this.capabilities) capability.told?.();
    return done;
  }

  report(problem: Problem): void {
    try {
      this.#onProblem(problem);
    } catch {
      // What onProblem throws is dropped: there is nobody left to tell.
    }
  }
}

/** What an action does to the stores of a style. */
export interface Transaction<P> {
  act(payload: P): void;
  commit(): boolean;
  drop?(): void;
}
