// One entry for each kind of step: its parts, what it does beyond its paths, and how people get it wrong.
import type { Expr } from './expressions.js';
import type { Choice, Path, Step } from './steps.js';

type StepOf<K extends Step['kind']> = Extract<Step, { readonly kind: K }>;

/** A mistake that somebody may make in a step. */
export type StepFault =
  | 'part of a step left out'
  | 'wrong end of a list'
  | 'reset forgets'
  | 'refusal left out'
  | 'condition turned'
  | 'branches swapped';

/** A step that was got wrong: its parts that are another. */
export interface WrongStep<S extends Step = Step> {
  readonly fault: StepFault;
  readonly step: S;
}

/** A kind of step. */
interface StepKind<S extends Step> {
  /** The paths that it stores to. */
  readonly paths: (step: S) => readonly Path[];
  /** Its own expressions but for those of its paths, in the order of evaluation. */
  readonly exprs: (step: S) => readonly Expr[];
  /** What it does beyond the paths that it stores to, by names. */
  readonly beyond: (step: S) => Beyond;
  /** The steps within it. */
  readonly within?: (step: S) => readonly Step[];
  /** The ways in which it can go, as far as they are counted; none if not given. */
  readonly outcomes?: (step: S) => readonly string[];
  /** True if it may be refused, apart from a path that leads nowhere; never if not given. */
  readonly mayBeRefused?: (step: S) => boolean;
  /** The mistakes that people make in it; none if not given. */
  readonly wrong?: (step: S) => readonly WrongStep<S>[];
}

/** The effects of a step beyond the paths of its own store; none of a kind that is left out. */
interface Beyond {
  /** Fields of its own store that are put back. */
  readonly fields?: readonly string[];
  /** Stores that are put back whole. */
  readonly resets?: readonly string[];
  /** Actions that are done: `deck.admit`. */
  readonly runs?: readonly string[];
  /** Tasks: `timetable.load`. */
  readonly starts?: readonly string[];
  readonly cancels?: readonly string[];
  /** The histories that it goes through or empties: `deck.undo`. */
  readonly moves?: readonly string[];
}

const none = () => [];
const nothing = (): Beyond => ({});
const anyNumber = ['none', 'one', 'several'] as const;

