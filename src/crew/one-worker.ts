import { Worker } from 'node:worker_threads';
import { LoadError } from '../load/load-error.js';
import { sharedMemory, WatchedMemory } from '../load/watchdog.js';
import type { Answer, Introduced, Order } from './messages.js';
import type { Cast } from './searching-of.js';

/** Why a worker is gone: one call of a participant took too long, or its code ended the thread. */
export interface Gone {
  readonly kind: 'hung' | 'crashed';
  readonly why: string;
  /** What the participant was sent in the run that was going on. */
  readonly sent: WatchedMemory['sent'];
}

export function isGone(answer: Answer | Gone): answer is Gone {
  return answer.kind === 'hung' || answer.kind === 'crashed';
}

/** How often it is looked whether a worker is still going on, in milliseconds. */
const betweenLooks = 100;

/** A worker thread, and what happens to it. */
export class OneWorker {
  readonly memory: WatchedMemory;
  readonly #worker: Worker;
  readonly #patience: number;
  #settle: ((answer: Answer | Gone) => void) | undefined;
  #isEnded = false;

  private constructor(cast: Cast, patience: number) {
    const memory = sharedMemory();
    this.memory = new WatchedMemory(memory);
    this.#patience = patience;
    // The built worker stands beside the chunk that this is in.
    this.#worker = new Worker(new URL('./worker.js', import.meta.url), {
      workerData: { cast, memory },
      // What the user's code prints is no part of the report.
      stdout: true,
      stderr: true,
    });
    this.#worker.on('message', (answer: Answer) => this.#settle?.(answer));
    this.#worker.on('error', (error) => {
      this.#gone('crashed', error instanceof Error ? `${error.name}: ${error.message}` : 'unknown');
    });
    this.#worker.on('exit', (code) => {
      this.#gone('crashed', `the thread was ended with code ${code}`);
    });
  }

  /**
   * Starts a worker and waits until its participants are ready. `patience` is how long one call of a brought one may
   * take, in milliseconds. Throws {@link LoadError}.
   */
  static async start(
    cast: Cast,
    patience = Infinity,
  ): Promise<{ readonly worker: OneWorker; readonly participants: readonly Introduced[] }> {
    const worker = new OneWorker(cast, patience);
    const answer = await worker.#next();
    if (answer.kind === 'ready') return { worker, participants: answer.participants };
    await worker.end();
    const path = cast.brought[0]?.path ?? '';
    if (answer.kind === 'unusable') throw new LoadError(answer.path, answer.detail);
    const why = 'why' in answer ? answer.why : 'it does not answer';
    if (path === '') throw new Error(`a worker cannot be started: ${why}`);
    throw new LoadError(path, why);
  }

  /** Whether it cannot be asked anything any more. */
  get isEnded(): boolean {
    return this.#isEnded;
  }

  /** Asks for something; gives the answer, or why there is none. */
  async ask(order: Order): Promise<Answer | Gone> {
    const answer = this.#next();
    this.#worker.postMessage(order);
    const given = await answer;
    if (given.kind === 'fault') throw given.error;
    return given;
  }

  async end(): Promise<void> {
    this.#isEnded = true;
    await this.#worker.terminate();
  }

  #next(): Promise<Answer | Gone> {
    return new Promise((resolve) => {
      let [calls, since] = [this.memory.calls, performance.now()];
      const look = setInterval(() => {
        const now = this.memory.calls;
        if (now !== calls) [calls, since] = [now, performance.now()];
        else if (now % 2 === 1 && performance.now() - since > this.#patience)
          this.#gone('hung', `no answer within ${this.#patience / 1000} s`);
      }, betweenLooks);
      this.#settle = (answer) => {
        clearInterval(look);
        this.#settle = undefined;
        resolve(answer);
      };
    });
  }

  #gone(kind: Gone['kind'], why: string): void {
    const settle = this.#settle;
    if (settle === undefined) return;
    this.#isEnded = true;
    const { sent } = this.memory;
    void this.#worker.terminate();
    settle({ kind, why, sent });
  }
}
