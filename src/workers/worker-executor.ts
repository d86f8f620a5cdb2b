import {
  confirm,
  type Load,
  type Executor,
  type Difference,
  Reached,
  firstInputs,
  type Known,
  type Shrunk,
  type Found,
  type WorkItem,
  type WorkResult,
} from '../comparing/index.js';
import { madeReady } from '../participants/index.js';
import { coverableOf } from '../model/cover-points.js';
import type { Answer, Introduced } from './messages.js';
import { isGone, OneWorker, usualPatience, type Gone } from './one-worker.js';
import type { ExecutorOptions, ReadyExecutor } from './ready-executor.js';
import type { Cast } from './searching-of.js';

const nothingKnown: Known = { reached: [], led: [], near: [], gone: [], traits: [] };

/** How often it is looked whether the search is over, in milliseconds. */
const betweenLooks = 50;

/** At most so many scripts are tried where each needs a worker of its own. */
const mostLoads = 120;

/** How long a call may take while a script is shrunk that does not come back, in milliseconds, at most. */
const shortPatience = 500;

/** How long is waited for something late that a script is known to set off, at most, and how much longer than it took. */
const mostLate = 2000;
const lateMargin = { times: 2, ms: 50 };

/** Several worker threads, each with participants of its own; `undefined` if it is over before they are ready. Throws `LoadError`. */
export async function startWorkers(
  given: Cast,
  options: ExecutorOptions,
): Promise<ReadyExecutor | undefined> {
  // A worker is a cold start: what all of them need is made here, once.
  const folders = given.folders.map((one) => ({ ...one, files: madeReady(one.files) }));
  const cast = { ...given, folders };
  const { jobs = 1, patience = usualPatience, clock, until } = options;
  const isStopped = () => options.isStopped?.() === true;
  const isOver = () => isStopped() || clock() >= until;
  // What is our own is loaded soon: a little is compared however short the time is.
  const isLoadOver = cast.external.length > 0 ? isOver : isStopped;
  const started = await Promise.all(
    Array.from({ length: jobs }, () =>
      OneWorker.start({ ...cast, isCounted: true }, { patience, isOver: isLoadOver }),
    ),
  );
  const ready = started.filter((one) => one !== undefined);
  const workers = ready.map(({ worker }) => worker);
  if (workers.length < jobs) {
    await Promise.all(workers.map((worker) => worker.end()));
    return undefined;
  }
  const participants = ready[0]?.participants ?? [];
  const executor = new WorkerExecutor(cast, workers, patience, participants, isStopped);
  const look = setInterval(() => {
    if (isOver()) executor.stop();
    if (isStopped()) void executor.close();
  }, betweenLooks);
  const { points } = new Reached(coverableOf(cast.application));
  return {
    executor,
    compared: {
      application: cast.application,
      participants,
      points,
      ways: ready[0]?.ways ?? [],
    },
    async close() {
      clearInterval(look);
      await executor.close();
    },
  };
}

class WorkerExecutor implements Executor {
  readonly #cast: Cast;
  readonly #workers: OneWorker[];
  readonly #patience: number;
  readonly #participants: readonly Introduced[];
  readonly #isStopped: () => boolean;
  #isOver = false;

  constructor(
    cast: Cast,
    workers: readonly OneWorker[],
    patience: number,
    participants: readonly Introduced[],
    isStopped: () => boolean,
  ) {
    this.#cast = cast;
    this.#workers = [...workers];
    this.#patience = patience;
    this.#participants = participants;
    this.#isStopped = isStopped;
  }

