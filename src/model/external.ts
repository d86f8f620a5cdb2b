import type { ObservedClass } from './observed-class.js';
import type { Services, Signal, Timers } from './services.js';
import type { SavedTexts } from './storage.js';

/**
 * What a participant file exports by default: stores that are there already, such as those of an application
 * that is being ported, so that `leeshore compare --with FILE` can hold them against the schema.
 *
 * The tables say what is where: the names are those of the schema, the functions reach into the old code. What
 * is left out of a table is not compared, and the report says so.
 */
export interface ExternalParticipant {
  /** The name that the report gives it. */
  readonly name: string;
  /**
   * True if it refuses what does not fit its type, payloads and values to be stored, as the schema does; false if not
   * given: then actions that the schema refuses for that are not sent.
   */
  readonly refusesMisfits?: boolean;
  /**
   * True if it judges what services answer, as the schema does: what does not fit its type is a failure. False if not
   * given: then scripts give only answers that fit.
   */
  readonly judgesAnswers?: boolean;
  /** True if parts that do not change stay the same objects; compared only if so. */
  readonly keepsIdentity?: boolean;
  /**
   * True if what was read earlier stays as it was; true if not given. A store that changes its data in place says
   * false: then old snapshots are not compared.
   */
  readonly keepsSnapshots?: boolean;
  /**
   * Actions with `accepts: text` that take text and nothing else, as the handler of a form field does:
   * `['deck.stretch']`. They are sent no numbers, booleans or nulls.
   */
  readonly textOnly?: readonly string[];
  /**
   * True if it aborts the signals of calls that nobody waits for any more; true if not given. Many old stores let such
   * calls end, and drop what they answer: they say false, and aborted calls are not compared.
   */
  readonly abortsCalls?: boolean;
  /**
   * True if part of what it does comes in microtasks or animation frames after an action, as in most frameworks; false if not
   * given. Only then it is waited for these before the state is looked at; watchers may always be told so late.
   */
  readonly settlesLater?: boolean;
  /**
   * True if it keeps what the schema saves, in `environment.storage` or `localStorage`; false if not given. Then the stores are
   * closed and made anew too. True says: under the same keys and in the same form; then the schema's stores and its own are
   * held against each other by what is read of these texts after a reload. In another form, each reads its own.
   */
  readonly saves?: boolean | 'in another form';
  /**
   * True if texts may have half a character (a lone surrogate), which `encodeURIComponent` refuses; false if not given: then
   * texts have whole characters only.
   */
  readonly takesHalfCharacters?: boolean;
  /**
   * True if `environment.services` reject with the plain data that scripts have; false if not given: then with an `Error` that has
   * the message, and the rest of the data as its properties.
   */
  readonly rejectsWithData?: boolean;
  /** The distance that numbers may be off: everywhere, or by field and derived value, as `{ 'deck.freeM': 0.01 }`. */
  readonly tolerance?: number | Readonly<Record<string, number>>;
  /** Differences that stay, each with its reason: they are counted in the report, and passed over. */
  readonly known?: readonly ExternalDifference[];
  /**
   * What the old store calls things, and what they are in the schema, for `leeshore survey`: it reads these names without
   * running the file, so they are written out. `'Terminal.cars[].number': 'deck.vehicles[].id'`.
   */
  readonly names?: Readonly<Record<string, string | ExternalName>>;
  /** The names and shapes in logs that the old application has written, for `leeshore replay`. */
  readonly log?: ExternalLog;
  /**
   * True if its code needs a document, as in a browser: `window`, `document` and the like, of the package `jsdom`, which has to be
   * installed in your project. It is read before the file is run, so it is written out: `document: true`. False if not given.
   */
  readonly document?: boolean;
  /** Which global functions its code uses; only what is given to `create` if not given. */
  readonly globals?: ExternalGlobals;
  /** Makes the stores, each time anew: nothing of an earlier run may be left in them. */
  readonly create: (environment: ExternalEnvironment) => ExternalStores;
}

/** The action or task of the schema that a function of the old store is, where its parameters become one payload. */
export interface ExternalName {
  /** The action: `deck.admit`. */
  readonly is: string;
  /** The properties of the payload, in the order of the old parameters. */
  readonly arguments?: readonly string[];
}

/** The meaning in the schema of names and shapes in a log of the old application. */
export interface ExternalLog {
  /**
   * What each name in the log is: an action or a task, `deck.admit`, with what makes its payload of the logged one; or null,
   * for what the schema does not have. A function says it of the logged payload, where one old name is several actions.
   */
  readonly actions: Readonly<
    Record<string, ExternalLoggedName | ((logged: never) => ExternalLoggedName)>
  >;
  /**
   * What answers in the log are in the schema, by the operation; or by the name in the log, where lines do not say an operation.
   * Null for what the schema does not have; the same if not given.
   */
  readonly answers?: Readonly<Record<string, ExternalLoggedAnswer | null>>;
  /** Reads each field from a logged state; a store that is one value has a function in place of a table. */
  readonly state: Readonly<
    Record<string, ((old: never) => unknown) | Readonly<Record<string, (old: never) => unknown>>>
  >;
}

