/** A line of the log, as far as it is known when it begins. */
export interface RecordedLine {
  readonly do: string;
  readonly at?: number;
  readonly kind?: 'each' | 'finish' | 'fail';
  readonly by?: 'timer';
  readonly payload?: unknown;
  readonly operation?: string;
  readonly with?: unknown;
  readonly nth?: number;
  outcome?: 'done' | 'refused';
}

export interface RecordSettings {
  /** Is given each line, without the end of a line. */
  readonly write: (line: string) => void;
  /** The state of the old stores as JSON data: it stands in each line. */
  readonly state: () => unknown;
  /** Milliseconds since 1970; `Date.now` if not given. */
  readonly now?: () => number;
}

/** Writes lines: a head before the first, the time and the state in each. */
export class RecordedLines {
  readonly #settings: RecordSettings;
  #began: number | undefined;
  #state: string | undefined;
  #hasFailed = false;
  /** True if the state is read just now: methods that this calls are no lines. */
  isReading = false;
  hasTimers = false;

  constructor(settings: RecordSettings) {
    this.#settings = settings;
  }

  /** Something is about to happen; when, in milliseconds since the first time. Then, the state before it is written. */
  begin(): number {
    const now = this.#now();
    if (this.#began !== undefined) return now - this.#began;
    const began = (this.#began = now);
    this.#state = this.#stateText();
    const head = { leeshoreLog: 1, began: new Date(began).toISOString() };
    this.#write({ ...head, ...(this.hasTimers && { timers: true }) }, this.#state);
    return 0;
  }

  /** Writes a line with the state after it; not if nothing has changed, if that is wanted. */
  write(line: object, onlyIfChanged: boolean): void {
    const state = this.#stateText();
    if (onlyIfChanged && state === this.#state) return;
    this.#state = state;
    this.#write(line, state);
  }

  #now(): number {
    return (this.#settings.now ?? Date.now)();
  }

  #stateText(): string | undefined {
    this.isReading = true;
    try {
      return JSON.stringify(this.#settings.state());
    } catch (error) {
      this.#fail('state', error);
      return undefined;
    } finally {
      this.isReading = false;
    }
  }

  #write(line: object, state: string | undefined): void {
    try {
      const text = JSON.stringify(line);
      this.#settings.write(state === undefined ? text : `${text.slice(0, -1)},"state":${state}}`);
    } catch (error) {
      this.#fail('a line', error);
    }
  }

  /** The application goes on, recorded or not. */
  #fail(what: string, error: unknown): void {
    if (!this.#hasFailed) console.error(`recordOld: ${what} could not be written:`, error);
    this.#hasFailed = true;
  }
}
