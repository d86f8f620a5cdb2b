import type { Json } from '../../base/json.js';
import type { Application } from '../../model/application.js';
import { fittingValuesOf } from '../../model/fitting-values.js';
import type { Services, Signal, Timers } from '../../model/participant.js';

/** An operation that participants can call, and whether it gives many values. */
export interface Callable {
  readonly service: string;
  readonly operation: string;
  readonly isMany: boolean;
  /** Whether an answer, or one of many values, fits. */
  readonly takes: (value: Json | undefined, isOneOfMany: boolean) => boolean;
}

/** All operations of an application, in schema order. */
export function callablesOf({ services, types }: Application): readonly Callable[] {
  return services.flatMap(({ name: service, operations }) =>
    operations.map(({ name: operation, result, results }) => ({
      service,
      operation,
      isMany: results !== undefined,
      takes(value, isOneOfMany) {
        const type = isOneOfMany ? results : result;
        if (type === undefined) return true;
        return value !== undefined && fittingValuesOf(types).fits(value, type);
      },
    })),
  );
}

/** A call that was made: of which operation, and with what. */
export interface MadeCall {
  /** `office.sailingsOn`. */
  readonly operation: string;
  readonly with: unknown;
}

/** What a script answers to a call. */
export type Answer =
  | { readonly kind: 'result'; readonly value: Json | undefined }
  | { readonly kind: 'error'; readonly value: Json };

/** What is answered while a call is made: an answer, or a thing that is no answer at all. */
export type EarlyAnswer = Answer | { readonly kind: 'unusable' };

/** A call, and what can still be done about it. */
interface OpenCall extends MadeCall {
  readonly takes: Callable['takes'];
  readonly isMany: boolean;
  /** Whether it has been answered, or its stream has ended. */
  isAnswered: boolean;
  readonly end: (answer: Answer) => void;
  readonly next: (value: Json) => void;
}

/** What a participant did to the world outside in one step. */
export interface OutsideNews {
  readonly calls: readonly MadeCall[];
  /** The calls, counted from 1, whose signals were aborted before they were answered. */
  readonly aborted: readonly number[];
  /** The calls whose streams were given up before their end. */
  readonly stopped: readonly number[];
}

/** So many timers go off at one time, before the next takes a millisecond. */
const mostAtOnce = 100;

interface Timer {
  readonly id: number;
  readonly due: number;
  readonly run: () => void;
}

/**
 * The world outside of one participant: operations that answer when a script says so, and a time that passes when it
 * says so.
 */
export class Outside {
  readonly services: Services;
  /** Milliseconds since the start. */
  time = 0;
  readonly #calls: OpenCall[] = [];
  readonly #open = new Set<number>();
  readonly #timers = new Map<number, Timer>();
  #timerIds = 0;
  #news = { calls: [] as MadeCall[], aborted: [] as number[], stopped: [] as number[] };

  /** `early`: what a call, by its number, is answered with while it is made. */
  constructor(
    callables: readonly Callable[],
    readonly early: (call: number) => EarlyAnswer | undefined = () => undefined,
  ) {
    const services: Record<string, Record<string, Services[string][string]>> = {};
    for (const callable of callables)
      (services[callable.service] ??= {})[callable.operation] = (payload, signal) =>
        this.#call(callable, payload, signal);
    this.services = services;
  }