const kinds: { readonly [K in Step['kind']]: StepKind<StepOf<K>> } = {
  set: {
    paths: ({ entries }) => entries.map(({ path }) => path),
    exprs: ({ entries }) => entries.map(({ value }) => value),
    beyond: nothing,
    outcomes: ({ entries }) =>
      entries.some(({ path }) => leadsToItem(path)) ? ['stored', 'missing'] : [],
    wrong: (step) =>
      lessEach(step.entries).map((entries) =>
        wrongStep('part of a step left out', { ...step, entries }),
      ),
  },
  add: {
    paths: ({ to }) => [to],
    exprs: ({ place, value }) => (typeof place === 'string' ? [value] : [place, value]),
    beyond: nothing,
    mayBeRefused: ({ place }) => typeof place !== 'string',
    wrong: (step) =>
      typeof step.place === 'string'
        ? [
            wrongStep('wrong end of a list', {
              ...step,
              place: step.place === 'end' ? 'start' : 'end',
            }),
          ]
        : [],
  },
  put: {
    paths: (step) => [step.in],
    exprs: ({ key, value }) => (key === undefined ? [value] : [key, value]),
    beyond: nothing,
    outcomes: () => ['added', 'replaced'],
    // No dictionary takes every key.
    mayBeRefused: ({ key }) => key !== undefined,
  },
  update: {
    paths: (step) => [step.in],
    exprs: ({ choice, changes }) => [chosenBy(choice), ...changes.map(({ value }) => value)],
    beyond: nothing,
    outcomes: ({ choice }) => howMany(choice),
    mayBeRefused: (step) => step.none !== undefined,
    wrong: (step) => [
      ...lessEach(step.changes).map((changes) =>
        wrongStep('part of a step left out', { ...step, changes }),
      ),
      ...turnedChoice(step),
      ...withoutRefusal(step),
    ],
  },
  remove: {
    paths: ({ from }) => [from],
    exprs: ({ choice }) => [chosenBy(choice)],
    beyond: nothing,
    outcomes: ({ choice }) => howMany(choice),
    mayBeRefused: (step) => step.none !== undefined,
    wrong: (step) => [...turnedChoice(step), ...withoutRefusal(step)],
  },
  updateEntries: {
    paths: (step) => [step.in],
    exprs: ({ test, changes }) => [test, ...changes.map(({ value }) => value)],
    beyond: nothing,
    outcomes: () => anyNumber,
    wrong: (step) => [
      ...lessEach(step.changes).map((changes) =>
        wrongStep('part of a step left out', { ...step, changes }),
      ),
      wrongStep('condition turned', { ...step, test: turned(step.test) }),
    ],
  },
  removeEntries: {
    paths: ({ from }) => [from],
    exprs: ({ test }) => [test],
    beyond: nothing,
    outcomes: () => anyNumber,
    wrong: (step) => [wrongStep('condition turned', { ...step, test: turned(step.test) })],
  },
  drop: {
    paths: ({ from }) => [from],
    exprs: ({ key }) => (typeof key === 'string' ? [] : [key]),
    beyond: nothing,
    outcomes: () => ['none', 'one'],
    mayBeRefused: (step) => step.none !== undefined,
    wrong: withoutRefusal,
  },
  when: {
    paths: none,
    exprs: ({ test }) => [test],
    beyond: nothing,
    within: (step) => [...step.then, ...step.else],
    outcomes: () => ['then', 'else'],
    wrong: (step) => [wrongStep('branches swapped', { ...step, then: step.else, else: step.then })],
  },
  reset: {
    paths: none,
    exprs: none,
    beyond: ({ fields }) => ({ fields }),
    wrong: (step) =>
      lessEach(step.fields).map((fields) => wrongStep('reset forgets', { ...step, fields })),
  },
  resetStores: {
    paths: none,
    exprs: none,
    beyond: ({ stores }) => ({ resets: stores }),
    wrong: (step) =>
      lessEach(step.stores).map((stores) => wrongStep('reset forgets', { ...step, stores })),
  },
  run: {
    paths: none,
    exprs: ({ payload }) => (payload === undefined ? [] : [payload]),
    beyond: ({ store, action }) => ({ runs: [`${store}.${action}`] }),
    mayBeRefused: () => true,
  },
  start: {
    paths: none,
    exprs: ({ payload }) => (payload === undefined ? [] : [payload]),
    beyond: ({ store, task }) => ({ starts: [`${store}.${task}`] }),
  },
  cancel: {
    paths: none,
    exprs: ({ per }) => (per === undefined ? [] : [per]),
    beyond: ({ tasks }) => ({ cancels: tasks.map(({ store, task }) => `${store}.${task}`) }),
    mayBeRefused: () => true,
    wrong: (step) =>
      lessEach(step.tasks).map((tasks) => wrongStep('part of a step left out', { ...step, tasks })),
  },
  history: {
    paths: none,
    exprs: none,
    beyond: ({ store, does }) => ({ moves: [`${store}.${does}`] }),
  },
  toggle: {
    paths: (step) => [step.in],
    exprs: ({ value }) => (value === undefined ? [] : [value]),
    beyond: nothing,
    outcomes: ({ value }) => (value === undefined ? [] : ['added', 'removed']),
  },
  move: {
    paths: (step) => [step.in],
    exprs: ({ from, to }) => [from.value, to],
    beyond: nothing,
    mayBeRefused: () => true,
  },
  let: {
    paths: none,
    exprs: ({ bindings }) => bindings.map(({ value }) => value),
    beyond: nothing,
  },
};

function kindOf<S extends Step>(step: S): StepKind<S> {
  return kinds[step.kind] as unknown as StepKind<S>;
}

function wrongStep<S extends Step>(fault: StepFault, step: S): WrongStep<S> {
  return { fault, step };
}

/** A list of several without each of its items in turn. */
function lessEach<T>(items: readonly T[]): readonly (readonly T[])[] {
  return items.length < 2 ? [] : items.map((_, i) => items.toSpliced(i, 1));
}

function chosenBy(choice: Choice): Expr {
  return choice.kind === 'key' ? choice.value : choice.test;
}

