import { deedsOf, exprOf, storeNamed, type Application, type Store } from './application.js';
import { fieldsReadBy } from './fields-read.js';
import { allSteps, exprsOf, pathsOf, writtenFields } from './step-kinds.js';
import type { Task } from './tasks.js';

const known = new WeakMap<Task, readonly FieldName[]>();

interface FieldName {
  readonly store: Store;
  readonly field: string;
}

/**
 * The fields that the end of a run works with and that something else than the task stores, too: they may have changed
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
  const steps = allSteps(task.steps.finish);
  const used = fieldsReadBy(
    [
      ...task.requires.map(exprOf),
      ...task.let.map(({ value }) => value),
      ...steps.flatMap(exprsOf),
    ],
    application,
  );
  for (const step of steps)
    for (const { field, segments } of pathsOf(step))
      if (step.kind !== 'set' || segments.length > 0) used.add(`${store.name}.${field}`);
  return used;
}

/** The fields that anything stores but for a task: the beginning of its name is `timetable.load.`. */
function storedByOthers(application: Application, task: string): ReadonlySet<string> {
  const stored = new Set<string>();
  for (const store of application.stores)
    for (const { at, steps } of deedsOf(store)) {
      if (at.startsWith(task)) continue;
      for (const step of allSteps(steps)) {
        for (const field of writtenFields(step)) stored.add(`${store.name}.${field}`);
        if (step.kind !== 'resetStores') continue;
        for (const reset of step.stores)
          for (const { name } of storeNamed(application, reset).fields)
            stored.add(`${reset}.${name}`);
      }
    }
  return stored;
}
