import { deedsOf, exprOf, type Application, type Store } from './application.js';
import { effectsOf, readsOf } from './footprint.js';
import { allSteps, exprsOf } from './step-kinds.js';
import { exprsOfTask, type Task } from './tasks.js';

const known = new WeakMap<Task, readonly FieldName[]>();

interface FieldName {
  readonly store: Store;
  readonly field: string;
}

/**
 * The fields that a run works with, at its end or between its rounds and calls, and that something else than the task stores, too: they may have changed
 * since the run was started.
 */
export function changedMeanwhile(
  application: Application,
  store: Store,
  task: Task,
): readonly FieldName[] {
  let found = known.get(task);
  if (found === undefined) {
    const used = fieldsOfRun(application, store, task);
    const stored = storedByOthers(application, `${store.name}.${task.name}.`);
    found = application.stores.flatMap((owner) =>
      owner.fields
        .filter(({ name }) => {
          const full = `${owner.name}.${name}`;
          return used.has(full) && stored.has(full);
        })
        .map(({ name }) => ({ store: owner, field: name })),
    );
    known.set(task, found);
  }
  return found;
}

function fieldsOfRun(application: Application, store: Store, task: Task): ReadonlySet<string> {
  const { finish } = task.steps;
  const exprs = [
    ...task.requires.map(exprOf),
    ...task.let.map(({ value }) => value),
    // What it follows starts it anew.
    ...exprsOfTask({ ...task, auto: undefined }),
    ...allSteps(finish).flatMap(exprsOf),
  ];
  return new Set([
    ...readsOf(exprs, application).fields,
    ...effectsOf(finish, store.name, application).changesInPart,
  ]);
}

/** The fields that anything stores but for a task: the beginning of its name is `timetable.load.`. */
function storedByOthers(application: Application, task: string): ReadonlySet<string> {
  return new Set(
    application.stores.flatMap((store) =>
      deedsOf(store)
        .filter(({ at }) => !at.startsWith(task))
        .flatMap(({ steps }) => [...effectsOf(steps, store.name, application).stores]),
    ),
  );
}
