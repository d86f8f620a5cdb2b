import { MessageChannel, Worker, type MessagePort } from 'node:worker_threads';
import { LoadError, sharedMemory, WatchedMemory } from '../participants/index.js';
import type { WayTold } from '../model/way-told.js';
import type { Answer, Introduced, Order } from './messages.js';
import type { Cast } from './searching-of.js';

/** Why a worker is gone: one call of a participant took too long, its code ended the thread, or it was told to end. */
export interface Gone {
  readonly kind: 'hung' | 'crashed' | 'ended';
  readonly why: string;
  /** What the participant was sent in the run that was going on, the last one, and in those that may have left something. */
  readonly runs: WatchedMemory['runs'];
}

export function isGone(answer: Answer | Gone): answer is Gone {
  return answer.kind === 'hung' || answer.kind === 'crashed' || answer.kind === 'ended';
}

/** How long one call of an external participant may take, in milliseconds, if nothing else is said. */
export const usualPatience = 2000;

/** How often it is looked whether a worker is still going on, in milliseconds. */
const betweenLooks = 100;

/** To load a participant's code may take so many times as long as a call of it. */
const timesToLoad = 5;

/** Nobody needs so many times as long between two calls of a participant, unless its code has broken something. */
const timesBetweenCalls = 30;

export interface WorkerOptions {
  /** How long one call of an external participant may take, in milliseconds; for ever if not given. */
  readonly patience?: number;
  /** True if nothing is to be waited for any more. */
  readonly isOver?: () => boolean;
}

/** A worker thread, and what happens to it. */
export class OneWorker {
  readonly memory: WatchedMemory;
  readonly #worker: Worker;
  readonly #port: MessagePort;
  readonly #patience: number;
  #settle: ((answer: Answer | Gone) => void) | undefined;
  #isEnded = false;

  private constructor(cast: Cast, patience: number) {
    const memory = sharedMemory();
    this.memory = new WatchedMemory(memory);
    this.#patience = patience;
    const { port1, port2 } = new MessageChannel();
    this.#port = port1;
    // The built worker stands beside the chunk that this is in.
    this.#worker = new Worker(new URL('./worker.js', import.meta.url), {
      workerData: { cast, memory, port: port2 },
      transferList: [port2],
      // What the user's code prints is no part of the report.
      stdout: true,
      stderr: true,
    });
    port1.on('message', (answer: Answer) => this.#settle?.(answer));
    this.#worker.on('error', (error) => {
      this.#gone('crashed', error instanceof Error ? `${error.name}: ${error.message}` : 'unknown');
    });
    this.#worker.on('exit', (code) => {
      port1.close();
      this.#gone('crashed', `the thread was ended with code ${code}`);
    });
  }

  /**
   * Starts a worker and waits until its participants are ready; `undefined` if it is over before. Throws
   * {@link LoadError}.
   */
  static async start(
    cast: Cast,
    { patience = Infinity, isOver = () => false }: WorkerOptions = {},
  ): Promise<
    | {
        readonly worker: OneWorker;
        readonly participants: readonly Introduced[];
        readonly ways: readonly WayTold[];
      }
    | undefined
  > {
    const worker = new OneWorker(cast, patience);
    const answer = await worker.#next(patience * timesToLoad, isOver);
    if (answer.kind === 'ready')
      return { worker, participants: answer.participants, ways: answer.ways };
    await worker.end();
    if (answer.kind === 'ended') return undefined;
    const path = cast.external[0]?.path ?? '';
    if (answer.kind === 'unusable') throw new LoadError(answer.path, answer.detail);
    const why = 'why' in answer ? answer.why : 'it does not answer';
    if (path === '') throw new Error(`a worker cannot be started: ${why}`);
    throw new LoadError(path, why);
  }

  /** Starts a worker that is waited for however long its code takes within its limits. Throws {@link LoadError}. */
  static async begin(cast: Cast, patience = usualPatience): Promise<OneWorker> {
    const started = await OneWorker.start(cast, { patience });
    if (started === undefined) throw new Error('a worker was ended before it began');
    return started.worker;
  }

  /** True if it cannot be asked anything any more. */
  get isEnded(): boolean {
    return this.#isEnded;
  }

  /**
   * Asks for something; gives the answer, or why there is none. Throws {@link LoadError} if the participant turns out
   * to be of no use.
   */
  async ask(order: Order): Promise<Answer | Gone> {
    const answer = this.#next(this.#patience, () => false);
    this.#port.postMessage(order);
    const given = await answer;
    if (given.kind === 'fault') throw given.error;
    if (given.kind !== 'unusable') return given;
    await this.end();
    throw new LoadError(given.path, given.detail);
  }

  /** Ends it, whatever it does. */
  async end(): Promise<void> {
    this.#gone('ended', 'it was told to end');
    this.#isEnded = true;
    await this.#worker.terminate();
  }

  #next(patience: number, isOver: () => boolean): Promise<Answer | Gone> {
    return new Promise((resolve) => {
      const { memory } = this;
      let [calls, turns, since] = [memory.calls, memory.turns, performance.now()];
      const look = setInterval(() => {
        if (isOver()) this.#gone('ended', 'it was told to end');
        const waited = performance.now() - since;
        const hasMoved = memory.calls !== calls || memory.turns !== turns;
        if (hasMoved) [calls, turns, since] = [memory.calls, memory.turns, performance.now()];
        // What it leaves to be done after a call may go on for ever too.
        else if ((calls % 2 === 1 || turns % 2 === 1) && waited > patience)
          this.#gone('hung', `no answer within ${patience / 1000} s`);
        else if (waited > patience * timesBetweenCalls)
          this.#gone('hung', 'the thread does not go on: its code may have changed globals');
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
    const { runs } = this.memory;
    void this.#worker.terminate();
    settle({ kind, why, runs });
  }
}
