// The log: what each turn was asked for, did and changed, as plain data for whoever keeps it.
import { patchBetween, type Change } from './patch.js';
import { takeIn } from './taking-in.js';
import type { Outcome, Recorder, Tools } from './transaction.js';
import { isObject } from './values.js';

/** The first line of a log: from which state the lines after it begin. */
export interface LogHead {
  readonly leeshoreLog: 1;
  /** The schema that the stores were generated from. */
  readonly schema?: LoggedSchema;
  /** Which of several instances of the stores this is. */
  readonly instance?: string;
  readonly began: string;
  /** A line holds the whole state after so many others. */
  readonly every: number;
  readonly state: object;
}

/** What came of a call: its result, one of its values, what it rejected with, or its end. */
export type LogAnswer =
  | { readonly result: unknown }
  | { readonly value: unknown }
  | { readonly error: unknown }
  | { readonly end: true };

/** One turn. */
export interface LogLine {
  /** Counted from 1. */
  readonly turn: number;
  /** Milliseconds since the log began. */
  readonly at: number;
  readonly kind: LogKind;
  /** The action, task or store: `deck.admit`. */
  readonly do: string;
  /** What it was given; what came of a call for `finish`, `each`, `fail` and `retry`. */
  readonly payload?: unknown;
  readonly by: LogCause;
  /** The turn that set it off. */
  readonly cause?: number;
  readonly outcome: 'done' | 'queued' | 'refused' | 'broken';
  readonly reason?: string;
  /** What does not fit, as a JSON Pointer. */
  readonly place?: string;
  /** The actions that were done, and the stores that reacted, where there are several. */
  readonly included?: readonly string[];
  /** What the environment gave. */
  readonly draws?: LogDraws;
  /** The run of a task, counted from 1. */
  readonly run?: number;
  /** The call that was answered, counted from 1 over all tasks. */
  readonly call?: number;
  /** What was answered, where the payload is something else. */
  readonly answer?: LogAnswer;
  /** True if the answer came while the call was made. */
  readonly sync?: true;
  /** The calls that were made since the line before. */
  readonly calls?: readonly LogCall[];
  /** What it changed: JSON Patch on the state of all stores. */
  readonly changes?: readonly Change[];
  /** The fields and derived values whose watchers were called. */
  readonly notified?: readonly string[];
  /** How many watchers without a name were called. */
  readonly others?: number;
  /** The state of all stores after it. */
  readonly state?: object;
}

/** A call that was made. */
export interface LogCall {
  /** Counted from 1 over all tasks. */
  readonly call: number;
  readonly operation: string;
  /** True if a timer has set it off, after a wait: then it was made before the turn of its line. */
  readonly waited?: true;
}

export type LogKind =
  | 'action'
  | 'start'
  | 'each'
  | 'finish'
  | 'fail'
  | 'retry'
  | 'cancel'
  | 'undo'
  | 'redo'
  | 'attach'
  | 'saved'
  | 'close';

/**
 * Who asked for a turn: a caller outside; code that was called during another turn, such as a watcher; a step of
 * another turn; an answer to a call; a timer; or what a task follows.
 */
export type LogCause = 'outside' | 'watcher' | 'step' | 'answer' | 'timer' | 'auto';

export interface LogDraws {
  readonly ids?: readonly string[];
  readonly now?: number;
  readonly random?: readonly number[];
}

/** Keeps the lines of a log. */
export interface LogSink {
  /**
   * Called after each turn, and with the head before. What it throws is reported. `changes` gives the changes of a line that
   * comes without them, to a sink that takes them later.
   */
  readonly write: (line: LogHead | LogLine, changes?: () => readonly Change[]) => void;
  /** True if it takes the changes later: finding them takes as long as an action on a long list. */
  readonly takesChangesLater?: boolean;
  /** The number of lines that lie between two that hold the whole state; 1,000 if not given. */
  readonly every?: number;
  /** Which of several instances of the stores this is. */
  readonly instance?: string;
  /** Milliseconds since 1970; the clock of the platform if not given. */
  readonly clock?: () => number;
}

/** What a log says of the schema. */
export interface LoggedSchema {
  readonly name: string;
  /** Of the meaning of the schema: comments and layout do not count. */
  readonly sha256: string;
}

/** What stores write a log to. */
export interface LoggingOptions {
  /** Where a line is written for each turn. */
  readonly log?: LogSink;
}

/** Gives a line without secrets. */
export type LogMask = (entry: LogHead | LogLine) => LogHead | LogLine;

/** What the log needs of the stores of a style. */
interface LogHost {
  /** The committed state of all stores. */
  readonly read: () => object;
  /** What throws in a sink. */
  readonly onProblem: (error: unknown) => void;
}

/** A turn that was asked for. */
interface Asked {
  readonly do: string;
  payload: unknown;
  readonly by: LogCause;
  readonly cause: number | undefined;
  readonly call: number | undefined;
  readonly answer: LogAnswer | undefined;
  readonly isSync: boolean;
  /** True if the payload is the stores' own: it is JSON data, and does not change. */
  isTaken: boolean;
}

