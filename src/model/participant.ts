import type { ObservedClass } from './observed-class.js';
import type { Json } from '../base/json.js';
import type { Services, Timers } from './services.js';
import type { SavedTexts } from './storage.js';
import type { Failure } from './tasks.js';

export type { Call, Services, Signal, Timers } from './services.js';

/** The outcome of an action that was sent. */
export type Outcome =
  /** Of the start of a task: `ended` tells how the run ended; it never rejects. */
  | { readonly status: 'done'; readonly ended?: Promise<Ended> }
  | {
      readonly status: 'refused';
      /** The text of a `requires` or a `none`, or one of the fixed reasons of {@link reasons}. */
      readonly reason: string;
      /** The value that does not fit, as a JSON Pointer: `/payload/plate`, `/deck/vehicles/3/lengthM`. */
      readonly at?: string;
    }
  /** An expression or the environment threw; `action` is the action that was sent. */
  | { readonly status: 'broken'; readonly action: string }
  | { readonly status: 'queued'; readonly outcome: Promise<Outcome> };

/** The end of a run of a task. */
export interface Ended {
  readonly status: 'finished' | 'failed' | 'abandoned';
  readonly error?: TaskError;
}

/** Why a run failed, as `fail` steps read it. */
export interface TaskError {
  readonly kind: Failure;
  readonly message: string;
  /** The data that the rejection carried, if it fits; else null. */
  readonly data: unknown;
}

/** The reasons for a refusal that are not in the schema. */
export const reasons = {
  misfit: 'does not fit',
  missing: 'not found',
  outOfRange: 'out of range',
  unsettled: 'does not settle',
  running: 'running',
  cancelled: 'cancelled',
  closed: 'closed',
  notAttached: 'not attached',
  nothingToUndo: 'nothing to undo',
  nothingToRedo: 'nothing to redo',
} as const;

/** A problem that a store cannot tell its caller. */
export interface Report {
  readonly kind: 'action' | 'task' | 'derived' | 'watcher' | 'storage' | 'unsettled';
  readonly at: string;
}

/** Where identifiers, time and problems come from and go to, so that every run can be repeated. */
export interface Environment {
  readonly newId: () => string;
  /** Milliseconds since 1970. */
  readonly now: () => number;
  /** A fraction in [0, 1). */
  readonly random: () => number;
  readonly onProblem: (report: Report) => void;
  /** The operations that the application asks of the world outside, by service. */
  readonly services?: Services;
  readonly timers?: Timers | undefined;
  /** The storage of saved state; it is kept nowhere if not given. */
  readonly storage?: SavedTexts;
  /** The state to begin from, by store: a store that is missing begins with its defaults. */
  readonly state?: Readonly<Record<string, unknown>>;
}

/** The readings of the tasks of a store, by name. */
export type TaskReadings = Readonly<
  Record<
    string,
    {
      readonly running: boolean;
      readonly runs: readonly unknown[];
      readonly waiting: readonly unknown[];
    }
  >
>;

/** The changes that can be undone and redone by store, the next last; stores where nothing was done yet may be missing. */
export type Histories = ReadonlyMap<
  string,
  { readonly past: readonly unknown[]; readonly future: readonly unknown[] }
>;

/** The target of a watcher: `'deck.freeM'` a field or derived value, `'deck'` a store, `'*'` everything. */
export type Target = string;

/** Targets followed by open protocols: the ECMAScript Observable contract, and `for await`. */
export interface Followed extends AsyncIterable<unknown> {
  subscribe(observer: { readonly next: (value: unknown) => void }): { unsubscribe(): void };
}

/** The stores of an application, running: the reference interpreter, generated or external. */
export interface Running {
  /** Does an action. `payload` is `undefined` if none is given. One that says nothing of the outcome gives nothing. */
  send(store: string, action: string, payload: Json | undefined): Outcome | undefined;
  /** The state of all stores, by store. */
  read(): Readonly<Record<string, unknown>>;
  /** The derived values of all stores, by store. */
  derive?(): Readonly<Record<string, Readonly<Record<string, unknown>>>>;
  /** A derived value with parameters, for some arguments. */
  ask?(store: string, name: string, args: readonly Json[]): unknown;
  /** Calls back after each change of the target, with the values now and before; returns what stops it. */
  watch?(target: Target, changed: (now: unknown, before: unknown) => void): () => void;
  /** A target as something to be followed, of who has that. */
  follow?(target: Target): Followed | undefined;
  /** The state of all stores as JSON text, of who has that. */
  json?(): string | undefined;
  /**
   * Puts all stores into a state that another run has shown, as a transaction of its own: so a search need not lead
   * it there. For stores that nobody watches.
   */
  restore?(state: Readonly<Record<string, unknown>>): void;
  /** Starts a task. */
  start?(store: string, task: string, payload: Json | undefined): Outcome | undefined;
  /** Abandons the runs of a task, or with `per` those of one value. */
  cancel?(store: string, task: string, per?: Json): Outcome | undefined;
  /** The runs of the tasks, by store; stores without tasks may be missing. */
  tasks?(): Readonly<Record<string, TaskReadings>>;
  /** The number of transactions that have changed the state, or what goes on of tasks, by now, of who can tell. */
  changes?(): number;
  /** The number of transactions that were refused by now since something did not fit, of who can tell. */
  misfits?(): number;
  /** Attaches a lazy store; without effect the second time. */
  attach?(store: string): Outcome | undefined;
  /** The histories, by store: another object once one has changed. Only of participants that can tell. */
  histories?(): Histories;
  /** It is not needed any more. */
  close?(): void;
}

