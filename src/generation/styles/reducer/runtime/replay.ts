// Does again what was recorded of reducer stores.
import type { States } from '../../../runtime/derived.js';
import type { TaskStates } from '../../../runtime/tasks.js';
import { Refusal, takenIn } from '../../../runtime/transaction.js';
import type { DoneAction, ReducerTasks } from './reducer-tasks.js';

/** The state of all stores, and what goes on of the tasks: it never changes. */
export interface AppValue<App> {
  readonly app: App;
  readonly tasks: TaskStates;
  /** What can be undone, if anything can. */
  readonly history?: object;
}

/** What is needed of histories. */
interface Undone {
  readonly states: object;
  named(name: string): unknown;
  restart(states: never): void;
  go(store: string, move: never): void;
  keep(action: string): boolean;
}

/**
 * The stores as a pure function from what they were, and what was done, to what they are. It calls no service, waits
 * for nothing and tells nobody. An outcome of a run that is not going on changes nothing. Throws a `TypeError` for what
 * the stores would have refused, or do not know.
 */
export function replayOf<App extends object>(
  made: ReducerTasks,
  histories?: Undone,
): (value: AppValue<App> | undefined, action: DoneAction) => AppValue<App> {
  const { engine, tasks } = made;
  const valueWith = (states: TaskStates): AppValue<App> => {
    const value = { app: engine.states as App, tasks: states };
    return histories === undefined ? value : { ...value, history: histories.states };
  };
  const perform = ({ type, payload }: DoneAction): void => {
    const [store = '', name = ''] = type.split('.');
    if (histories?.named(type) !== undefined) {
      histories.go(store, name as never);
      return;
    }
    if (!Object.hasOwn(engine.definitions[store]?.actions ?? {}, name))
      throw new TypeError(`There is no action '${type}'.`);
    engine.perform(type, payload);
  };
  const atStart = valueWith(tasks.states);
  return (value = atStart, { draws = {}, ...action }) => {
    const { type, payload } = action;
    if (type === takenIn) return { ...value, app: payload as App };
    engine.states = value.app as States;
    const [attaching = ''] = type.split('.attach');
    if (engine.states[attaching] === null && type === `${attaching}.attach`)
      return { ...value, app: { ...value.app, [attaching]: payload } };
    made.drawn = draws;
    try {
      histories?.restart(value.history as never);
      const states = tasks.replay(value.tasks, action, () => {
        perform(action);
      });
      histories?.keep(type);
      return valueWith(states);
    } catch (error) {
      if (error instanceof Refusal)
        throw new TypeError(`'${type}' is refused: ${error.reason}`, { cause: error });
      throw error;
    }
  };
}
