import type { State } from '../../base/state.js';
import type { Json } from '../../base/json.js';
import type { Application, Store } from '../../model/application.js';
import type { Participant } from '../../model/participant.js';
import type { Operation, Task } from '../../model/tasks.js';
import type { Outside } from '../playing/outside.js';
import type { TasksShown } from '../playing/player.js';
import type {
  AnswerStep,
  CancelStep,
  PassStep,
  StartStep,
  TaskStep,
  ValueStep,
} from '../script.js';
import { drawnInput, smallInputs, startsOf, type Choice } from './inputs.js';
import { smallPayloads } from './small-values.js';
import type { PayloadSource } from './payloads.js';
import { poolOf } from './pool.js';

/** What the first participant shows that decides what can be done about tasks. */
export interface TaskMoment {
  readonly state: State;
  readonly outside: Outside;
  readonly tasks: TasksShown | undefined;
}

/** The chance that something is done about calls and timers where there are some, and that a task is started. */
const shareOfAnswers = 0.5;
const shareOfStarts = 0.45;
const shareOfCancels = 0.12;
/** The chance that a start is of a task that has a run going on: it meets that. */
const shareOfMeeting = 0.35;
/** The chance that a start is given what a run that goes on was given: those with one value of `per` meet. */
const shareOfSame = 0.35;
/** Of answers: how often it is an error, something that does not fit, or nothing. */
const shareOfErrors = 0.2;
const shareOfMisfits = 0.06;
const shareOfNothing = 0.04;
/** The chance that time passes in place of an answer, and that up to the next timer. */
const shareOfPassing = 0.35;
const shareOfNext = 0.75;
/** The chance that time passes for code of the user's where the schema has no timer, and how much, in milliseconds. */
const shareOfOthersTime = 0.04;
const timesOfOthers = [1, 100, 1000, 10_000];
/** The chance that a stream goes on. */
const shareOfValues = 0.7;

/** Draws what is done about tasks. */
export class TaskInputs {
  readonly #application: Application;
  readonly #source: PayloadSource;
  readonly #starts: readonly Choice[];
  /** True if somebody is given only answers that fit. */
  readonly #fitsOnly: boolean;
  /** True if there is code of the user's, which may wait where the schema does not. */
  readonly #hasOthers: boolean;
  /** Those that everybody can cancel. */
  readonly #cancels: ReadonlySet<string>;
  readonly #operations: ReadonlyMap<string, Operation>;

