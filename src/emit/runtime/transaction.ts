// What becomes of an action: done, refused, broken, or queued while another is under way.
import { misfit, noteJudged } from './fitting.js';
import type { PayloadCheck } from './value-types.js';
import { guardByDefault } from './guard.js';
// <log>
import { Log, type Asked, type LoggedSchema, type LogSink } from './log.js';
// </log>
import { takeIn } from './taking-in.js';

/** What became of an action. */
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

// <tasks>
/** What became of the start of a task: `ended` tells how the run ended, and never rejects. */
export type StartOutcome =
  | Exclude<Outcome, { readonly status: 'done' | 'queued' }>
  | { readonly status: 'done'; readonly ended: Promise<Ended> }
  | { readonly status: 'queued'; readonly outcome: Promise<StartOutcome> };

/** How a run of a task ended. */
export interface Ended {
  readonly status: 'finished' | 'failed' | 'abandoned';
  readonly error?: TaskError;
}

/** Why a run failed. */
export interface TaskError<Data = unknown> {
  readonly kind: 'rejected' | 'timeout' | 'bad result' | 'broken' | 'refused';
  readonly message: string;
  /** What the rejection carried, if it fits. */
  readonly data: Data | null;
}

// </tasks>
/** What went wrong where no caller can be told. */
export interface Problem {
  // <begins>
  // <tasks>
  readonly kind: 'action' | 'payload' | 'task' | 'derived' | 'watcher' | 'storage' | 'unsettled';
  //- readonly kind: 'action' | 'payload' | 'derived' | 'watcher' | 'storage' | 'unsettled';
  // </tasks>
  // </begins>
  // <!begins>
  // <tasks>
  //+ readonly kind: "action" | "payload" | "task" | "derived" | "watcher" | "unsettled";
  //- readonly kind: "action" | "payload" | "derived" | "watcher" | "unsettled";
  // </tasks>
  // </!begins>
  readonly at: string;
  /** What of a payload does not fit, as a JSON Pointer: `/payload/plate`. */
  readonly pointer?: string;
  readonly error?: unknown;
}

/** Where identifiers, time and problems come from and go to; the platform's own if not given. */
export interface Options {
  readonly newId?: () => string;
  readonly now?: () => number;
  readonly random?: () => number;
  readonly onProblem?: (problem: Problem) => void;
  /** Whether snapshots are frozen, so that who writes to one is told at once. */
  readonly guard?: boolean;
  // <log>
  /** Where a line is written for each turn. */
  readonly log?: LogSink;
  /** What the first line of the log says of the schema. */
  readonly schema?: LoggedSchema;
  // </log>
  // <tasks>
  /** What is called, by service and operation. */
  readonly services?: object;
  readonly timers?: Timers;
  // </tasks>
  // <saved>
  /** Where saved data is kept: `localStorage` in a browser and nowhere elsewhere if not given, nowhere if `undefined`. */
  readonly storage?: SavedTexts | undefined;
  // </saved>
  // <given>
  /** The state to begin from, by store; stores that are missing, and what does not fit, begin with their defaults. */
  readonly state?: object | undefined;
  // </given>
}

// <saved>
/** Where saved data is kept: `localStorage` has this shape. */
export interface SavedTexts {
  getItem(key: string): string | null;
  setItem(key: string, text: string): void;
}

// </saved>
// <tasks>
/** What sets off something later; the platform's own functions have this shape. */
export interface Timers {
  readonly setTimeout: (run: () => void, ms: number) => unknown;
  readonly clearTimeout: (timer: never) => void;
}
// </tasks>

/** What an action may ask for. The time is asked for once in a transaction, and stays. */
export interface Tools {
  readonly newId: () => string;
  readonly now: () => number;
  readonly random: () => number;
}

/** What browsers and servers alike have, whatever types of theirs the compiler knows. */
interface Platform {
  readonly crypto?: { randomUUID?(): string; getRandomValues?(bytes: Uint8Array): unknown };
  readonly console: { error(problem: Problem): void };
}

const platform = globalThis as unknown as Platform;

/** A UUID of chance. Pages that were not loaded securely have no function for it, and some platforms no source of it. */
function uuid(): string {
  const { crypto } = platform;
  if (crypto?.randomUUID) return crypto.randomUUID();
  const bytes = new Uint8Array(16).map(() => Math.random() * 256);
  crypto?.getRandomValues?.(bytes);
  const hex = [...bytes].map((byte, i) => {
    const marked = i === 6 ? (byte & 15) | 64 : i === 8 ? (byte & 63) | 128 : byte;
    return marked.toString(16).padStart(2, '0');
  });
  return hex.join('').replace(/(.{8})(.{4})(.{4})(.{4})/, '$1-$2-$3-$4-');
}

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

