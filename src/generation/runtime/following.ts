// Tasks that start by themselves: at creation, or when what they follow changes.
import { handOver } from './engine.js';
import type { TaskPlan } from './task-plan.js';
import type { Tasks } from './tasks.js';
import { same } from './values.js';

/** Starts what starts by itself, now and each time that what it follows has changed. */
export function followAll(tasks: Tasks): void {
  const following = new Following(tasks);
  const { turns } = tasks.engine;
  handOver(tasks.engine, following);
  turns.turn('', () => tasks.late());
}

/** What tasks follow, as it was when it was last looked at. */
class Following {
  readonly #tasks: Tasks;
  readonly #seen = new Map<string, { readonly value: unknown }>();
  readonly #broken = new Set<string>();
  readonly #begun = new Set<string>();

  constructor(tasks: Tasks) {
    this.#tasks = tasks;
  }

  /** At creation, and after each commit: starts and cancels what follows something that has changed. */
  told(): void {
    for (const [name, { auto }] of Object.entries(this.#tasks.plans))
      if (auto !== undefined) this.#look(name, auto);
  }

  #look(name: string, auto: NonNullable<TaskPlan['auto']>): void {
    const tasks = this.#tasks;
    // Once its store is attached, a task is at its creation.
    const isFirst = !this.#begun.has(name);
    this.#begun.add(name);
    if (auto === 'once') {
      if (isFirst) tasks.startUnasked(name);
      return;
    }
    const before = this.#seen.get(name);
    let value: unknown;
    try {
      value = tasks.engine.ask('follows' in auto ? auto.follows : auto.while, undefined, {});
      this.#broken.delete(name);
    } catch (error) {
      if (!this.#broken.has(name))
        tasks.engine.turns.report({ kind: 'task', at: `${name}.auto`, error });
      this.#broken.add(name);
      return;
    }
    if (before !== undefined && same(before.value, value)) return;
    this.#seen.set(name, { value });
    const isOn = 'follows' in auto ? value !== null : value === true;
    if (isFirst && 'follows' in auto && auto.first !== true) return;
    if (isOn) tasks.startUnasked(name, 'follows' in auto ? value : undefined);
    else if (before !== undefined) tasks.cancelUnasked(name);
  }
}
