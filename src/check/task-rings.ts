import type { Problems } from '../diagnostics/problem.js';
import type { Store } from '../model/application.js';
import type { Auto, Task } from '../model/tasks.js';
import { fieldsReadIn } from './fields-read.js';
import { fieldsStored, stepsAt } from './task-writes.js';

/** Reports tasks that would start themselves again and again, without any time in between. */
export function refuseTaskRings(stores: readonly Store[], problems: Problems): void {
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
    for (const next of startedAtOnce(stores, found)) visit(next);
    way.delete(name);
    done.add(name);
  };
  for (const name of tasks.keys()) visit(name);
  for (const { store, task } of tasks.values()) refuseOwnFollowing(stores, store, task, problems);
}

/** The tasks that a task starts without any time in between. */
function startedAtOnce(
  stores: readonly Store[],
  { store, task }: { readonly store: Store; readonly task: Task },
): readonly string[] {
  const isAtOnce =
    task.operation === undefined &&
    (task.wait === undefined || (task.wait.kind === 'literal' && task.wait.value === 0)) &&
    task.every === undefined;
  const moments = isAtOnce ? (['start', 'finish'] as const) : (['start'] as const);
  return moments
    .flatMap((moment) => stepsAt(stores, store, task, moment))
    .flatMap(({ step }) => (step.kind === 'start' ? [`${step.store}.${step.task}`] : []));
}

/** A task that follows something which its own steps change at its start. */
function refuseOwnFollowing(
  stores: readonly Store[],
  store: Store,
  task: Task,
  problems: Problems,
): void {
  const read = followedBy(task.auto, stores);
  const stored = fieldsStored(stepsAt(stores, store, task, 'start'), stores);
  const field = [...read].find((name) => stored.has(name));
  if (field === undefined) return;
  problems.add('starts-itself', task.span, { task: `${store.name}.${task.name}`, field });
}

/** The fields that decide whether a task starts by itself. */
export function followedBy(auto: Auto | undefined, stores: readonly Store[]): ReadonlySet<string> {
  if (auto === undefined || auto.kind === 'once') return new Set();
  return fieldsReadIn([auto.kind === 'while' ? auto.test : auto.value], stores);
}