  stop(): void {
    this.#isOver = true;
    for (const { memory } of this.#workers) memory.end();
  }

  async close(): Promise<void> {
    await Promise.all(this.#workers.map((worker) => worker.end()));
  }

  async run(
    items: readonly WorkItem[],
    known: Known,
    onDone: (result: WorkResult) => void,
  ): Promise<readonly WorkResult[]> {
    const results: (WorkResult | undefined)[] = items.map(() => undefined);
    let next = 0;
    let firstFound = Infinity;
    const workAt = async (place: number) => {
      for (;;) {
        const i = next++;
        const item = items[i];
        // What comes after a difference does not count: so the same is found whoever is faster.
        if (item === undefined || i > firstFound || (this.#isOver && i > 0)) return;
        const result = await this.#do(place, item, known);
        if (result === undefined) return;
        results[i] = result;
        onDone(result);
        if (result.found !== undefined) firstFound = Math.min(firstFound, i);
      }
    };
    await Promise.all(this.#workers.map((_, place) => workAt(place)));
    const upTo = results.findIndex((result) => result === undefined || result.found !== undefined);
    const whole =
      upTo < 0 ? results : results.slice(0, results[upTo] === undefined ? upTo : upTo + 1);
    return whole as WorkResult[];
  }

  async settle(): Promise<Found | undefined> {
    if (this.#cast.external.length === 0) return undefined;
    const item: WorkItem = { kind: 'settle', mostMs: this.#patience };
    const results = await Promise.all(
      this.#workers.map((worker, place) =>
        worker.isEnded ? Promise.resolve(undefined) : this.#do(place, item, nothingKnown),
      ),
    );
    return results.find((result) => result?.found !== undefined)?.found;
  }

  /** Does a work item with a worker, or with a new one if that is gone; `undefined` if it was stopped before. */
  async #do(place: number, item: WorkItem, known: Known): Promise<WorkResult | undefined> {
    let worker = this.#workers[place];
    if (worker === undefined || worker.isEnded) {
      const started = this.#isStopped() ? undefined : await this.#start(this.#patience, true);
      if (started === undefined) return undefined;
      worker = this.#workers[place] = started;
      if (this.#isOver) worker.memory.end();
    }
    const answer = await worker.ask({ kind: 'work', item, known });
    if (answer.kind === 'work') return answer.result;
    if (answer.kind === 'ended') return undefined;
    const found = await this.#firstStuck(answer);
    return {
      steps: found.script.steps.length,
      alone: 0,
      scripts: 1,
      reached: known.reached,
      hits: [],
      gone: [],
      kept: [],
      notReported: new Map(),
      passedOver: new Map(),
      found,
      probing: undefined,
    };
  }

  /** `isCounted`: for the search; what confirms a difference runs the code as it is. */
  async #start(patience: number, isCounted: boolean): Promise<OneWorker | undefined> {
    const isOver = this.#isStopped;
    return (await OneWorker.start({ ...this.#cast, isCounted }, { patience, isOver }))?.worker;
  }

  async shrink(found: Found): Promise<Shrunk> {
    const { isStuck = false, cause } = found.difference;
    const patience = isStuck ? Math.min(this.#patience, shortPatience) : this.#patience;
    const wait = (cause?.afterMs ?? 0) * lateMargin.times + lateMargin.ms;
    const lateMs = cause === undefined ? 0 : Math.min(mostLate, wait);
    const shrunk = await confirm(found, {
      load: () => Promise.resolve(this.#load(patience, lateMs)),
      isOver: this.#isStopped,
      mayBeRandom: this.#cast.external.length > 0,
      mostLoads,
      instead: firstInputs(this.#cast.application, this.#participants),
    });
    if (!isStuck) return shrunk;
    // It was given less time while it was shrunk: what counts is what was found.
    const { expected, actual } = found.difference;
    return { ...shrunk, difference: { ...shrunk.difference, expected, actual } };
  }

  /** A worker of its own, begun when it is needed, and anew when it is gone. */
  #load(patience: number, lateMs: number): Load {
    let worker: OneWorker | undefined;
    return {
      fails: async (script) => {
        if (worker === undefined || worker.isEnded) worker = await this.#start(patience, false);
        const item: WorkItem = { kind: 'replay', script, lateMs };
        const answer = await worker?.ask({ kind: 'work', item, known: nothingKnown });
        if (answer === undefined || answer.kind === 'ended') return undefined;
        if (answer.kind === 'work') return answer.result.found?.difference;
        const { difference } = this.#stuck(answer);
        return { ...difference, step: Math.min(difference.step, script.steps.length - 1) };
      },
      close: async () => worker?.end(),
    };
  }

  /** What is left to be done by a run may come only after others: it is the first that does not come back by itself. */
  async #firstStuck(answer: Answer | Gone): Promise<Found> {
    const found = this.#stuck(answer);
    if (!isGone(answer) || answer.runs.length === 1) return found;
    const load = this.#load(Math.min(this.#patience, shortPatience), 0);
    for (const steps of answer.runs) {
      if (this.#isStopped()) break;
      const difference = steps.length > 0 ? await load.fails({ steps }) : undefined;
      if (difference?.isStuck === true)
        return {
          script: { steps },
          difference: { ...difference, actual: found.difference.actual },
        };
    }
    await load.close();
    return found;
  }

  /** The difference of a participant that did not come back. */
  #stuck(answer: Answer | Gone): Found {
    if (!isGone(answer)) throw new Error(`a worker answers '${answer.kind}'`);
    const { kind, why, runs } = answer;
    const sent = runs.at(-1) ?? [];
    // Generated stores end no thread: something of ours did.
    if (this.#cast.external.length === 0) throw new Error(`a worker ${kind}: ${why}`);
    const difference: Difference = {
      step: Math.max(0, sent.length - 1),
      what: 'outcome',
      at: '',
      // Who does not come back is an external one: these stand last.
      participant: this.#participants.at(-1)?.name ?? '',
      expected: 'an answer',
      actual: { [kind]: why },
      isStuck: true,
    };
    return { script: { steps: sent }, difference };
  }
}