/** What a turn did, where that is more than an action. */
interface Done {
  /** `timetable.load` for a start, `timetable.load.finish` for what came of a run; the store for what has a `kind`. */
  readonly type: string;
  readonly kind?: LogKind;
  readonly payload?: unknown;
  readonly run?: number;
  readonly given?: object;
}

export type Writable<T> = { -readonly [Key in keyof T]: T[Key] };

/** Who asks for a turn, where that is not a caller. */
interface Origin {
  readonly by: LogCause;
  readonly cause?: number | undefined;
  readonly call?: number;
  readonly answer?: LogAnswer;
}

/** Writes a line for each turn. */
export class Log implements Recorder {
  /** The number of the turn that is under way, or was last. */
  turn = 0;
  /** What the turn under way did for a task or a history; nothing for a plain action. */
  did: Done | undefined;
  readonly #sink: LogSink;
  readonly #host: LogHost;
  readonly #began: number;
  readonly #every: number;
  /** True if lines are written without their changes. */
  readonly #takesLater: boolean;
  #last: object;
  #asked: Asked | undefined;
  #origin: Origin | undefined;
  #isOver = false;
  #included: string[] = [];
  #ids: string[] = [];
  #now: number | undefined;
  #random: number[] = [];
  #callCount = 0;
  #calls: LogCall[] = [];
  #notified: string[] = [];
  #others = 0;
  readonly #mask: LogMask | undefined;

