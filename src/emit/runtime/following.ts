// Tasks that start by themselves: at creation, or when what they follow changes.
import type { Ask, TaskPlan } from './task-plan.js';
import { same } from './values.js';

/** Who starts and cancels tasks that nobody has asked for. */
interface Follower {
  readonly ask: (of: Ask) => unknown;
  readonly start: (name: string, payload?: unknown) => void;
  readonly cancel: (name: string) => void;
  /** What a task follows threw. */
  readonly broken: (name: string, error: unknown) => void;
}

/** What tasks follow, as it was when it was last looked at. */
export class Following {
  readonly #plans: Readonly<Record<string, TaskPlan>>;
  readonly #follower: Follower;
  readonly #seen = new Map<string, { readonly value: unknown }>();
  readonly #broken = new Set<string>();
  // <lazy>
  readonly #begun = new Set<string>();
  // </lazy>

  constructor(plans: Readonly<Record<string, TaskPlan>>, follower: Follower) {
    this.#plans = plans;
    this.#follower = follower;
  }

  /** At creation, and after each commit: starts and cancels what follows something that has changed. */
  // <!lazy>
  //+ follow(isFirst = false): void {
  // </!lazy>
  // <lazy>
  follow(): void {
    // </lazy>
    for (const [name, { auto }] of Object.entries(this.#plans)) {
      if (auto === undefined) continue;
      // <lazy>
      // Once its store is attached, a task is at its creation.
      const isFirst = !this.#begun.has(name);
      this.#begun.add(name);
      // </lazy>
      if (auto === 'once') {
        if (isFirst) this.#follower.start(name);
        continue;
      }
      const before = this.#seen.get(name);
      let value: unknown;
      try {
        value = this.#follower.ask('follows' in auto ? auto.follows : auto.while);
        this.#broken.delete(name);
      } catch (error) {
        if (!this.#broken.has(name)) this.#follower.broken(name, error);
        this.#broken.add(name);
        continue;
      }
      if (before !== undefined && same(before.value, value)) continue;
      this.#seen.set(name, { value });
      const isOn = 'follows' in auto ? value !== null : value === true;
      if (isFirst && 'follows' in auto && auto.first !== true) continue;
      if (isOn) this.#follower.start(name, 'follows' in auto ? value : undefined);
      else if (before !== undefined) this.#follower.cancel(name);
    }
  }
}