/** The parts of the schema that a participant has, if it does not have all. */
export interface Abilities {
  /** `deck.admit`. */
  readonly actions: ReadonlySet<string>;
  /** `deck.vehicles`; the name alone of a store that is one value. */
  readonly fields: ReadonlySet<string>;
  /** `deck.freeM`, those with parameters too. */
  readonly derived: ReadonlySet<string>;
  /** `timetable.loadSailings`: those that it has; those that it can start, cancel, and tell whether a run goes on. */
  readonly tasks: ReadonlySet<string>;
  readonly starts: ReadonlySet<string>;
  readonly cancels: ReadonlySet<string>;
  readonly tells: ReadonlySet<string>;
  /** The operations that its tasks call: `office.sailingsOn`. */
  readonly operations: ReadonlySet<string>;
  /** Those that tasks call, too, which it leaves out. */
  readonly sharedOperations: ReadonlySet<string>;
  /** True if it aborts calls that nobody waits for. */
  readonly abortsCalls: boolean;
  /** The lines of its tables that are not filled in yet: `deck.admit`; none if not given. */
  readonly unfilled?: readonly string[];
  readonly targets: ReadonlySet<Target>;
  readonly classes: ReadonlySet<ObservedClass>;
  /** True if it keeps what the schema saves, so that it can be made anew; in the form of the schema if `storage` is among its classes. */
  readonly reopens: boolean;
  /** True if part of its work is done only when the call that sent an action is over. */
  readonly settlesLater: boolean;
  /** The actions that are sent text only. */
  readonly textOnly: ReadonlySet<string>;
  /** The distance that numbers may be off: everywhere, or by field and derived value (`deck.freeM`); none if not given. */
  readonly tolerance?: number | Readonly<Record<string, number>> | undefined;
  /** Differences that are passed over. */
  readonly known?: readonly KnownDifference[];
}

/** A difference that is known, and stays for a reason. */
export interface KnownDifference {
  readonly what: ObservedClass;
  /** JSON Pointer to where it shows, as a report tells it; `*` is any position or key. Anywhere if not given. */
  readonly at?: string | undefined;
  /** The action or task after which it shows; any if not given. */
  readonly action?: string | undefined;
  readonly reason: string;
}

/** An error that a participant's code left unhandled. */
export interface Leak {
  /** The exception, or the reason of the rejection. */
  readonly text: string;
  /** The steps that the participant had been sent in that run, up to the action that set it off. */
  readonly steps: readonly { readonly send: string; readonly payload?: Json }[];
  /** The time from that action until it came, in milliseconds. */
  readonly afterMs: number;
}

/** A step that a participant is spared, since it does not judge what does not fit. */
export type NotSent = 'payload' | 'answer';

/** Counts what is passed over for a participant: known differences, by their place in its list, and steps that it is spared. */
export interface PassedOver {
  note(what: number | NotSent): void;
  /** The counts since it was last asked. */
  take(): ReadonlyMap<number | NotSent, number>;
}

/** Something whose behaviour is compared. */
export interface Participant {
  readonly name: string;
  /** Left out if it has all that the application has. */
  readonly has?: Abilities;
  /**
   * True if it refuses payloads, and values to be stored, that do not fit their types; true if not given. If not, it is not
   * sent what would be refused.
   */
  readonly refusesMisfits?: boolean;
  /** True if it judges what services answer; true if not given. If not, it is given only answers that fit. */
  readonly judgesAnswers?: boolean;
  /** True if texts may end in the middle of a character; true if not given. */
  readonly takesHalfCharacters?: boolean;
  /** The errors that its code left unhandled since last time: rejected promises, and exceptions that no caller got. */
  readonly leaks?: () => readonly Leak[];
  /** The steps that were passed over for it since last time. */
  readonly passedOver?: PassedOver;
  /** The globals that its code has changed and that every program uses: `Array.prototype.map`. */
  readonly changedGlobals?: () => readonly string[];
  create(environment: Environment): Running;
}
