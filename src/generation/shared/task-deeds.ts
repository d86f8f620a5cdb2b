import {
  operationNamed,
  reactionsTo,
  type Application,
  type Reaction,
  type Store,
} from '../../model/application.js';
import type { Expr } from '../../model/expressions.js';
import { allSteps, exprsOf } from '../../model/step-kinds.js';
import type { Binding, TaskName } from '../../model/steps.js';
import { errorType, exprsOfTask, moments, type Moment, type Task } from '../../model/tasks.js';
import { without, type Type } from '../../model/types.js';
import { pascal } from '../build/reserved.js';
import type { WrittenDeed } from './action-body.js';
import { localsRead } from './expression-facts.js';
import { boundFor } from './reactions.js';

/** What a task does at its start: what it requires, its bindings, how long it waits, its steps. */
export interface StartDeed extends WrittenDeed {
  /** How long it waits, if that is computed. */
  readonly delay: Expr | undefined;
  /** The bound names that something later reads. */
  readonly later: readonly string[];
}

/** What a task does at its start; `undefined` if that is nothing. */
export function startOf(application: Application, store: Store, task: Task): StartDeed | undefined {
  const { requires, let: bindings, steps, wait } = task;
  const delay = wait === undefined || wait.kind === 'literal' ? undefined : wait;
  const isEmpty = requires.length + bindings.length + steps.start.length === 0;
  if (isEmpty && delay === undefined) return undefined;
  const bound = boundNames(task).map(({ name }) => name);
  const read = new Set(readLater(application, store, task));
  const later = bound.filter((name) => read.has(name));
  return { requires, let: bindings, steps: steps.start, delay, later };
}

/** What the requirements and the `let` of a task bind, with what their values are. */
function boundNames({ requires, let: bindings }: Task): readonly Binding[] {
  const required = requires.flatMap((one) => (one.kind === 'value' ? [one.binding] : []));
  return [...required, ...bindings];
}

/** The locals that are read after the start: by steps, by what the task asks, and by reactions. */
function readLater(application: Application, store: Store, task: Task): readonly string[] {
  const steps = moments
    .filter((moment) => moment !== 'start')
    .flatMap((moment) => allSteps(task.steps[moment]).flatMap(exprsOf));
  const asked = exprsOfTask({ ...task, per: undefined, wait: undefined });
  const reactions = moments.flatMap((moment) =>
    reactionsTo(application, store.name, `${task.name}.${moment}`).flatMap(({ reaction }) =>
      boundFor(reaction).map(({ name }) => name),
    ),
  );
  return [...[...steps, ...asked].flatMap(localsRead), ...reactions];
}

/** What can be read of a run besides its payload, with `result` or `error` where it is there. */
export function givenAt(application: Application, task: Task, moment?: Moment) {
  const operation = task.operation && operationNamed(application, task.operation);
  const isMissing = ({ kind }: Type) => kind === 'absent' || kind === 'null';
  const required = new Set(
    task.requires.flatMap((one) => (one.kind === 'value' ? [one.binding.name] : [])),
  );
  const bound = boundNames(task).map(({ name, value }) => ({
    name,
    type: required.has(name) ? without(value.type, application.types, isMissing) : value.type,
  }));
  const result = moment === 'each' ? operation?.results : operation?.result;
  const hasResult = (moment === 'each' || moment === 'finish') && result !== undefined;
  return [
    ...bound,
    ...(hasResult ? [{ name: 'result', type: result }] : []),
    ...(moment === 'fail' ? [{ name: 'error', type: errorType(operation?.error) }] : []),
  ];
}

/** The moments of a task after its start that do something, written as reactions to them. */
export function laterMoments(
  application: Application,
  store: Store,
  task: Task,
): readonly { readonly moment: Moment; readonly deed: Reaction }[] {
  return moments
    .filter((moment) => moment !== 'start' && task.steps[moment].length > 0)
    .map((moment) => ({
      moment,
      deed: {
        to: [{ store: store.name, action: `${task.name}.${moment}` }],
        given: [
          ...(task.payload === undefined ? [] : [{ name: 'payload', type: task.payload }]),
          ...givenAt(application, task, moment),
        ],
        steps: task.steps[moment],
        at: `${store.name}.${task.name}.${moment}`,
        span: task.span,
      },
    }));
}

/** The name of a function that does what a task does at a moment: `finishLoadSailings`. */
export const momentName = (task: Task, moment: Moment): string => `${moment}${pascal(task.name)}`;

/** The full names of tasks: `timetable.loadSailings`. */
export const fullNames = (tasks: readonly TaskName[]): readonly string[] =>
  tasks.map(({ store, task }) => `${store}.${task}`);

/** True if the start of any task computes how long it waits. */
export const computesDelays = ({ stores }: Application): boolean =>
  stores.some(({ tasks }) =>
    tasks.some(({ wait }) => wait !== undefined && wait.kind !== 'literal'),
  );