function howMany(choice: Choice): readonly string[] {
  return choice.kind === 'where' ? anyNumber : ['none', 'one'];
}

function turnedChoice<S extends StepOf<'update' | 'remove'>>(step: S): readonly WrongStep<S>[] {
  const { choice } = step;
  return choice.kind === 'where'
    ? [wrongStep('condition turned', { ...step, choice: { ...choice, test: turned(choice.test) } })]
    : [];
}

function withoutRefusal<S extends StepOf<'update' | 'remove' | 'drop'>>(
  step: S,
): readonly WrongStep<S>[] {
  return step.none === undefined
    ? []
    : [wrongStep('refusal left out', { ...step, none: undefined })];
}

/** A condition that holds where another does not. */
export function turned(expr: Expr): Expr {
  const { span } = expr;
  return { kind: 'unary', operator: '!', operand: expr, span, type: { kind: 'boolean' } };
}

/** The steps and the steps within them, outermost first. */
export function allSteps(steps: readonly Step[]): readonly Step[] {
  if (!steps.some((step) => kindOf(step).within !== undefined)) return steps;
  return steps.flatMap((step) => [step, ...allSteps(kindOf(step).within?.(step) ?? [])]);
}

/** The expressions of a step itself, not of the steps within it, in the order of evaluation. */
export function exprsOf(step: Step): readonly Expr[] {
  // Several places are gone to one after the other, each before its value is computed.
  if (step.kind === 'set')
    return step.entries.flatMap(({ path, value }) => [...exprsOfPath(path), value]);
  return [...pathsOf(step).flatMap(exprsOfPath), ...kindOf(step).exprs(step)];
}

function exprsOfPath({ segments }: Path): Expr[] {
  return segments.flatMap((segment) => (segment.kind === 'property' ? [] : [segment.value]));
}

/**
 * The expressions of a step that are computed for an item, or where an item is found: in code, within a function of
 * their own.
 */
export function exprsForItems(step: Step): readonly Expr[] {
  switch (step.kind) {
    case 'update':
    case 'remove':
    case 'updateEntries':
    case 'removeEntries':
      return exprsOf(step);
    case 'set':
      return step.entries.filter(({ path }) => leadsToItem(path)).map(({ value }) => value);
    case 'add':
    case 'put':
    case 'drop':
    case 'when':
    case 'reset':
    case 'resetStores':
    case 'run':
    case 'start':
    case 'cancel':
    case 'history':
    case 'toggle':
    case 'move':
    case 'let':
      return pathsOf(step).some(leadsToItem) ? exprsOf(step) : [];
  }
}

function leadsToItem({ segments }: Path): boolean {
  return segments.some(({ kind }) => kind !== 'property');
}

/** The effects of a step itself beyond the paths of its own store. */
export function beyondOf(step: Step): Beyond {
  return kindOf(step).beyond(step);
}

/** True if a step, or one within it, may store to other stores or through other actions. */
export function reachesFar(step: Step): boolean {
  return allSteps([step])
    .map(beyondOf)
    .some(({ runs, resets, cancels }) => [runs, resets, cancels].some(Boolean));
}

/** The paths that a step itself stores to. */
export function pathsOf(step: Step): readonly Path[] {
  return kindOf(step).paths(step);
}

/** The fields of the step's own store that it stores to itself. */
export function writtenFields(step: Step): readonly string[] {
  return [...pathsOf(step).map(({ field }) => field), ...(beyondOf(step).fields ?? [])];
}

/** The ways in which a step can go, as far as they are counted. */
export function outcomesOf(step: Step): readonly string[] {
  return kindOf(step).outcomes?.(step) ?? [];
}

/** True if a step itself may be refused; what does not fit is found at the end of the action. */
export function mayBeRefused(step: Step): boolean {
  return pathsOf(step).some(leadsToItem) || kindOf(step).mayBeRefused?.(step) === true;
}

/** The ways to get a step wrong. */
export function wrongSteps(step: Step): readonly WrongStep[] {
  return kindOf(step).wrong?.(step) ?? [];
}

/** The names that a step gives to what it goes over. */
export function namesOfEach(step: Step): readonly string[] {
  return 'each' in step ? [step.each].flat() : [];
}