  constructor(
    application: Application,
    participants: readonly Pick<Participant, 'has' | 'judgesAnswers'>[],
    source: PayloadSource,
    isMeant: (name: string) => boolean = () => true,
  ) {
    this.#fitsOnly = participants.some(({ judgesAnswers }) => judgesAnswers === false);
    this.#hasOthers = participants.some(({ has }) => has !== undefined);
    this.#application = application;
    this.#source = source;
    this.#starts = startsOf(application, participants).filter(({ name }) => isMeant(name));
    this.#cancels = new Set(
      this.#starts
        .map(({ name }) => name)
        .filter((name) => participants.every(({ has }) => has?.cancels.has(name) !== false)),
    );
    this.#operations = new Map(
      application.services.flatMap(({ name, operations }) =>
        operations.map((one) => [`${name}.${one.name}`, one]),
      ),
    );
  }

  /** Something about tasks; nothing if it is the turn of something else. */
  draw(moment: TaskMoment): TaskStep | undefined {
    const { random } = this.#source;
    const { open, next } = moment.outside;
    if (open.length > 0 || next !== undefined)
      if (random.chance(shareOfAnswers)) return this.#goOn(moment, open, next);
    if (this.#hasOthers && next === undefined && random.chance(shareOfOthersTime))
      return this.#pass(next);
    if (this.#starts.length === 0 || !random.chance(shareOfStarts)) return undefined;
    const going = this.#starts.filter((one) => runsOf(moment.tasks, ...namesOf(one)).length > 0);
    const meets = going.length > 0 && random.chance(shareOfMeeting);
    const choice = random.pick(meets ? going : this.#starts);
    if (this.#cancels.has(choice.name) && random.chance(shareOfCancels))
      return this.#cancel(choice, moment);
    const same = runsOf(moment.tasks, ...namesOf(choice));
    if (choice.action.payload !== undefined && same.length > 0 && random.chance(shareOfSame))
      return { start: choice.name, payload: random.pick(same) };
    const { send, ...given } = drawnInput(this.#application, choice, this.#source, moment.state);
    const start: StartStep = { start: send, ...given };
    return start;
  }

  #goOn({ state, outside }: TaskMoment, open: readonly number[], next: number | undefined) {
    const { random } = this.#source;
    const mayPass = next !== undefined || this.#hasOthers;
    const passes = open.length === 0 || (mayPass && random.chance(shareOfPassing));
    return passes ? this.#pass(next) : this.#answer(random.pick(open), outside, state);
  }

  #pass(next: number | undefined): PassStep {
    const { random } = this.#source;
    // Whoever else takes part may have timers of its own.
    if (next === undefined) return { pass: random.pick(timesOfOthers) };
    if (random.chance(shareOfNext)) return { pass: 'next' };
    return { pass: random.pick([0, 1, Math.max(0, next - 1), next, next + 1, 1000]) };
  }

  #answer(number: number, outside: Outside, state: State): AnswerStep | ValueStep {
    const { random } = this.#source;
    const operation = this.#operations.get(outside.call(number)?.operation ?? '');
    if (operation?.results !== undefined && random.chance(shareOfValues))
      return { value: number, result: this.#result(operation.results, operation, state) };
    if (random.chance(shareOfErrors))
      return { answer: number, error: this.#error(operation, state) };
    if (operation?.result === undefined || (!this.#fitsOnly && random.chance(shareOfNothing)))
      return { answer: number, nothing: true };
    return { answer: number, result: this.#result(operation.result, operation, state) };
  }

  #result(type: NonNullable<Operation['result']>, { dropsExtra }: Operation, state: State): Json {
    const { random } = this.#source;
    if (!this.#fitsOnly && random.chance(shareOfMisfits))
      return random.pick<Json>([[[]], null, 'tide', 0, {}]);
    const fitting = this.#source.fitting(type, poolOf(this.#application, state));
    return dropsExtra && random.chance(0.3) ? withExtra(fitting) : fitting;
  }

  #error(operation: Operation | undefined, state: State): Json {
    const { random } = this.#source;
    if (operation?.error !== undefined && random.chance(0.6))
      return this.#source.fitting(operation.error, poolOf(this.#application, state));
    return random.pick<Json>([{ message: 'fog' }, 'fog', { message: 7 }, null, 503]);
  }

  #cancel({ name, action }: Choice, { tasks }: TaskMoment): CancelStep {
    const { random } = this.#source;
    const { per } = action as Task;
    if (per === undefined || random.chance(0.3)) return { cancel: name };
    const runs = runsOf(tasks, ...namesOf({ name })).filter((one) => typeof one !== 'object');
    if (runs.length > 0 && random.chance(0.6)) return { cancel: name, per: random.pick(runs) };
    return { cancel: name, per: this.#source.fitting(per.type, noPool) };
  }
}

/** What is tried about tasks in a small scope. */
interface SmallScope {
  /** What may be started, and what may be cancelled. */
  readonly starts: readonly Choice[];
  readonly all: readonly Choice[];
  readonly moment: TaskMoment;
}

/** At most so many payloads are tried for a start, and so many results for an answer. */
const mostStarts = 2;
const mostResults = 2;

/** What can be done about tasks, with a few values each: starts, cancels, answers of each kind, time. */
export function smallTaskInputs(
  application: Application,
  { starts, all, moment: { state, outside, tasks } }: SmallScope,
): readonly TaskStep[] {
  const begun = starts.flatMap((choice) =>
    smallInputs(application, choice, state)
      .slice(0, mostStarts)
      .map(({ send, ...given }): StartStep => ({ start: send, ...given })),
  );
  const cancelled = all
    .filter((choice) => runsOf(tasks, ...namesOf(choice)).length > 0)
    .map(({ name }): CancelStep => ({ cancel: name }));
  const operations = new Map(
    application.services.flatMap(({ name, operations: own }) =>
      own.map((one) => [`${name}.${one.name}`, one]),
    ),
  );
  const pool = poolOf(application, state);
  const valuesOf = (type: NonNullable<Operation['result']>): readonly Json[] =>
    smallPayloads(type, pool, application.types)
      .slice(0, mostResults)
      .map(({ payload }) => payload);
  const answers = outside.open.flatMap((number): readonly TaskStep[] => {
    const operation = operations.get(outside.call(number)?.operation ?? '');
    const results = operation?.result === undefined ? [] : valuesOf(operation.result);
    return [
      ...(operation?.results === undefined
        ? []
        : valuesOf(operation.results).map((result) => ({ value: number, result }))),
      ...(results.length === 0
        ? [{ answer: number, nothing: true as const }]
        : results.map((result) => ({ answer: number, result }))),
      { answer: number, error: { message: 'fog' } },
    ];
  });
  const passes = outside.next === undefined ? [] : [{ pass: 'next' as const }];
  return [...begun, ...cancelled, ...answers, ...passes];
}

const noPool = { keys: [], names: [], texts: [], numbers: [], records: [] };

function namesOf({ name }: Pick<Choice, 'name'>): readonly [store: string, task: string] {
  const [store = '', task = ''] = name.split('.');
  return [store, task];
}

function runsOf(tasks: TasksShown | undefined, store: string, task: string): readonly Json[] {
  const all = tasks?.running as
    | Readonly<Record<Store['name'], Readonly<Record<string, { runs: readonly Json[] }>>>>
    | undefined;
  return all?.[store]?.[task]?.runs ?? [];
}

/** A value with a property that no type has, where it is an object or a list of such. */
function withExtra(value: Json): Json {
  if (Array.isArray(value)) return value.map(withExtra);
  if (typeof value !== 'object' || value === null) return value;
  return { ...value, gull: true };
}
