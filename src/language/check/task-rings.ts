import type { Problems } from '../problems/problem.js';
import type { Store, Stores } from '../../model/application.js';
import { doneWith, effectsOf, readsOf } from '../../model/footprint.js';
import type { Auto, Task } from '../../model/tasks.js';

/** Reports tasks that would start themselves again and again, without any time in between. */
export function refuseTaskRings(application: Stores, problems: Problems): void {
  const { stores } = application;
  const tasks = new Map<string, { readonly store: Store; readonly task: Task }>(
    stores.flatMap((store) =>
      store.tasks.map((task) => [`${store.name}.${task.name}`, { store, task }] as const),
    ),
  );
  const done = new Set<string>();
  const way = new Set<string>();
  const visit = (name: string): void => {
    const found = tasks.get(name);
    if (found === undefined || done.has(name)) return;
    if (way.has(name)) {
      const names = [...way];
      const ring = [...names.slice(names.indexOf(name)), name];
      problems.add('circular-start', found.task.span, { ring });
      return;
    }
    way.add(name);
    for (const next of startedAtOnce(application, found)) visit(next);
    way.delete(name);
    done.add(name);
  };
  for (const name of tasks.keys()) visit(name);
  for (const { store, task } of tasks.values())
    refuseOwnFollowing(application, store, task, problems);
}

/** The tasks that a task starts without any time in between. */
function startedAtOnce(
  application: Stores,
  { store, task }: { readonly store: Store; readonly task: Task },
): readonly string[] {
  const isAtOnce =
    task.operation === undefined &&
    (task.wait === undefined || (task.wait.kind === 'literal' && task.wait.value === 0)) &&
    task.every === undefined;
  const moments = isAtOnce ? (['start', 'finish'] as const) : (['start'] as const);
  return moments.flatMap((moment) =>
    doneWith(application, `${store.name}.${task.name}.${moment}`).flatMap((one) => [
      ...effectsOf(one.deed.steps, one.store.name, application).starts,
    ]),
  );
}

/** A task that follows something which its own steps change at its start. */
function refuseOwnFollowing(
  application: Stores,
  store: Store,
  task: Task,
  problems: Problems,
): void {
  const read = followedBy(task.auto, application);
  const stored = storedAt(application, `${store.name}.${task.name}.start`);
  const field = [...read].find((name) => stored.has(name));
  if (field === undefined) return;
  problems.add('starts-itself', task.span, { task: `${store.name}.${task.name}`, field });
}

/** The fields that decide whether a task starts by itself. */
export function followedBy(auto: Auto | undefined, application: Stores): ReadonlySet<string> {
  if (auto === undefined || auto.kind === 'once') return new Set();
  return readsOf([auto.kind === 'while' ? auto.test : auto.value], application).fields;
}

/** The fields that an action, or the moment of a task, may store to, with all that is done with it. */
export function storedAt(application: Stores, at: string): ReadonlySet<string> {
  const done = doneWith(application, at);
  return new Set(
    done.flatMap(({ store, deed }) => [...effectsOf(deed.steps, store.name, application).stores]),
  );
}
