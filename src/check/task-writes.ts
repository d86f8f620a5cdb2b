import { named, type Reaction, type Store } from '../model/application.js';
import { allSteps, writtenFields } from '../model/step-kinds.js';
import type { Step } from '../model/steps.js';
import type { Moment, Task } from '../model/tasks.js';

/** Steps with those of the actions that they run, and the store that each belongs to. */
export interface OwnStep {
  readonly store: string;
  readonly step: Step;
}

/** The steps at a moment of a task, with those of the reactions to it, and of all that they run. */
export function stepsAt(
  stores: readonly Store[],
  { name: store }: Pick<Store, 'name'>,
  task: Task,
  moment: Moment,
): readonly OwnStep[] {
  const found: OwnStep[] = [];
  const seen = new Set<string>();
  const visit = (owner: string, steps: readonly Step[]): void => {
    for (const step of allSteps(steps)) {
      found.push({ store: owner, step });
      if (step.kind === 'run') ran(step.store, step.action);
    }
  };
  const ran = (owner: string, name: string): void => {
    if (seen.has(`${owner}.${name}`)) return;
    seen.add(`${owner}.${name}`);
    visit(owner, named(named(stores, owner).actions, name).steps);
    followed(`${owner}.${name}`);
  };
  const followed = (cause: string): void => {
    for (const { name: owner, reactions } of stores)
      for (const reaction of reactions) if (isTo(reaction, cause)) visit(owner, reaction.steps);
  };
  visit(store, task.steps[moment]);
  followed(`${store}.${task.name}.${moment}`);
  return found;
}

function isTo({ to }: Reaction, cause: string): boolean {
  return to.some(({ store, action }) => `${store}.${action}` === cause);
}

/** The fields that steps may store to: `timetable.busy`. */
export function fieldsStored(
  steps: readonly OwnStep[],
  stores: readonly Store[],
): ReadonlySet<string> {
  return new Set(
    steps.flatMap(({ store, step }) =>
      step.kind === 'resetStores'
        ? step.stores.flatMap((name) =>
            named(stores, name).fields.map((field) => `${name}.${field.name}`),
          )
        : writtenFields(step).map((field) => `${store}.${field}`),
    ),
  );
}
