import { escapePointer } from '../base/json.js';
import type { Application } from '../model/application.js';
import { same } from '../base/same.js';
import type { Outcome, Participant, Report, Running, Target } from '../model/participant.js';
import { FollowEqual } from './follow-equal.js';
import { repeatableEnvironment } from './environment.js';
import { questionsOf, type Question } from './questions.js';
import { payloadIn, type ScriptStep } from './script.js';
import { targetsOf } from './targets.js';

/** The classes of what is observed after each step. */
export const observables = ['outcome', 'state', 'derived', 'notices', 'problems'] as const;
export type ObservedClass = (typeof observables)[number];

/** What one participant showed after a step. */
type Observation = Readonly<Record<ObservedClass, unknown>> & {
  /** What the participant was asked for under `derived`. */
  readonly asked: readonly Question[];
};

/** What is looked at: which classes are compared, which targets are watched, and what is asked in a state. */
export interface Observed {
  readonly classes: readonly ObservedClass[];
  readonly targets: readonly Target[];
  readonly questions: (state: Readonly<Record<string, unknown>>) => readonly Question[];
}

/** What of an application is looked at: everything that can be, or what belongs to some classes. */
export function observedOf(
  application: Application,
  classes: readonly ObservedClass[] = observables,
): Observed {
  return {
    classes,
    targets: classes.includes('notices') ? targetsOf(application) : [],
    questions: classes.includes('derived') ? questionsOf(application) : () => [],
  };
}

/** A place at which two participants differ. */
export interface Difference {
  /** The step after which they differ, counted from 0. */
  readonly step: number;
  readonly what: ObservedClass;
  /** JSON Pointer to the first part that differs. */
  readonly at: string;
  /** The participant that differs from the first. */
  readonly participant: string;
  readonly expected: unknown;
  readonly actual: unknown;
}

/** Every so many steps everything is compared in full, whatever has kept its identity; the last of a script is one. */
export const fullEvery = 6;

interface Player {
  readonly participant: Participant;
  /** What is compared part by part, since most of it stays as it is from step to step. */
  readonly equal: { readonly state: FollowEqual; readonly derived: FollowEqual };
  readonly running: Running;
  readonly notices: unknown[];
  readonly reports: Report[];
}

/** One run of a script: all participants side by side, the first of them being what the others are held against. */
export class Session {
  readonly #players: readonly Player[];
  readonly #observed: Observed;
  readonly #isThorough: boolean;
  #steps = 0;

  /** `isThorough` compares everything in full after every step: slower, and nothing is found too late. */
  constructor(participants: readonly Participant[], observed: Observed, isThorough = false) {
    this.#observed = observed;
    this.#isThorough = isThorough;
    this.#players = participants.map((participant) => {
      const notices: unknown[] = [];
      const reports: Report[] = [];
      const running = started(participant, reports);
      for (const target of observed.targets) {
        attempt(() =>
          running.watch?.(target, (now, before) => notices.push({ target, now, before })),
        );
      }
      const equal = { state: new FollowEqual(), derived: new FollowEqual() };
      return { participant, equal, running, notices, reports };
    });
  }

  /** The state of the first participant. */
  get state(): Readonly<Record<string, unknown>> {
    return this.#first.running.read();
  }

  get #first(): Player {
    return this.#players[0] as Player;
  }

  /** Does a step with every participant and compares what they show; the first difference, if there is one. */
  step(step: ScriptStep): {
    readonly outcome: Outcome;
    readonly difference: Difference | undefined;
  } {
    const payload = payloadIn(step, this.state);
    const [store = '', action = ''] = step.send.split('.');
    const [first, ...rest] = this.#players as [Player, ...Player[]];
    const { classes, questions } = this.#observed;
    const looksAtDerived = classes.includes('derived');
    const expected = observe(first, store, action, payload, looksAtDerived, questions);
    const others = rest.map((player) =>
      observe(player, store, action, payload, looksAtDerived, () => expected.asked),
    );
    const index = this.#steps++;
    const outcome = expected.outcome as Outcome;
    const isFull = this.#isThorough || index % fullEvery === fullEvery - 1;
    for (const [i, actual] of others.entries()) {
      const { participant, equal } = rest[i] as Player;
      const found = firstDifference(expected, actual, classes, equal, isFull);
      if (found !== undefined)
        return { outcome, difference: { step: index, participant: participant.name, ...found } };
    }
    return { outcome, difference: undefined };
  }
}

/** A participant that cannot even be made answers everything with that. */
function started(participant: Participant, reports: Report[]): Running {
  try {
    return participant.create(repeatableEnvironment(reports));
  } catch (error) {
    const fail = (): never => {
      throw error;
    };
    return { send: fail, read: fail, derive: fail };
  }
}

function observe(
  player: Player,
  store: string,
  action: string,
  payload: ScriptStep['payload'],
  looksAtDerived: boolean,
  questions: Observed['questions'],
): Observation {
  const { running, notices, reports } = player;
  notices.length = 0;
  reports.length = 0;
  const outcome = attempt(() => running.send(store, action, payload));
  const state = attempt(() => running.read());
  const asked = questions(state as Readonly<Record<string, unknown>>);
  return {
    outcome,
    state,
    derived: looksAtDerived
      ? attempt(() => ({ ...running.derive?.(), ...answers(running, asked) }))
      : undefined,
    asked,
    notices: [...notices],
    problems: [...reports],
  };
}

/** What is answered to each question, by its text. */
function answers(running: Running, asked: readonly Question[]) {
  return Object.fromEntries(
    asked.map(({ store, name, args, text }) => [
      text,
      attempt(() => running.ask?.(store, name, args)),
    ]),
  );
}

/** A participant that throws where it should answer shows that instead of an answer. */
function attempt(answer: () => unknown): unknown {
  try {
    return answer();
  } catch (error) {
    return { threw: error instanceof Error ? `${error.name}: ${error.message}` : String(error) };
  }
}

type Found = Pick<Difference, 'what' | 'at' | 'expected' | 'actual'>;

function firstDifference(
  expected: Observation,
  actual: Observation,
  classes: readonly ObservedClass[],
  equal: Player['equal'],
  isFull: boolean,
): Found | undefined {
  for (const what of classes) {
    const [one, other] = [expected[what], actual[what]];
    const isEqual =
      what === 'state' || what === 'derived'
        ? equal[what].isEqual(one, other, isFull)
        : same(one, other);
    if (isEqual) continue;
    return { what, ...narrowed(expected[what], actual[what], '') };
  }
  return undefined;
}

/** The innermost part that differs, by its JSON Pointer. */
function narrowed(
  expected: unknown,
  actual: unknown,
  at: string,
): Pick<Difference, 'at' | 'expected' | 'actual'> {
  const here = { at, expected, actual };
  if (
    typeof expected !== 'object' ||
    typeof actual !== 'object' ||
    expected === null ||
    actual === null
  )
    return here;
  if (Array.isArray(expected) !== Array.isArray(actual)) return here;
  const keys = [...new Set([...Object.keys(expected), ...Object.keys(actual)])];
  const differing = keys.filter(
    (key) =>
      !(
        Object.hasOwn(expected, key) &&
        Object.hasOwn(actual, key) &&
        same(partOf(expected, key), partOf(actual, key))
      ),
  );
  const [only] = differing;
  if (differing.length !== 1 || only === undefined) return here;
  return narrowed(partOf(expected, only), partOf(actual, only), `${at}/${escapePointer(only)}`);
}

function partOf(value: object, key: string): unknown {
  return Object.hasOwn(value, key) ? (value as Record<string, unknown>)[key] : undefined;
}
