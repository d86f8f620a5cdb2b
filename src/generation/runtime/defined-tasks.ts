// The tasks of stores that are definitions.
import type { DefinedStores, ReactingStore } from './defined-stores.js';
import type { TaskPlan } from './task-plan.js';
import type { Tasks } from './tasks.js';

/** A store with its tasks: their plans, and what is done at the moments of a run. */
export interface WorkingStore<Work> {
  readonly tasks?: Readonly<Record<string, TaskPlan & Moments<Work>>>;
}

interface Moments<Work> {
  readonly start?: Work;
  readonly each?: Work;
  readonly finish?: Work;
  readonly fail?: Work;
  readonly cancel?: Work;
}

/** Adds the tasks of each store once it is made; `viewOf` gives what a task is read as, with what can be read of it. */
export function addTasks<Work, Store extends ReactingStore<Work>>(
  engine: DefinedStores<Work, Store>,
  tasks: Tasks,
  viewOf: (task: string) => object,
): void {
  engine.made.push((store, definition) => {
    for (const [name, plan] of Object.entries((definition as WorkingStore<Work>).tasks ?? {})) {
      const task = `${store}.${name}`;
      tasks.plans[task] = plan;
      const view = viewOf(task);
      for (const reading of ['running', 'runs', 'waiting'] as const)
        engine.derivations.addReading(view, reading, () => tasks.readings(task)[reading]);
      Object.defineProperty(engine.derivations.view(store), name, { value: view });
    }
  });
}
