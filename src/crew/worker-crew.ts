import type { Crew, Shrunk } from '../explore/crew.js';
import type { Difference } from '../explore/difference.js';
import type { Script } from '../explore/script.js';
import { shrink, type Failing } from '../explore/shrink.js';
import type { Unit, UnitResult } from '../explore/unit.js';
import { coverableOf } from '../model/cover-points.js';
import { Reached } from '../explore/reached.js';
import type { Answer, Order } from './messages.js';
import { isGone, OneWorker, type Gone } from './one-worker.js';
import type { CrewOptions, ReadyCrew } from './ready-crew.js';
import type { Cast } from './searching-of.js';

/** How long one call of a brought participant may take, in milliseconds, if nothing else is said. */
const usualPatience = 2000;

/** How often it is looked whether the search is over, in milliseconds. */
const betweenLooks = 50;

/** At most so many scripts are tried to shrink one that does not come back: each that fails takes a new worker. */
const mostHangs = 60;

/** How long a call may take while such a script is shrunk, in milliseconds, at most. */
const shortPatience = 500;

/** Several worker threads, each with participants of its own. Throws `LoadError`. */
export async function workerCrew(cast: Cast, options: CrewOptions): Promise<ReadyCrew> {
  const { jobs = 1, patience = usualPatience } = options;
  const started = await Promise.all(
    Array.from({ length: jobs }, () => OneWorker.start(cast, patience)),
  );
  const participants = started[0]?.participants ?? [];
  const workers = started.map(({ worker }) => worker);
  const crew = new WorkerCrew(cast, workers, patience, participants.at(-1)?.name ?? '');
  const look = setInterval(() => {
    if (options.isStopped?.() === true || options.clock() >= options.until) crew.stop();
  }, betweenLooks);
  const { points } = new Reached(coverableOf(cast.application));
  return {
    crew,
    compared: { application: cast.application, participants, points },
    async close() {
      clearInterval(look);
      await crew.close();
    },
  };
}

class WorkerCrew implements Crew {
  readonly #cast: Cast;
  readonly #workers: OneWorker[];
  readonly #patience: number;
  /** Who it is if one does not come back: what is brought stands last. */
  readonly #suspect: string;
  #isOver = false;

  constructor(cast: Cast, workers: readonly OneWorker[], patience: number, suspect: string) {
    this.#cast = cast;
    this.#workers = [...workers];
    this.#patience = patience;
    this.#suspect = suspect;
  }

  stop(): void {
    this.#isOver = true;
    for (const { memory } of this.#workers) memory.end();
  }

  async close(): Promise<void> {
    await Promise.all(this.#workers.map((worker) => worker.end()));
  }

  async run(
    units: readonly Unit[],
    known: readonly number[],
    onDone: (result: UnitResult) => void,
  ): Promise<readonly UnitResult[]> {
    const results: (UnitResult | undefined)[] = units.map(() => undefined);
    let next = 0;
    let firstFound = Infinity;
    const workAt = async (place: number) => {
      for (;;) {
        const i = next++;
        const unit = units[i];
        // What comes after a difference does not count: so the same is found whoever is faster.
        if (unit === undefined || i > firstFound || (this.#isOver && i > 0)) return;
        const result = await this.#do(place, unit, known);
        results[i] = result;
        onDone(result);
        if (result.found !== undefined) firstFound = Math.min(firstFound, i);
      }
    };
    await Promise.all(this.#workers.map((_, place) => workAt(place)));
    const upTo = results.findIndex((result) => result === undefined || result.found !== undefined);
    const whole =
      upTo < 0 ? results : results.slice(0, results[upTo] === undefined ? upTo : upTo + 1);
    return whole as UnitResult[];
  }

  async #do(place: number, unit: Unit, known: readonly number[]): Promise<UnitResult> {
    const answer = await this.#ask(place, { kind: 'unit', unit, known });
    if (answer.kind === 'unit') return answer.result;
    const found = this.#stuck(answer);
    return {
      steps: found.script.steps.length,
      scripts: 1,
      reached: known,
      kept: [],
      untold: new Map(),
      found,
      probing: undefined,
    };
  }

  /** Asks a worker, or a new one if it is gone. */
  async #ask(place: number, order: Order): Promise<Answer | Gone> {
    let worker = this.#workers[place];
    if (worker === undefined || worker.isEnded) {
      ({ worker } = await OneWorker.start(this.#cast, this.#patience));
      if (this.#isOver) worker.memory.end();
      this.#workers[place] = worker;
    }
    return worker.ask(order);
  }

  async shrink(failing: Failing): Promise<Shrunk> {
    if (isStuck(failing.difference)) return this.#shrinkStuck(failing);
    const answer = await this.#ask(0, { kind: 'shrink', failing });
    if (answer.kind === 'shrink') return answer.shrunk;
    // A shorter script made it hang: that is worse than what was found.
    return this.#shrinkStuck(this.#stuck(answer));
  }

  async #shrinkStuck(failing: Failing): Promise<Shrunk> {
    const patience = Math.min(this.#patience, shortPatience);
    let worker: OneWorker | undefined;
    const fails = async (script: Script): Promise<Difference | undefined> => {
      if (worker === undefined || worker.isEnded)
        ({ worker } = await OneWorker.start(this.#cast, patience));
      const answer = await worker.ask({
        kind: 'unit',
        unit: { kind: 'replay', script },
        known: [],
      });
      if (answer.kind === 'unit' || answer.kind === 'shrink') return undefined;
      const { difference } = this.#stuck(answer);
      return { ...difference, step: Math.min(difference.step, script.steps.length - 1) };
    };
    const again = await fails(failing.script);
    const shrunk = again === undefined ? failing : await shrink(failing, fails, mostHangs);
    await worker?.end();
    const { script, difference } = shrunk;
    const last = { ...failing.difference, step: difference.step };
    return { script, difference: last, isRepeatable: again !== undefined };
  }

  /** The difference of a participant that did not come back. */
  #stuck(answer: Answer | Gone): Failing {
    if (!isGone(answer)) throw new Error(`a worker answers '${answer.kind}'`);
    const { kind, why, sent } = answer;
    // Generated stores end no thread: something of ours did.
    if (this.#cast.brought.length === 0) throw new Error(`a worker ${kind}: ${why}`);
    return {
      script: { steps: sent },
      difference: {
        step: Math.max(0, sent.length - 1),
        what: 'outcome',
        at: '',
        participant: this.#suspect,
        expected: answersAlways,
        actual: { [kind]: why },
      },
    };
  }
}

const answersAlways = 'an answer';

function isStuck({ expected }: Difference): boolean {
  return expected === answersAlways;
}
