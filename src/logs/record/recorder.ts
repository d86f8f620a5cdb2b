import { RecordedLines, type RecordedLine, type RecordSettings } from './recorded-lines.js';
import { afterMicrotasks, isPromise } from './later.js';

export type { RecordSettings } from './recorded-lines.js';

/** The operation of the schema's services that a call is: `{ operation: 'office.crossingsOn', with: day }`. */
export interface RecordedCall {
  readonly operation: string;
  readonly with?: unknown;
}

/** A call of a method, with what it goes on to do later. */
export interface Run {
  readonly do: string;
  readonly number: number;
  /** Whether it has asked a service, or set a timer. */
  goesOn: boolean;
}

/** What is under way and becomes one line: from what set it off until all that follows at once is done. */
interface Moment {
  readonly line: RecordedLine;
  readonly included: string[];
  readonly run: Run | undefined;
  /** A line that is written only if something has changed, or was begun. */
  readonly onlyIfChanged: boolean;
  /** Nothing but the caller has run since the call: another call is from outside. */
  isFresh: boolean;
}

type Job = () => void;

/** Data as they are now: whoever is given them may change them. What is no data is left out. */
function copied(data: unknown): unknown {
  try {
    const text = JSON.stringify(data) as string | undefined;
    return text === undefined ? undefined : JSON.parse(text);
  } catch {
    return undefined;
  }
}

/** Follows what recorded code does, moment by moment: what is set off by an answer or a timer comes one after the other. */
export class Recorder {
  readonly #lines: RecordedLines;
  readonly #waiting: Job[] = [];
  readonly #asked = new Map<string, number>();
  #moment: Moment | undefined;
  /** Whose code runs. */
  #run: Run | undefined;
  #depth = 0;
  #isBusy = false;
  #runs = 0;

  constructor(settings: RecordSettings) {
    this.#lines = new RecordedLines(settings);
  }

  /** The run whose code goes on now; it has begun something. */
  going(): Run | undefined {
    if (this.#run !== undefined) this.#run.goesOn = true;
    return this.#run;
  }

  /** True if a line is under way, to which what happens now belongs. */
  get isUnderWay(): boolean {
    return this.#moment !== undefined;
  }

  /** How often a service was asked for the same by now, with this call. */
  count(call: RecordedCall): number {
    const key = JSON.stringify([call.operation, call.with]);
    const times = (this.#asked.get(key) ?? 0) + 1;
    this.#asked.set(key, times);
    return times;
  }

  /** Timers have lines of their own. */
  recordTimers(): void {
    this.#lines.hasTimers = true;
  }

  wrapped<Method extends (...args: never[]) => unknown>(name: string, method: Method): Method {
    const call = (args: never[], body: () => unknown) => this.call(name, args, body);
    return function (this: unknown, ...args: never[]) {
      return call(args, () => method.apply(this, args));
    } as Method;
  }

  /** Calls a recorded method; what it returns. */
  call<Result>(name: string, payload: unknown, body: () => Result): Result {
    if (this.#lines.isReading) return body();
    if (this.#isInside) return this.#callInside(name, body);
    this.#close();
    const run = this.#newRun(name);
    this.#open({ do: name, payload }, { run, onlyIfChanged: false, isFresh: true });
    try {
      const result = this.#during(run, body);
      const isLater = isPromise(result);
      if (isLater) run.goesOn = true;
      this.#told(result === false ? 'refused' : 'done');
      return isLater ? (this.#handedOut(result) as Result) : result;
    } catch (error) {
      this.#told('refused');
      throw error;
    }
  }

  /** Something comes from outside that a run has waited for: `go` hands it over. */
  arrive(line: RecordedLine, run: Run | undefined, go: Job, onlyIfChanged = false): void {
    // What a recorded method calls itself is part of its line.
    if (this.#depth > 0) {
      go();
      return;
    }
    this.#enqueue(() => {
      this.#open(line, { run, onlyIfChanged, isFresh: false });
      this.#during(run, go);
    });
  }

  get #isInside(): boolean {
    return this.#depth > 0 || this.#moment?.isFresh === false;
  }

  #newRun(name: string): Run {
    return { do: name, number: (this.#runs += 1), goesOn: false };
  }

  #callInside<Result>(name: string, body: () => Result): Result {
    this.#moment?.included.push(name);
    return this.#during(this.#newRun(name), body);
  }

  #during<Result>(run: Run | undefined, body: () => Result): Result {
    const before = this.#run;
    this.#run = run;
    this.#depth += 1;
    try {
      return body();
    } finally {
      this.#depth -= 1;
      this.#run = before ?? this.#moment?.run;
    }
  }

  #open(line: RecordedLine, of: Pick<Moment, 'run' | 'onlyIfChanged' | 'isFresh'>): void {
    const at = this.#lines.begin();
    const own = line.payload === undefined ? line : { ...line, payload: copied(line.payload) };
    const moment: Moment = { line: { ...own, at }, included: [], ...of };
    this.#moment = moment;
    this.#isBusy = true;
    queueMicrotask(() => {
      moment.isFresh = false;
    });
    afterMicrotasks(() => {
      if (this.#moment !== moment) return;
      this.#close();
      this.#next();
    });
  }

  /** What is said of the line under way, which is written when all that follows at once is done. */
  #told(outcome: 'done' | 'refused'): void {
    if (this.#moment !== undefined) this.#moment.line.outcome = outcome;
  }

  #close(): void {
    const moment = this.#moment;
    if (moment === undefined) return;
    this.#moment = this.#run = undefined;
    const { line, included, run, onlyIfChanged } = moment;
    const isStart = line.kind === undefined && line.by === undefined && run?.goesOn === true;
    this.#lines.write(
      {
        ...line,
        ...(isStart && { kind: 'start' }),
        ...(run?.goesOn === true && { run: run.number }),
        ...(included.length > 0 && { included: [line.do, ...included] }),
      },
      onlyIfChanged && included.length === 0,
    );
  }

  /** Who has called from outside goes on outside: only when all that followed is done, and written. */
  #handedOut(result: Promise<unknown>): Promise<unknown> {
    return new Promise((resolve, reject) => {
      result.then(
        (value) => {
          this.#enqueue(() => {
            resolve(value);
          });
        },
        (error: unknown) => {
          this.#enqueue(() => {
            // eslint-disable-next-line @typescript-eslint/prefer-promise-reject-errors -- what the method rejects with
            reject(error);
          });
        },
      );
    });
  }

  #enqueue(job: Job): void {
    this.#waiting.push(job);
    if (!this.#isBusy) this.#next();
  }

  #next(): void {
    const job = this.#waiting.shift();
    this.#isBusy = job !== undefined;
    if (job === undefined) return;
    job();
    // What was handed out to code outside is over when that has gone on.
    if (this.#moment === undefined)
      afterMicrotasks(() => {
        if (this.#moment === undefined) this.#next();
      });
  }
}