// <log>
const unsettled: Outcome = Object.freeze({ status: 'refused', reason: 'does not settle' });

// </log>
const closed: Outcome = Object.freeze({ status: 'refused', reason: 'closed' });

// <tasks>
/** What is done for tasks: before a transaction, with its commit, and after its notices. */
interface Around {
  begin(): void;
  apply(): boolean;
  // <auto>
  follow(): void;
  // </auto>
  close(): void;
}

// </tasks>
// <history>
/** What is done for histories: before a transaction, and with its commit. */
interface Keeping {
  begin(): void;
  apply(action: string): boolean;
}

// </history>
// <saved>
/** What is done for what is saved: before a transaction, and with its commit. */
interface Saving {
  begin(): void;
  save(): void;
}

// </saved>
// <log>
/** Tells which watchers are called. */
interface Notifying {
  notified: ((name: string) => void) | undefined;
}

// </log>
interface Waiting {
  readonly action: string;
  readonly work: () => boolean;
  readonly settle: (outcome: Outcome) => void;
  // <log>
  readonly asked: Asked | undefined;
  // </log>
}

/** Takes actions one after the other: one that is sent while another is under way waits for its turn. */
export class Turns {
  readonly guard: boolean;
  readonly tools: Tools;
  /** Whether an action is under way; not while it asks the environment, which sees what outsiders see. */
  isActing = false;
  readonly #onProblem: (problem: Problem) => void;
  readonly #notify: () => void;
  readonly #waiting: Waiting[] = [];
  #isBusy = false;
  // <log>
  /** Where each turn is noted. */
  log: Log | undefined;
  // </log>
  // <tasks>
  /** What is done for tasks around each transaction. */
  tasks: Around | undefined;
  // </tasks>
  // <history>
  /** What is done for histories around each transaction. */
  histories: Keeping | undefined;
  // </history>
  // <saved>
  /** What is done for what is saved around each transaction. */
  saving: Saving | undefined;
  // </saved>
  #isClosed = false;
  #close: (() => void) | undefined;
  #now: number | undefined;

  /** `notify` tells the watchers, after each action that changed something. */
  constructor(options: Options, notify: () => void) {
    const newId = options.newId ?? uuid;
    const now = options.now ?? Date.now;
    const random = options.random ?? Math.random;
    this.guard = options.guard ?? guardByDefault();
    this.#onProblem = options.onProblem ?? ((problem) => platform.console.error(problem));
    this.#notify = notify;
    this.tools = {
      // <log>
      newId: () => this.#drawn(this.#outside(newId), 'drewId'),
      now: () => (this.#now ??= this.#drawn(this.#outside(now), 'drewTime')),
      random: () => this.#drawn(this.#outside(random), 'drewNumber'),
      //- newId: () => this.#outside(newId),
      //- now: () => (this.#now ??= this.#outside(now)),
      //- random: () => this.#outside(random),
      // </log>
    };
  }

  /** Runs code of the user's in the middle of an action: it sees what was committed, and can write nothing. */
  #outside<T>(ask: () => T): T {
    const wasActing = this.isActing;
    this.isActing = false;
    try {
      return ask();
    } finally {
      this.isActing = wasActing;
    }
  }

  // <log>
  /** Begins the log, with the state that `read` gives. */
  startLog({ log, schema }: Options, watchers: Notifying, read: () => object): void {
    if (log === undefined) return;
    this.log = new Log(log, schema, {
      read,
      onProblem: (error) => {
        this.report({ kind: 'watcher', at: 'log', error });
      },
    });
    watchers.notified = (name) => this.log?.notified(name);
  }