  readonly timers: Timers = {
    setTimeout: (run, ms) => {
      const id = (this.#timerIds += 1);
      this.#timers.set(id, { id, due: this.time + ms, run });
      return id;
    },
    clearTimeout: (timer) => {
      this.#timers.delete(timer);
    },
  };

  /** The operations that were called, by number; it grows. */
  readonly operations: string[] = [];

  /** The number of calls that were made. */
  get count(): number {
    return this.#calls.length;
  }

  /** The calls that can be answered, counted from 1. */
  get open(): readonly number[] {
    return [...this.#open];
  }

  call(number: number): Readonly<Omit<OpenCall, 'end' | 'next'>> | undefined {
    return this.#calls[number - 1];
  }

  /** Milliseconds to the timer that goes off next; `undefined` if there is none. */
  get next(): number | undefined {
    const first = this.#first();
    return first && first.due - this.time;
  }

  /** How long all timers still wait, shortest first. */
  get due(): readonly number[] {
    return [...this.#timers.values()].map(({ due }) => due - this.time).sort((a, b) => a - b);
  }

  answer(number: number, answer: Answer): void {
    const call = this.#calls[number - 1];
    if (call === undefined || call.isAnswered) return;
    call.isAnswered = true;
    this.#open.delete(number);
    call.end({ ...answer, value: copied(answer.value) } as Answer);
  }

  value(number: number, value: Json): void {
    const call = this.#calls[number - 1];
    if (call?.isAnswered === false) call.next(copied(value));
  }

  /** Lets the timer go off that is next, if it is due by a time, in milliseconds since the start; whether there is one. */
  passNext(until: number): boolean {
    const timer = this.#first();
    if (timer === undefined || timer.due > until) return false;
    this.#timers.delete(timer.id);
    this.time = Math.max(this.time, timer.due);
    timer.run();
    return true;
  }

  /** Lets time pass: timers go off one by one, in the order in which they are due; `rest` is awaited after each. */
  async pass(ms: number, rest: () => Promise<void>): Promise<void> {
    const end = this.time + ms;
    for (let atOnce = 1; ;) {
      const timer = this.#first();
      if (timer === undefined || timer.due > end) break;
      this.#timers.delete(timer.id);
      atOnce = timer.due > this.time ? 1 : atOnce + 1;
      // As in a browser, timers that set each other without end take their time.
      this.time = Math.max(this.time + (atOnce > mostAtOnce ? 1 : 0), timer.due);
      timer.run();
      await rest();
    }
    this.time = end;
  }

  /** Nobody is there any more who has called, or set a timer: no timer goes off, and no call can be answered. */
  cutOff(): void {
    this.#timers.clear();
    for (const number of this.#open) (this.#calls[number - 1] as OpenCall).isAnswered = true;
    this.#open.clear();
    this.take();
  }

  /** What has been done since it was last asked. */
  take(): OutsideNews {
    const news = this.#news;
    if (news.calls.length + news.aborted.length + news.stopped.length > 0)
      this.#news = { calls: [], aborted: [], stopped: [] };
    return news;
  }

  #first(): Timer | undefined {
    let first: Timer | undefined;
    for (const timer of this.#timers.values())
      if (first === undefined || timer.due < first.due) first = timer;
    return first;
  }

  #call(callable: Callable, payload: unknown, signal?: Signal): unknown {
    const { service, operation, isMany, takes } = callable;
    const made = { operation: `${service}.${operation}`, with: payload };
    const number = this.#calls.length + 1;
    this.#news.calls.push(made);
    this.operations.push(made.operation);
    const watch = (call: OpenCall) => {
      signal?.addEventListener('abort', () => {
        if (!call.isAnswered) this.#news.aborted.push(number);
      });
      this.#calls.push(call);
      this.#open.add(number);
    };
    const early = this.early(number);
    if (early !== undefined) return this.#answerEarly(early, { ...made, takes }, watch);
    if (isMany) return this.#stream({ ...made, takes }, number, watch);
    return new Promise((resolve, reject) => {
      watch({
        ...made,
        takes,
        isMany,
        isAnswered: false,
        end: ({ kind, value }) => {
          if (kind === 'result') resolve(value);
          // eslint-disable-next-line @typescript-eslint/prefer-promise-reject-errors -- what a script says is rejected
          else reject(value);
        },
        next: () => undefined,
      });
    });
  }

  #answerEarly(answer: EarlyAnswer, made: Made, watch: Watch): unknown {
    const call = {
      ...made,
      isMany: false,
      isAnswered: true,
      end: () => undefined,
      next: () => undefined,
    };
    watch(call);
    this.#open.delete(this.#calls.length);
    if (answer.kind === 'error') throw copied(answer.value) as unknown as Error;
    return answer.kind === 'result' ? copied(answer.value) : undefined;
  }

  /** Every other one is an async iterable. */
  #stream(made: Made, number: number, watch: (call: OpenCall) => void): unknown {
    const stopped = (call: OpenCall) => {
      if (call.isAnswered) return;
      this.#news.stopped.push(number);
    };
    return number % 2 === 1 ? observableOf(made, watch, stopped) : iterableOf(made, watch, stopped);
  }
}

/** What is answered belongs to who has asked: it may be changed, and the script stays as it is. */
const copied = <T extends Json | undefined>(value: T): T =>
  typeof value === 'object' && value !== null ? structuredClone(value) : value;

type Watch = (call: OpenCall) => void;
type Made = MadeCall & Pick<OpenCall, 'takes'>;

function observableOf(made: Made, watch: Watch, stopped: Watch): object {
  let isOver = false;
  let observer: { next(value: unknown): void; error(e: unknown): void; complete(r: unknown): void };
  const call: OpenCall = {
    ...made,
    isMany: true,
    isAnswered: false,
    next: (value) => {
      if (!isOver) observer.next(value);
    },
    end({ kind, value }) {
      if (isOver) return;
      if (kind === 'result') observer.complete(value);
      else observer.error(value);
    },
  };
  watch(call);
  return {
    subscribe(given: typeof observer) {
      observer = given;
      return {
        unsubscribe() {
          if (!isOver) stopped(call);
          isOver = true;
        },
      };
    },
  };
}

function iterableOf(made: Made, watch: Watch, stopped: Watch): object {
  type Step = { readonly value: unknown } | Answer;
  const given: Step[] = [];
  const waiting: ((step: Step) => void)[] = [];
  let isOver = false;
  const give = (step: Step) => {
    const first = waiting.shift();
    if (first === undefined) given.push(step);
    else first(step);
  };
  const call: OpenCall = {
    ...made,
    isMany: true,
    isAnswered: false,
    next: (value) => {
      give({ value });
    },
    end: give,
  };
  watch(call);
  const resultOf = (step: Step): IteratorResult<unknown> => {
    if (!('kind' in step)) return { done: false, value: step.value };
    isOver = true;
    if (step.kind === 'error') throw step.value as unknown as Error;
    return { done: true, value: step.value };
  };
  const iterator = {
    next: async () => {
      const step = given.shift() ?? (await new Promise<Step>((resume) => waiting.push(resume)));
      return resultOf(step);
    },
    return: () => {
      if (!isOver) stopped(call);
      isOver = true;
      return Promise.resolve({ done: true, value: undefined });
    },
  };
  return { [Symbol.asyncIterator]: () => iterator };
}
