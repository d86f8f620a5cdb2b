import type { Json } from '../../base/json.js';
import { Outside, type Answer, type Callable, type EarlyAnswer } from '../../comparing/index.js';
import type { LineGroup } from '../log/groups.js';
import type { LoggedState, LogLine } from '../log/log-lines.js';
import { same } from '../../base/same.js';
import type { AskedCall } from './lines.js';
import type { Environment } from '../../model/participant.js';

/** How long after the time of a line a timer may be due that has set it off, in milliseconds: clocks are no exact. */
const slackMs = 1000;

/** The world around a participant that does a log again: it gives what the log says was given. */
export class ReplayWorld {
  readonly environment: Environment;
  readonly outside: Outside;
  /** The number of calls that the log has seen before this participant was made: it counts from there. */
  #callsBefore: number | undefined;
  readonly #skipped: number[] = [];
  #unlogged = 0;
  readonly #early = new Map<number, EarlyAnswer>();
  #ids: string[] = [];
  #times: number[] = [];
  #numbers: number[] = [];
  /** What was given though the log does not say what. */
  undrawn = 0;
  /** The identifiers that were given as the log says. */
  readonly drawn = new Set<string>();
  readonly #began: number;
  readonly #state: Record<string, unknown>;

  /** `began`: milliseconds since 1970. `state`: to begin from, by store. */
  constructor(callables: readonly Callable[], began: number, state: LoggedState | undefined) {
    this.#began = began;
    this.#state = { ...state };
    this.outside = new Outside(callables, (call) => {
      const early = this.#early.get(call);
      this.#early.delete(call);
      return early;
    });
    this.environment = {
      newId: () => this.#drawnId() ?? this.#undrawnId(),
      now: () => this.#now(),
      random: () => this.#numbers.shift() ?? 0.5,
      onProblem: () => undefined,
      services: this.outside.services,
      timers: this.outside.timers,
      state: this.#state,
    };
  }

  /** Sets what the environment gives while a group of lines is done, and the time. */
  prepare({ lines }: LineGroup): void {
    const [first] = lines;
    const at = first?.line.at;
    if (at !== undefined) this.outside.time = Math.max(this.outside.time, at);
    if (this.#ids.length > 0) this.#ids = [];
    if (this.#times.length > 0) this.#times = [];
    if (this.#numbers.length > 0) this.#numbers = [];
    for (const { line } of lines) this.#give(line);
  }

  #give(line: LogLine): void {
    const { draws, calls = [] } = line;
    const [firstCall] = calls;
    if (firstCall !== undefined) this.#callsBefore ??= firstCall.call - 1;
    if (draws !== undefined) {
      this.#ids.push(...(draws.ids ?? []));
      if (draws.now !== undefined) this.#times.push(draws.now);
      this.#numbers.push(...(draws.random ?? []));
    }
    if (line.sync === true && line.call !== undefined)
      this.#early.set(this.callOf(line.call), earlyAnswer(line));
  }

  /** The number that a call of the log has here; `first` is the first call since the session began, if none was before. */
  callOf(call: number, first = 1): number {
    this.#callsBefore ??= first - 1;
    const skipped = this.#skipped.filter((other) => other < call).length;
    return call - this.#callsBefore - skipped + this.#unlogged;
  }

  /**
   * What was called and waited for by now is of stores that begin in the middle of a session, by what starts by itself. The
   * log has no such calls: nothing comes of them.
   */
  cutOff(): void {
    this.#unlogged = this.outside.count;
    this.outside.cutOff();
  }

  /** Calls of the log that are not made here. */
  skip(calls: readonly { readonly call: number }[]): void {
    for (const { call } of calls) {
      this.#callsBefore ??= call - 1;
      this.#skipped.push(call);
    }
  }

  /** Lets the timer go off that is next, if it may have set off something at that time; whether there is one. */
  passNext(at: number | undefined): boolean {
    return this.outside.passNext((at ?? this.outside.time) + slackMs);
  }

  /** The calls that wait for an answer and are of that operation, with what it was asked with if a line says so; oldest first. */
  openCalls({ operation, with: asked, isSaid, nth }: AskedCall): readonly number[] {
    const isWanted = (number: number) => {
      const call = this.outside.call(number);
      return call?.operation === operation && (!isSaid || same(call.with ?? null, asked ?? null));
    };
    if (nth === undefined) return this.outside.open.filter(isWanted);
    const all = Array.from({ length: this.outside.count }, (_, i) => i + 1).filter(isWanted);
    return all.slice(nth - 1, nth);
  }

  /** True if calls have asked for the same. */
  areAlike(calls: readonly number[]): boolean {
    const [first, ...others] = calls.map((number) => this.outside.call(number)?.with);
    return others.every((asked) => same(asked, first));
  }

  /** True if a timer is due by a time, in milliseconds since the start. */
  isDue(at: number | undefined): boolean {
    const { next, time } = this.outside;
    return at !== undefined && next !== undefined && time + next <= at;
  }

  /** Lets the timer go off that is due first, by then; whether there is one. */
  passDue(at: number | undefined): boolean {
    return this.isDue(at) && this.outside.passNext(at ?? 0);
  }

  /** What a lazy store begins with. */
  beginWith(store: string, state: unknown): void {
    this.#state[store] = state;
  }

  #now(): number {
    const time = this.#times.length > 1 ? this.#times.shift() : this.#times[0];
    return time ?? this.#began + this.outside.time;
  }

  #drawnId(): string | undefined {
    const id = this.#ids.shift();
    if (id !== undefined) this.drawn.add(id);
    return id;
  }

  #undrawnId(): string {
    this.undrawn += 1;
    return `${undrawnPrefix}${this.undrawn}`;
  }
}

/** What identifiers begin with that the log does not say. */
const undrawnPrefix = 'undrawn-';

export const isUndrawnId = (value: unknown): boolean =>
  typeof value === 'string' && value.startsWith(undrawnPrefix);

/** No value of any type: what was answered did not fit, and the log does not say what it was. */
const unfit = (): void => undefined;

/** What a line says was answered to a call. */
export function answerIn({ kind, payload, answer = {} }: LogLine): Answer {
  const isError = kind === 'fail' || kind === 'retry';
  const { kind: why } = (isError ? payload : {}) as { readonly kind?: unknown };
  if (why === 'bad result') return { kind: 'result', value: unfit as never };
  if (answer.error !== undefined) return { kind: 'error', value: errorFrom(answer.error) };
  if (Object.keys(answer).length > 0)
    return { kind: 'result', value: answer.result ?? answer.value };
  return isError
    ? { kind: 'error', value: errorFrom(payload) }
    : { kind: 'result', value: payload };
}

function earlyAnswer(line: LogLine): EarlyAnswer {
  const answer = answerIn(line);
  return answer.kind === 'result' && (answer.value as unknown) === unfit
    ? { kind: 'unusable' }
    : answer;
}

/** What was rejected with, from what a task reads of it: its data where there are any, else an error with its message. */
function errorFrom(error: Json | undefined): Json {
  const { data, message } = (error ?? {}) as { readonly data?: Json; readonly message?: string };
  if (data !== undefined && data !== null) return data;
  return new Error(message ?? '') as unknown as Json;
}