  /** What the environment gave, noted. */
  #drawn<T>(drawn: T, note: 'drewId' | 'drewTime' | 'drewNumber'): T {
    this.log?.[note](drawn as never);
    return drawn;
  }

  // </log>
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
    // <log>
    const asked = this.log?.asked(action, payload, this.#isBusy, true);
    // </log>
    if (this.#isBusy) {
      const outcome = new Promise<Outcome>((settle) => {
        // <log>
        this.#waiting.push({ action, work: run, settle, asked });
        //- this.#waiting.push({ action, work: run, settle });
        // </log>
      });
      return { status: 'queued', outcome };
    }
    this.#isBusy = true;
    try {
      // <log>
      const outcome = this.#logged(asked, () => this.#run(action, run));
      //- const outcome = this.#run(action, run);
      // </log>
      if (this.#waiting.length > 0 || this.#close !== undefined) this.#drain(action);
      return outcome;
    } finally {
      this.#isBusy = false;
    }
  }

  // <later>
  /** A turn that no caller waits for, before all else if it is the next; `settle` is told what became of it. */
  turn(
    action: string,
    work: () => boolean,
    settle: (outcome: Outcome) => void,
    isNext = false,
  ): void {
    if (this.#isClosed) return;
    // <log>
    const asked = this.log?.asked(action, undefined, this.#isBusy, false);
    const waiting = { action, work, settle, asked };
    //- const waiting = { action, work, settle };
    // </log>
    if (isNext) this.#waiting.unshift(waiting);
    else this.#waiting.push(waiting);
    if (this.#isBusy) return;
    this.#isBusy = true;
    try {
      this.#drain(action);
    } finally {
      this.#isBusy = false;
    }
  }

  // <tasks>
  /** Does something in the turn that is under way, with the commit and the notices that follow. */
  run(action: string, work: () => boolean): Outcome {
    return this.#run(action, work);
  }

  // </tasks>
  /** A transaction of the turn that is under way; throws if it is not kept. */
  transact(work: Transaction<void>): boolean {
    return this.#transaction('', undefined, undefined, work);
  }

  // </later>
  /** From the end of this turn on all is refused. */
  close(end: () => void): void {
    if (this.#isClosed || this.#close !== undefined) return;
    this.#close = () => {
      this.#isClosed = true;
      // <tasks>
      this.tasks?.close();
      // </tasks>
      end();
      // <log>
      this.log?.close();
      // </log>
      for (const { settle } of this.#waiting.splice(0)) settle(closed);
    };
    if (!this.#isBusy) this.#close();
  }

  // <log>
  /** Does a turn, and notes it. */
  #logged(asked: Asked | undefined, run: () => Outcome): Outcome {
    if (asked === undefined) return run();
    this.log?.begin(asked);
    const outcome = run();
    this.log?.end(outcome);
    return outcome;
  }

  // </log>
  #transaction<P>(
    action: string,
    payload: unknown,
    check: PayloadCheck | undefined,
    work: Transaction<P>,
  ): boolean {
    const accepted = check === undefined ? payload : this.#accept(action, payload, check);
    // <log>
    this.log?.again();
    // A text that was converted is logged as it came.
    if (check !== undefined && check.from === undefined) this.log?.accepted(accepted);
    // </log>
    this.#now = undefined;
    // <tasks>
    this.tasks?.begin();
    // </tasks>
    // <history>
    this.histories?.begin();
    // </history>
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
    const whole = takeIn(given);
    const taken = extra === undefined ? whole : extra(whole, type);
    const payload = from === undefined ? taken : from(taken, type);
    const found = misfit(payload, type);
    if (found === undefined) {
      noteJudged(payload, type);
      return payload;
    }
    const pointer = `/payload${found}`;
    // The compiler lets wider values through, so while an application is developed somebody hears of it.
    if (this.guard) this.report({ kind: 'payload', at: action, pointer });
    return refuse('does not fit', pointer);
  }

  #run(action: string, work: () => boolean): Outcome {
    let changed: boolean;
    // <tasks>
    this.tasks?.begin();
    // </tasks>
    // <history>
    this.histories?.begin();
    // </history>
    // <saved>
    this.saving?.begin();
    // </saved>
    try {
      changed = work();
    } catch (error) {
      if (error instanceof Refusal) {
        const { reason, at } = error;
        return at === undefined ? { status: 'refused', reason } : { status: 'refused', reason, at };
      }
      // <tasks>
      if (action.split('.').length > 2) {
        this.report({ kind: 'task', at: action, error });
        return { status: 'broken', action };
      }
      // </tasks>
      this.report({ kind: 'action', at: action, error });
      return { status: 'broken', action };
    }
    // <saved>
    if (changed) this.saving?.save();
    // </saved>
    // <history>
    if (this.histories?.apply(action) === true) changed = true;
    // </history>
    // <tasks>
    if (this.tasks?.apply() === true) changed = true;
    // </tasks>
    if (changed) this.#notify();
    // <auto>
    this.tasks?.follow();
    // </auto>
    return done;
  }

  #drain(action: string): void {
    for (let turns = 1; ; turns++) {
      if (!this.#isClosed) this.#close?.();
      const next = this.#waiting.shift();
      if (next === undefined) return;
      if (turns === mostTurns) this.report({ kind: 'unsettled', at: action });
      // <log>
      next.settle(
        this.#logged(next.asked, () =>
          turns < mostTurns ? this.#run(next.action, next.work) : unsettled,
        ),
      );
      //- next.settle(
      //-   turns < mostTurns
      //-     ? this.#run(next.action, next.work)
      //-     : { status: "refused", reason: "does not settle" },
      //- );
      // </log>
    }
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
