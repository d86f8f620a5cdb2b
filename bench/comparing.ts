import fc from 'fast-check';
import { Random } from '../src/base/random.js';
import { same } from '../src/base/same.js';
import { repeatableEnvironment } from '../src/comparing/playing/environment.js';
import { choicesOf, drawnInput, type Choice } from '../src/comparing/inputs/inputs.js';
import { PayloadSource } from '../src/comparing/inputs/payloads.js';
import { questionsOf, type Question } from '../src/comparing/inputs/questions.js';
import { mostAhead } from '../src/comparing/search/random-scripts.js';
import type { Searching } from '../src/comparing/searching.js';
import { Session } from '../src/comparing/session/session.js';
import { payloadIn, type SendStep } from '../src/comparing/script.js';
import { targetsOf } from '../src/comparing/inputs/targets.js';
import { compareBySearch } from '../src/comparing/compare.js';
import { localExecutor } from '../src/comparing/executor.js';
import { searchingOf } from '../src/workers/searching-of.js';
import type { Application } from '../src/model/application.js';
import type { Participant, Report, Running } from '../src/model/participant.js';
import { styles } from '../src/base/styles.js';
import { compareStores } from '../src/jobs/compare.js';
import { generatedInMemory } from '../src/jobs/generate.js';
import { readRuntime } from './generated.js';

/**
 * The same check in three ways: by compare, by a loop written by hand, and by a general-purpose property-testing
 * library's runner of commands against a model, as its documentation advises. All drive the reference and the
 * four stores and look at outcome, state, derived values, notices and problems after every step. Compare is
 * measured twice: on the scripts of the loop, and as it searches, where it passes over most of what comes to nothing.
 */
export const ways = ['compare', 'loop', 'library', 'search'] as const;
export type Rates = Readonly<Record<(typeof ways)[number], Rate>>;

/** Steps per second, and those of them that changed the state. */
export interface Rate {
  readonly steps: number;
  readonly changes: number;
}

const scriptLength = 60;

/** A participant that runs, with what it has shown since it was last asked. */
class Shown {
  readonly #running: Running;
  readonly #notices: unknown[] = [];
  readonly #reports: Report[] = [];

  constructor(participant: Participant, application: Application) {
    this.#running = participant.create(repeatableEnvironment(this.#reports));
    for (const target of targetsOf(application))
      this.#running.watch?.(target, (now, before) => this.#notices.push({ target, now, before }));
  }

  state(): Readonly<Record<string, unknown>> {
    return this.#running.read();
  }

