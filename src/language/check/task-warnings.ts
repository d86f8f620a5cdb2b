import type { Problems } from '../problems/problem.js';
import { deedsOf, type Application, type Store } from '../../model/application.js';
import { doneWith, effectsOf } from '../../model/footprint.js';
import { allSteps, mayBeRefused } from '../../model/step-kinds.js';
import type { Moment, Task } from '../../model/tasks.js';
import { resolve } from '../../model/types.js';
import { followedBy, storedAt } from './task-rings.js';

/** Reports what is no error in tasks and hardly meant. */
export function warnOfTasks(application: Application, problems: Problems): void {
  warnOfUnusedOperations(application, problems);
  for (const store of application.stores)
    for (const task of store.tasks) {
      const warning = new TaskWarnings(application, store, task, problems);
      warning.ofFlags();
      warning.ofReplacedLists();
      warning.ofFollowing();
      warning.ofRefusals();
      warning.ofRepeating();
    }
}

function warnOfUnusedOperations({ services, stores }: Application, problems: Problems): void {
  const called = new Set(
    stores.flatMap(({ tasks }) =>
      tasks.map(({ operation }) => `${operation?.service ?? ''}.${operation?.operation ?? ''}`),
    ),
  );
  for (const service of services)
    for (const { name, span } of service.operations)
      if (!called.has(`${service.name}.${name}`))
        problems.add('unused', span, { what: 'the operation', name: `${service.name}.${name}` });
}

class TaskWarnings {
  readonly #name: string;

  constructor(
    readonly application: Application,
    readonly store: Store,
    readonly task: Task,
    readonly problems: Problems,
  ) {
    this.#name = `${store.name}.${task.name}`;
  }

  #stored(moment: Moment): ReadonlySet<string> {
    return storedAt(this.application, `${this.#name}.${moment}`);
  }

  /** A flag that the start turns on and some end leaves on. */
  ofFlags(): void {
    const turnedOn = doneWith(this.application, `${this.#name}.start`).flatMap(({ store, deed }) =>
      allSteps(deed.steps).flatMap((step) =>
        step.kind === 'set'
          ? step.entries.flatMap(({ path, value }) =>
              value.kind === 'literal' && value.value === true && path.segments.length === 0
                ? [`${store.name}.${path.field}`]
                : [],
            )
          : [],
      ),
    );
    const ends = ['finish', 'fail', 'cancel'] as const;
    const stored = new Map(ends.map((moment) => [moment, this.#stored(moment)]));
    for (const field of new Set(turnedOn)) {
      const leaving = ends.filter((moment) => stored.get(moment)?.has(field) !== true);
      // One that no end touches is no flag of the run.
      if (leaving.length === 0 || leaving.length === ends.length) continue;
      const moments = leaving.map((moment) => `'${moment}'`).join(' and ');
      this.problems.add('flag-left-on', this.task.span, { task: this.#name, field, moments });
    }
  }

  /** A list that each answer replaces, while several runs go on. */
  ofReplacedLists(): void {
    if (this.task.overlap !== 'parallel') return;
    for (const step of allSteps(this.task.steps.finish)) {
      if (step.kind !== 'set') continue;
      for (const { path } of step.entries) {
        const isList = resolve(path.type, this.application.types).kind === 'list';
        if (!isList || path.segments.length > 0) continue;
        const params = { task: this.#name, field: path.field };
        this.problems.add('last-answer-wins', step.span, params);
      }
    }
  }

  /** A task that follows something which its own answers change. */
  ofFollowing(): void {
    const read = followedBy(this.task.auto, this.application);
    const stored = this.#stored('finish');
    const field = [...read].find((name) => stored.has(name));
    if (field !== undefined)
      this.problems.add('follows-itself', this.task.span, { task: this.#name, field });
  }

  /** A reaction to a failure that may be refused: then nothing of the failure is kept. */
  ofRefusals(): void {
    for (const { name, reactions } of this.application.stores)
      for (const { to, steps, span } of reactions) {
        const isToFail = to.some(
          ({ store, action }) => `${store}.${action}` === `${this.#name}.fail`,
        );
        if (isToFail && allSteps(steps).some(mayBeRefused))
          this.problems.add('failure-refused', span, { task: this.#name, store: name });
      }
  }

  /** Repeats that end too early, or never. */
  ofRepeating(): void {
    const { every, auto, requires, span } = this.task;
    if (every === undefined) return;
    if (auto?.kind === 'while' && requires.length > 0)
      this.problems.add('repeats-end', span, { task: this.#name });
    if (auto?.kind !== 'while' && auto?.kind !== 'follows' && !this.#isCancelled())
      this.problems.add('never-ends', span, { task: this.#name });
  }

  #isCancelled(): boolean {
    return this.application.stores.some((store) =>
      deedsOf(store).some(({ steps }) =>
        effectsOf(steps, store.name, this.application).cancels.has(this.#name),
      ),
    );
  }
}
