import type { TurnWatcher } from '../base/turn.js';
import type { Json } from '../base/json.js';
import { SentRuns, type Sent } from './sent-runs.js';
import { unhandled } from './unhandled.js';

/** Someone outside who sees where a participant is, and can tell when it does not come back. */
export interface Watchdog {
  /** A run begins: nothing has been sent. */
  begin(): void;
  /** An action is about to be sent. */
  note(send: string, payload: Json | undefined): void;
  /** Calls the participant's own code. */
  during<T>(call: () => T): T;
  /** Loads the participant's own code. */
  loading<T>(load: () => Promise<T>): Promise<T>;
}

/** Nobody is watching. */
export const unwatched: Watchdog = {
  begin: () => undefined,
  note: () => undefined,
  during: (call) => call(),
  loading: (load) => load(),
};

/** How many bytes what was sent in one run may take. */
const roomForScript = 1 << 20;
const headBytes = 20;

/** Memory that both sides see: a flag that ends a search, where the participant is, and what it was sent. */
export function sharedMemory(): SharedArrayBuffer {
  return new SharedArrayBuffer(headBytes + roomForScript);
}

const places = { over: 0, calls: 1, length: 2, line: 3, turns: 4 } as const;

/** The side of the one who runs the participant. */
export class SharedWatchdog implements Watchdog {
  /** What the participant was sent since its code was loaded. */
  readonly runs = new SentRuns();
  readonly #head: Int32Array;
  readonly #text: Buffer;
  #length = 0;
  /** True if others had their turn since the last run began: what was left to be done by runs before is done. */
  #hadTurn = true;

  constructor(memory: SharedArrayBuffer) {
    this.#head = new Int32Array(memory, 0, headBytes / 4);
    this.#text = Buffer.from(memory, headBytes);
  }

  get isOver(): boolean {
    return Atomics.load(this.#head, places.over) === 1;
  }

  /** The line of a log that is done now. */
  set line(number: number) {
    Atomics.store(this.#head, places.line, number);
  }

  begin(): void {
    this.runs.begin();
    if (this.#hadTurn) this.#length = 0;
    else this.#write('null\n');
    this.#hadTurn = false;
    Atomics.store(this.#head, places.length, this.#length);
  }

  note(send: string, payload: Json | undefined): void {
    const step: Sent = payload === undefined ? { send } : { send, payload };
    this.runs.add(step);
    this.#write(`${JSON.stringify(step)}\n`);
    Atomics.store(this.#head, places.length, this.#length);
  }

  #write(line: string): void {
    if (this.#length + Buffer.byteLength(line) <= roomForScript)
      this.#length += this.#text.write(line, this.#length);
  }

  /** Others have their turn: the counter is odd as long as they have it. */
  readonly turns: TurnWatcher = {
    begin: () => void Atomics.add(this.#head, places.turns, 1),
    end: () => {
      this.#hadTurn = true;
      Atomics.add(this.#head, places.turns, 1);
    },
  };

  /** The counter is odd as long as a call goes on. */
  during<T>(call: () => T): T {
    Atomics.add(this.#head, places.calls, 1);
    try {
      return unhandled.during(this.runs.current, call);
    } finally {
      Atomics.add(this.#head, places.calls, 1);
    }
  }

  async loading<T>(load: () => Promise<T>): Promise<T> {
    Atomics.add(this.#head, places.calls, 1);
    try {
      return await unhandled.during(this.runs.current, load);
    } finally {
      Atomics.add(this.#head, places.calls, 1);
    }
  }
}

/** The side of the one who waits. */
export class WatchedMemory {
  readonly #head: Int32Array;
  readonly #text: Buffer;

  constructor(memory: SharedArrayBuffer) {
    this.#head = new Int32Array(memory, 0, headBytes / 4);
    this.#text = Buffer.from(memory, headBytes);
  }

  end(): void {
    Atomics.store(this.#head, places.over, 1);
  }

  /** How often calls began and ended; odd during one. */
  get calls(): number {
    return Atomics.load(this.#head, places.calls);
  }

  /** How often others were given their turn, and came back; odd while they have it. */
  get turns(): number {
    return Atomics.load(this.#head, places.turns);
  }

  /** The line of a log that is done now, from 1; 0 before the first. */
  get line(): number {
    return Atomics.load(this.#head, places.line);
  }

  /** What was sent in the run that is going on, and before it in those that may have left something to be done. */
  get runs(): readonly (readonly Sent[])[] {
    const length = Atomics.load(this.#head, places.length);
    const lines = this.#text.toString('utf8', 0, length).split('\n').slice(0, -1);
    const runs: Sent[][] = [[]];
    for (const line of lines) {
      const sent = JSON.parse(line) as Sent | null;
      if (sent === null) runs.push([]);
      else runs.at(-1)?.push(sent);
    }
    return runs;
  }
}