  /** Does an action; gives all that can be seen after it. */
  after(step: SendStep, payload: ReturnType<typeof payloadIn>, asked: () => readonly Question[]) {
    this.#notices.length = 0;
    this.#reports.length = 0;
    const [store = '', action = ''] = step.send.split('.');
    const outcome = this.#running.send(store, action, payload);
    const state = this.#running.read();
    const questions = asked();
    return {
      outcome,
      state,
      derived: this.#running.derive?.(),
      answers: questions.map(({ store, name, args }) => this.#running.ask?.(store, name, args)),
      notices: [...this.#notices],
      reports: [...this.#reports],
    };
  }
}

/** Does a step with all and compares what they show with the first. */
function stepAll(
  shown: readonly Shown[],
  step: SendStep,
  questions: ReturnType<typeof questionsOf>,
): void {
  const [first, ...others] = shown as [Shown, ...Shown[]];
  const payload = payloadIn(step, first.state());
  let asked: readonly Question[] = [];
  const expected = first.after(step, payload, () => (asked = questions(first.state())));
  for (const other of others)
    // Equal as the stores promise it: -0 equals 0, which a strict comparison tells apart.
    if (
      !same(
        other.after(step, payload, () => asked),
        expected,
      )
    )
      throw new Error(`they differ after ${step.send}`);
}

type Done = readonly [steps: number, tookMs: number];

/** The loop's scripts, by what compare does them with. */
function byCompare(searching: Searching, steps: number): Done {
  const { application, participants, observed, reached } = searching;
  const random = new Random(1);
  const source = new PayloadSource(application.types, random);
  const choices = choicesOf(application, participants);
  const start = performance.now();
  for (let done = 0; done < steps; done += scriptLength) {
    const session = new Session(participants, observed, { reached, ahead: mostAhead });
    for (let i = 0; i < scriptLength; i++) {
      const step = drawnInput(application, random.pick(choices), source, session.state);
      if (session.step(step).difference !== undefined)
        throw new Error(`they differ after ${step.send}`);
    }
    session.close();
  }
  return [steps, performance.now() - start];
}

function byLoop({ application, participants }: Searching, steps: number): Done {
  const random = new Random(1);
  const source = new PayloadSource(application.types, random);
  const choices = choicesOf(application, participants);
  const questions = questionsOf(application);
  const start = performance.now();
  for (let done = 0; done < steps; done += scriptLength) {
    const shown = participants.map((participant) => new Shown(participant, application));
    for (let i = 0; i < scriptLength; i++) {
      const state = shown[0]?.state() ?? {};
      stepAll(shown, drawnInput(application, random.pick(choices), source, state), questions);
    }
  }
  return [steps, performance.now() - start];
}

/** The model is the reference, the real system the four stores; a command is an action with a drawn payload. */
class Send implements fc.Command<Shown, readonly Shown[]> {
  constructor(
    readonly application: Application,
    readonly choice: Choice,
    readonly seed: number,
    readonly questions: ReturnType<typeof questionsOf>,
    readonly count: () => void,
  ) {}

  check(): boolean {
    return true;
  }

  run(model: Shown, real: readonly Shown[]): void {
    this.count();
    const source = new PayloadSource(this.application.types, new Random(this.seed));
    const step = drawnInput(this.application, this.choice, source, model.state());
    stepAll([model, ...real], step, this.questions);
  }

  toString(): string {
    return `${this.choice.name}(${this.seed})`;
  }
}

function byLibrary({ application, participants }: Searching, steps: number): Done {
  const questions = questionsOf(application);
  let done = 0;
  const commands = choicesOf(application, participants).map((choice) =>
    fc.nat().map((seed) => new Send(application, choice, seed, questions, () => (done += 1))),
  );
  const start = performance.now();
  fc.assert(
    fc.property(fc.commands(commands, { maxCommands: scriptLength, size: 'max' }), (script) => {
      const [model, ...real] = participants.map((one) => new Shown(one, application));
      fc.modelRun(() => ({ model: model as Shown, real }), script);
    }),
    { numRuns: Math.ceil(steps / (scriptLength / 2)), seed: 1, endOnFailure: true },
  );
  return [done, performance.now() - start];
}

/** A participant, with how often its state has become another. */
function counting(participant: Participant, count: () => void): Participant {
  return {
    name: participant.name,
    create(environment) {
      const running = participant.create(environment);
      let last = running.read();
      return {
        send: (...args) => running.send(...args),
        derive: () => running.derive?.() ?? {},
        ask: (...args) => running.ask?.(...args),
        watch: (...args) => running.watch?.(...args) ?? (() => undefined),
        read() {
          const state = running.read();
          if (state !== last) count();
          last = state;
          return state;
        },
      };
    },
  };
}

/** As compare searches at random. */
async function bySearch(searching: Searching, steps: number): Promise<Done> {
  const { application, participants, reached } = searching;
  const executor = localExecutor(searching, () => Promise.resolve(false));
  const options = { seed: 1, steps, clock: () => performance.now(), until: Infinity };
  const compared = { application, participants, points: reached.points };
  const done = await compareBySearch(compared, executor, { ...options, search: 'random' });
  return [done.steps, done.tookMs];
}

/** Measures each way, one after the other, so many rounds, all with the same participants. */
export async function comparingRates(
  application: Application,
  steps: number,
  rounds: number,
): Promise<readonly Rates[]> {
  const folders = await generatedInMemory(application, styles, readRuntime);
  const made = await searchingOf({ application, folders, external: [], classes: undefined });
  let changes = 0;
  const [reference, ...others] = made.participants as [Participant, ...Participant[]];
  const participants = [counting(reference, () => (changes += 1)), ...others];
  const searching = { ...made, participants };
  const rate = async (way: (searching: Searching, steps: number) => Done | Promise<Done>) => {
    changes = 0;
    const [done, tookMs] = await way(searching, steps);
    return { steps: (done / tookMs) * 1000, changes: (changes / tookMs) * 1000 };
  };
  const all: Rates[] = [];
  for (let round = 0; round < rounds; round++)
    all.push({
      compare: await rate(byCompare),
      loop: await rate(byLoop),
      library: await rate(byLibrary),
      search: await rate(bySearch),
    });
  return all;
}

/** How many pairs of a state and an input a search of the small scope tries in so many seconds, with some workers. */
export async function smallScope(
  application: Application,
  seconds: number,
  jobs: number,
): Promise<number> {
  const folders = await generatedInMemory(application, styles, readRuntime);
  const start = performance.now();
  const { walks } = await compareStores(application, folders, {
    seed: 1,
    steps: 10_000_000,
    search: 'small',
    jobs,
    clock: () => performance.now(),
    until: start + seconds * 1000,
  });
  return walks.reduce((sum, walk) => sum + walk.transitions, 0);
}
