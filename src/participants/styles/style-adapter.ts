import type { State } from '../../base/state.js';
import {
  reasons,
  type Outcome,
  type Running,
  type Target,
  type TaskReadings,
} from '../../model/participant.js';
import type { Names } from '../names.js';

export type Changed = (now: unknown, before: unknown) => void;
export type Act = (payload: unknown) => Outcome;

export type { State };

/** Gives what a lazy store is attached with. */
export type LazyStoreOf = (store: string) => unknown;

const notAttached: Outcome = { status: 'refused', reason: reasons.notAttached };

/** What stands for an action, or a task, of a store that is not attached. */
const refused = Object.assign((): Outcome => notAttached, { cancel: (): Outcome => notAttached });

/** Puts running stores into a state. */
export type Restore = (state: State) => void;

/** How the generated stores of a style are run. */
export interface StyleAdapter {
  /** Turns what `createStores` gives into a running participant. */
  adapt(created: never, names: Names, lazyStore: LazyStoreOf): Running;
  /** The engine: the module of the run time that it is in, and its name there. */
  readonly engine: readonly [module: string, name: string];
}

/** Names that were put together: engines compare texts faster that they have seen. */
const known = new Map<string, Map<string, string>>();

export function fullName(owner: string, action: string): string {
  let own = known.get(owner);
  if (own === undefined) known.set(owner, (own = new Map<string, string>()));
  let name = own.get(action);
  if (name === undefined) own.set(action, (name = `${owner}.${action}`));
  return name;
}

type TargetParts = readonly [owner: string, name: string | undefined, reading: string | undefined];

const targets = new Map<Target, TargetParts>();

export function splitTarget(target: Target): TargetParts {
  let parts = targets.get(target);
  if (parts === undefined) {
    const [owner = '', name, reading] = target.split('.');
    targets.set(target, (parts = [owner, name, reading]));
  }
  return parts;
}

/** A task of stores that are called by name. */
export type TaskHandle = Act & { cancel(...per: readonly unknown[]): Outcome };

/** Starts and cancels the tasks of stores that are called by name. */
export function byHandles(
  stores: Readonly<Record<string, Readonly<Record<string, unknown>> | null>>,
): Pick<Required<Running>, 'start' | 'cancel'> {
  const handleOf = (owner: string, task: string) => actionOf(stores, owner, task) as TaskHandle;
  return {
    start: (owner, task, payload) => handleOf(owner, task)(payload),
    cancel(owner, task, per) {
      const handle = handleOf(owner, task);
      return per === undefined ? handle.cancel() : handle.cancel(per);
    },
  };
}

/** What reads all that goes on of tasks. */
export function eachTask(
  { tasks }: Names,
  isThere: (owner: string) => boolean,
  read: (owner: string, task: string) => TaskReadings[string],
): () => Record<string, TaskReadings> {
  const all = Object.entries(tasks);
  return () =>
    Object.fromEntries(
      all
        .filter(([owner]) => isThere(owner))
        .map(([owner, own]) => [
          owner,
          Object.fromEntries(own.map((task) => [task, read(owner, task)])),
        ]),
    );
}

/** The action of stores that are called by name. */
export function actionOf(
  stores: Readonly<Record<string, Readonly<Record<string, unknown>> | null>>,
  owner: string,
  action: string,
): Act {
  const own = stores[owner];
  if (own === null) return refused;
  const act = own?.[action];
  if (typeof act !== 'function') throw new TypeError(`There is no action '${owner}.${action}'.`);
  return act as Act;
}

/** What reads all derived values of stores that are there: where each is found is looked up once. */
export function eachDerived(
  { derived }: Names,
  isThere: (owner: string) => boolean,
  find: (owner: string, name: string) => () => unknown,
): () => Record<string, Record<string, unknown>> {
  const found = new Map<string, readonly (readonly [string, () => unknown])[]>();
  const owners = Object.keys(derived);
  return () => {
    const all: Record<string, Record<string, unknown>> = {};
    for (const owner of owners) {
      if (!isThere(owner)) continue;
      let own = found.get(owner);
      if (own === undefined) {
        own = (derived[owner] ?? []).map((name) => [name, find(owner, name)]);
        found.set(owner, own);
      }
      const values: Record<string, unknown> = (all[owner] = {});
      for (const [name, read] of own) values[name] = read();
    }
    return all;
  };
}
