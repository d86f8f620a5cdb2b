import { named, storeNamed, type Application, type Store } from './application.js';
import type { Task } from './tasks.js';

/** A task, and the store that it belongs to. */
export interface TaskOf {
  readonly store: Store;
  readonly task: Task;
  /** `timetable.loadSailings`. */
  readonly name: string;
}

/** The tasks of applications, by their full names, in schema order. */
const known = new WeakMap<Application, ReadonlyMap<string, TaskOf>>();

/** All tasks of an application, by their full names, in schema order. */
export function tasksOf(application: Application): ReadonlyMap<string, TaskOf> {
  let found = known.get(application);
  if (found === undefined) {
    found = new Map(
      application.stores.flatMap((store) =>
        store.tasks.map((task) => {
          const name = `${store.name}.${task.name}`;
          return [name, { store, task, name }] as const;
        }),
      ),
    );
    known.set(application, found);
  }
  return found;
}

/** A task of that name; an exception if there is none, as the model is checked. */
export function taskNamed(application: Application, store: string, name: string): TaskOf {
  const found = tasksOf(application).get(`${store}.${name}`);
  if (found === undefined) named(storeNamed(application, store).tasks, name);
  return found as TaskOf;
}
