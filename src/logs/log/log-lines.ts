import type { Json } from '../../base/json.js';

/** One operation of a JSON Patch (RFC 6902), of those that logs use. */
export type PatchOperation =
  | { readonly op: 'add' | 'replace'; readonly path: string; readonly value: Json }
  | { readonly op: 'remove'; readonly path: string };

/** The state of all stores, by store. */
export type LoggedState = Readonly<Record<string, unknown>>;

/** The first line of a log, or of another session in the same file. */
export interface LogHead {
  readonly leeshoreLog: 1;
  readonly schema?: { readonly name: string; readonly sha256?: string };
  readonly instance?: string;
  /** An ISO date and time. */
  readonly began?: string;
  readonly every?: number;
  /** In the log of an old application: timers have lines of their own. */
  readonly timers?: true;
  readonly state?: LoggedState;
}

/** What a line is about. */
export const lineKinds = [
  'action',
  'start',
  'each',
  'finish',
  'fail',
  'retry',
  'cancel',
  'undo',
  'redo',
  'attach',
  'saved',
  'close',
] as const;
export type LineKind = (typeof lineKinds)[number];

/** Who asked for a turn. */
export const lineCauses = ['outside', 'watcher', 'step', 'answer', 'timer', 'auto'] as const;
export type LineCause = (typeof lineCauses)[number];

export const lineOutcomes = ['done', 'queued', 'refused', 'broken'] as const;
export type LineOutcome = (typeof lineOutcomes)[number];

/** A call that was made; after a wait, by a timer, before the turn of its line. */
export interface LoggedCall {
  readonly call: number;
  readonly operation: string;
  readonly waited?: true;
}

/** What came of a call. */
export interface LoggedAnswer {
  readonly result?: Json;
  readonly value?: Json;
  readonly error?: Json;
  readonly end?: true;
}

/**
 * One turn. A line of a foreign log has `do`, and what else it knows; only then are `turn` and `at` missing.
 */
export interface LogLine {
  readonly turn?: number;
  /** Milliseconds since the log began. */
  readonly at?: number;
  /** `action` if not given. */
  readonly kind?: LineKind;
  readonly do: string;
  readonly payload?: Json;
  /** `outside` if not given. */
  readonly by?: LineCause;
  readonly cause?: number;
  readonly outcome?: LineOutcome;
  readonly reason?: string;
  readonly place?: string;
  readonly included?: readonly string[];
  readonly draws?: {
    readonly ids?: readonly string[];
    readonly now?: number;
    readonly random?: readonly number[];
  };
  readonly run?: number;
  readonly call?: number;
  readonly answer?: LoggedAnswer;
  /** In the log of an old application: the operation that was answered, and what it was asked with. */
  readonly operation?: string;
  readonly with?: Json;
  /** Which of the calls that have asked for the same, from 1. */
  readonly nth?: number;
  readonly sync?: true;
  readonly calls?: readonly LoggedCall[];
  readonly changes?: readonly PatchOperation[];
  readonly notified?: readonly string[];
  readonly others?: number;
  readonly state?: LoggedState;
}

export const isHead = (entry: LogHead | LogLine): entry is LogHead => 'leeshoreLog' in entry;

/** True if a line tells what came of a call. */
export const isAnswer = ({ kind, by = 'answer' }: LogLine): boolean =>
  by === 'answer' && (kind === 'finish' || kind === 'fail' || kind === 'each' || kind === 'retry');
