import { same } from '../base/same.js';
import { evaluate, type Frame } from './compile-expression.js';
import type { TaskOf } from '../model/task-of.js';

/** Who starts and cancels tasks that nobody has asked for. */
export interface Follower {
  /** What expressions see now. */
  frame(): Frame;
  start(of: TaskOf, payload: unknown): void;
  cancel(of: TaskOf): void;
  /** What a task follows threw. */
  broken(of: TaskOf): void;
  /** True if the store of a task is there. */
  isThere(of: TaskOf): boolean;
}

/** The tasks that start by themselves: at creation, or when what they follow changes. */
export class Following {
  readonly #tasks: readonly TaskOf[];
  readonly #follower: Follower;
  readonly #begun = new Set<TaskOf>();
  readonly #seen = new Map<TaskOf, { readonly value: unknown }>();
  /** The tasks whose value to follow threw when it was last asked for. */
  readonly #broken = new Set<TaskOf>();

  constructor(tasks: Iterable<TaskOf>, follower: Follower) {
    this.#tasks = [...tasks].filter(({ task }) => task.auto !== undefined);
    this.#follower = follower;
  }

  /** At creation, after a commit, and once a store is attached: then its tasks are at their creation. */
  follow(): void {
    for (const of of this.#tasks) {
      if (!this.#follower.isThere(of)) continue;
      const isFirst = !this.#begun.has(of);
      this.#begun.add(of);
      const { auto } = of.task;
      if (auto?.kind === 'once') {
        if (isFirst) this.#follower.start(of, undefined);
        continue;
      }
      const before = this.#seen.get(of);
      const now = this.#note(of);
      if (now === undefined || (before !== undefined && same(before.value, now.value))) continue;
      if (isFirst && auto?.kind === 'follows' && !auto.first) continue;
      if (isOn(of, now.value)) this.#follower.start(of, payloadOf(of, now.value));
      else if (before !== undefined) this.#follower.cancel(of);
    }
  }

  /** The stores were put into another state: what is followed has not changed by that. */
  restart(): void {
    this.#seen.clear();
    for (const of of this.#tasks) {
      this.#begun.add(of);
      if (this.#follower.isThere(of)) this.#note(of);
    }
  }

  /** Notes what a task follows; nothing if it follows nothing, or that throws. */
  #note(of: TaskOf): { readonly value: unknown } | undefined {
    const { auto } = of.task;
    if (auto === undefined || auto.kind === 'once') return undefined;
    try {
      const value = evaluate(
        auto.kind === 'while' ? auto.test : auto.value,
        this.#follower.frame(),
      );
      const now = { value: auto.kind === 'while' ? Boolean(value) : value };
      this.#broken.delete(of);
      this.#seen.set(of, now);
      return now;
    } catch {
      if (!this.#broken.has(of)) this.#follower.broken(of);
      this.#broken.add(of);
      return undefined;
    }
  }
}

/** True if a task goes on while it follows this value. */
const isOn = ({ task }: TaskOf, value: unknown): boolean =>
  task.auto?.kind === 'while' ? value === true : value !== null;

const payloadOf = ({ task }: TaskOf, value: unknown): unknown =>
  task.auto?.kind === 'while' ? undefined : value;