/** The meaning in the schema of a name in a log. */
export type ExternalLoggedName = string | null | ExternalLoggedAction;

export interface ExternalLoggedAction {
  /** The action or the task: `deck.admit`; undoing is the action `plan.undo`. */
  readonly is: string;
  /** Makes the payload of the logged one; the same if not given. */
  readonly payload?: (logged: never) => unknown;
  /** True if it cancels the task `is`, whose `per` is the payload; it starts it if not given. */
  readonly cancels?: boolean;
}

export interface ExternalLoggedAnswer {
  /** Makes the result, or one of many, of what was answered. */
  readonly result?: (logged: never) => unknown;
  /** Makes what a failure carries, `{ message, data }`, of what the log has of it. */
  readonly error?: (logged: never) => unknown;
}

/** A difference that is known, in the words in which a report tells it. */
export interface ExternalDifference {
  /** The class: `state`, `derived`, `outcome` and so on. */
  readonly what: ObservedClass;
  /** The place, as `/deck/hold`; `*` is any position or key. Anywhere if not given. */
  readonly at?: string;
  /** The action or task after which it shows, as `deck.admit`; any if not given. */
  readonly action?: string;
  /** Why it is meant to be like that: the report says so. */
  readonly reason: string;
}

/** Where generated names, time and chance come from: the same for all that are compared. */
export interface ExternalEnvironment {
  readonly newId: () => string;
  /** Milliseconds since 1970. */
  readonly now: () => number;
  /** A fraction in [0, 1). */
  readonly random: () => number;
  /** The operations of the schema's services: what they are called with is compared, and scripts answer. */
  readonly services: Services;
  /** Timers in the time of the comparison. */
  readonly timers: Timers;
  /** Where the stores of one run keep what is saved: it is there when they are made anew. */
  readonly storage: SavedTexts;
}

/**
 * The global functions that the old code uses. During a comparison they are stand-ins: no network, no clock. There are
 * `setTimeout`, `setInterval`, `Date` and `AbortSignal.timeout` in the time of the comparison, an empty `localStorage` for each
 * run, and `fetch`, which is answered by these two functions.
 */
export interface ExternalGlobals {
  /** Which operation a request is, and what it asks with; addresses are taken as they are, relative ones too. */
  readonly request?: (url: string, init: RequestOptions | undefined) => ExternalRequest;
  /** The form of an answer to it. An error that it throws is a rejection, as when a network is down. */
  readonly response?: (operation: string, answer: ExternalAnswer) => unknown;
}

/** The options of a request, as far as they are looked at. */
export interface RequestOptions {
  readonly method?: string;
  readonly body?: unknown;
  readonly signal?: Signal | null;
}

/** The operation of a service that a request is: `office.sailingsOn`. */
export interface ExternalRequest {
  readonly operation: string;
  readonly with?: unknown;
}

/** The answer that a script gives: a result, or an error of the service, with its message as the schema reads it. */
export type ExternalAnswer =
  { readonly result: unknown } | { readonly error: unknown; readonly message: string };

/** The outcome of an action: nothing is said, it was done, or it was refused (with the reason as the schema has it). */
export type ExternalOutcome =
  undefined | boolean | 'done' | 'refused' | { readonly refused: string };

/** Running stores, as tables of functions by store and name. */
export interface ExternalStores {
  /** Anything that an action returns and that is no outcome counts as nothing said. */
  readonly actions: Readonly<Record<string, Readonly<Record<string, (payload: never) => unknown>>>>;
  /**
   * The tasks that the old code has: how each is started, how its runs are cancelled, and whether one goes on. What the old
   * code starts by itself is listed without `start`. Calls of tasks that are left out are not compared.
   */
  readonly tasks?: Readonly<Record<string, Readonly<Record<string, ExternalTask>>>>;
  /** Reads each field, as JSON data; a store that is one value has a function in place of a table. */
  readonly state: Readonly<
    Record<string, (() => unknown) | Readonly<Record<string, () => unknown>>>
  >;
  /** Computes each derived value; those with parameters take them. */
  readonly derived?: Readonly<
    Record<string, Readonly<Record<string, (...args: never[]) => unknown>>>
  >;
  /**
   * Watches a field or derived value (`'deck.freeM'`), a store (`'deck'`) or everything (`'*'`): `changed` is
   * to be called once after each action that changed it. Returns what stops it.
   */
  readonly watch?: Readonly<Record<string, (changed: ExternalChanged) => () => void>>;
  /** The run is over. */
  readonly close?: () => void;
}

/** A task of the old code. */
export interface ExternalTask {
  /** The result counts as that of an action; a promise counts as nothing said. Without it, scripts do not start the task. */
  readonly start?: (payload: never) => unknown;
  readonly cancel?: (per?: never) => unknown;
  readonly running?: () => boolean;
}

export type ExternalChanged = (now: unknown, before: unknown) => void;