  constructor(
    sink: LogSink,
    schema: LoggedSchema | undefined,
    host: LogHost,
    mask: LogMask | undefined,
  ) {
    this.#sink = sink;
    this.#host = host;
    this.#began = this.#clock();
    this.#every = sink.every ?? 1000;
    this.#takesLater = sink.takesChangesLater === true;
    // Secrets get their numbers as they come.
    if (mask !== undefined) this.#takesLater = false;
    this.#last = host.read();
    this.#mask = mask;
    this.#write({
      leeshoreLog: 1,
      ...(schema !== undefined && { schema: { name: schema.name, sha256: schema.sha256 } }),
      ...(sink.instance !== undefined && { instance: sink.instance }),
      began: new Date(this.#began).toISOString(),
      every: this.#every,
      state: this.#last,
    });
  }

  /** Says who asks for the next turn; nobody, if nothing is given. */
  from(origin?: Origin): void {
    this.#origin = origin;
  }

  /** A turn is asked for; `isBusy`: while another is under way. */
  asked(name: string, payload: unknown, isBusy: boolean, isCalled: boolean): Asked {
    const {
      by = isCalled ? (isBusy ? 'watcher' : 'outside') : 'step',
      cause = isBusy && this.turn > 0 ? this.turn : undefined,
      call,
      answer,
    } = this.#origin ?? ({} as Partial<Origin>);
    this.#origin = undefined;
    const isSync = isBusy && call !== undefined;
    return { do: name, payload, by, cause, call, answer, isSync, isTaken: false };
  }

  /** A turn begins. */
  begin(asked: Asked): void {
    this.turn += 1;
    this.#asked = asked;
    this.did = undefined;
    this.#now = undefined;
    this.#others = 0;
    // Most turns leave these as they are.
    if (this.#included.length > 0) this.#included = [];
    if (this.#ids.length > 0) this.#ids = [];
    if (this.#random.length > 0) this.#random = [];
    if (this.#notified.length > 0) this.#notified = [];
  }

  /** The payload as the stores have taken it. */
  accepted(payload: unknown): void {
    if (this.#asked === undefined) return;
    this.#asked.payload = payload;
    this.#asked.isTaken = true;
  }

  drew(what: keyof Tools, drawn: unknown): void {
    if (what === 'newId') this.#ids.push(drawn as string);
    else if (what === 'random') this.#random.push(drawn as number);
    else this.#now = drawn as number;
  }

  /** A transaction begins: what another did in the same turn was not kept. */
  again(): void {
    if (this.#included.length > 0) this.#included = [];
  }

  /** An action is done, or the moment of a task; or a store reacts to one. */
  include(name: string): void {
    this.#included.push(name);
  }

  /** A call is made; its number. */
  called(operation: string): number {
    const call = (this.#callCount += 1);
    const isWithin = this.#asked !== undefined;
    this.#calls.push(isWithin ? { call, operation } : { call, operation, waited: true });
    return call;
  }

  /** A watcher is called. */
  notified(name: string): void {
    if (name === this.#notified.at(-1)) return;
    if (name.includes('.') || name === '*' || Object.hasOwn(this.#last, name)) {
      if (!this.#notified.includes(name)) this.#notified.push(name);
    } else this.#others += 1;
  }

  /** The turn did nothing: it came too late. */
  drop(): void {
    if (this.#asked === undefined) return;
    this.#asked = undefined;
    this.turn -= 1;
  }

  /** The turn is over. */
  end(ending: Outcome): void {
    const asked = this.#asked;
    if (asked === undefined || this.#isOver) return;
    this.#asked = undefined;
    const [before, state] = [this.#last, this.#host.read()];
    this.#last = state;
    const line = this.#line(asked, ending);
    const changesOf =
      this.#takesLater && before !== state ? () => patchBetween(before, state) : undefined;
    if (changesOf === undefined) {
      const changes = patchBetween(before, state);
      if (changes.length > 0) line.changes = changes;
    }
    if (this.#notified.length > 0) line.notified = this.#notified;
    if (this.#others > 0) line.others = this.#others;
    if (this.turn % this.#every === 0) line.state = state;
    if (this.#calls.length > 0) this.#calls = [];
    this.#write(line, changesOf);
  }

  /** The stores are closed: this is the last line. */
  close(): void {
    const isBusy = this.#asked !== undefined;
    const asked = this.asked('', undefined, isBusy, true);
    this.begin(asked);
    this.did = { type: '', kind: 'close' };
    this.end({ status: 'done' });
    this.#isOver = true;
  }

  #line(asked: Asked, ending: Outcome): Writable<LogLine> {
    const { did } = this;
    const [name, kind] = nameAndKind(did ?? { type: asked.do }, did !== undefined);
    const { error, result } = (did?.given ?? {}) as Partial<Record<'error' | 'result', unknown>>;
    const isOfRun = did?.run !== undefined && kind !== 'start';
    const payload = isOfRun ? (error ?? result) : (did?.payload ?? asked.payload);
    const line: Writable<LogLine> = {
      turn: this.turn,
      at: Math.round(this.#clock() - this.#began),
      kind,
      do: name,
      by: asked.by,
      outcome: ending.status,
    };
    if (kind === 'start' && did !== undefined && did.run === undefined) line.outcome = 'queued';
    if (did?.type.endsWith('.end') === true) line.outcome = 'broken';
    const isTaken = did?.payload !== undefined || isOfRun || asked.isTaken;
    const taken = isTaken ? payload : asJson(payload);
    if (taken !== undefined) line.payload = taken;
    if (asked.cause !== undefined) line.cause = asked.cause;
    if (ending.status === 'refused') {
      line.reason = ending.reason ?? '';
      if (ending.at !== undefined) line.place = ending.at;
    } else if (this.#included.length > 1) line.included = this.#included;
    const draws = this.#draws();
    if (draws !== undefined) line.draws = draws;
    if (did?.run !== undefined) line.run = did.run;
    if (asked.call !== undefined) line.call = asked.call;
    const isLost = (kind === 'fail' || kind === 'retry') && !saysAnswer(error);
    if (asked.answer !== undefined && isLost) line.answer = plain(asked.answer);
    if (asked.isSync) line.sync = true;
    if (this.#calls.length > 0) line.calls = this.#calls;
    return line;
  }

  #draws(): LogDraws | undefined {
    const [ids, now, random] = [this.#ids, this.#now, this.#random];
    if (ids.length + random.length === 0 && now === undefined) return undefined;
    return {
      ...(ids.length > 0 && { ids }),
      ...(now !== undefined && { now }),
      ...(random.length > 0 && { random }),
    };
  }

  #clock(): number {
    return (this.#sink.clock ?? Date.now)();
  }

  #write(line: LogHead | LogLine, changes?: () => readonly Change[]): void {
    try {
      this.#sink.write(this.#mask === undefined ? line : this.#mask(line), changes);
    } catch (error) {
      this.#host.onProblem(error);
    }
  }
}

/** `timetable.load.finish` is the moment `finish` of `timetable.load`; one that ended with nothing else has failed. */
function nameAndKind(
  { type, kind }: Done,
  isOfTask: boolean,
): readonly [name: string, kind: LogKind] {
  if (kind !== undefined) return [type, kind];
  const [store = '', name = '', moment] = type.split('.');
  if (moment === undefined) return [type, isOfTask ? 'start' : 'action'];
  return [`${store}.${name}`, moment === 'end' ? 'fail' : (moment as LogKind)];
}

/** True if an error is what was answered: a result that did not fit, or that steps have refused, is not in it. */
const saysAnswer = (error: unknown): boolean =>
  isObject(error) && (error['kind'] === 'rejected' || error['kind'] === 'timeout');

/** What was answered as JSON data. */
function plain(answer: LogAnswer): LogAnswer {
  if ('result' in answer) return { result: asJson(answer.result) ?? null };
  return 'value' in answer ? { value: asJson(answer.value) ?? null } : answer;
}

/** A value as JSON data; nothing if it is none, or throws when it is looked at. */
function asJson(value: unknown): unknown {
  try {
    const taken = takeIn(value);
    return typeof taken === 'symbol' ? undefined : taken;
  } catch {
    return undefined;
  }
}
