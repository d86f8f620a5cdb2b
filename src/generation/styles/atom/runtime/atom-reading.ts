// What can be read of stores of atoms beside their atoms: of tasks, histories and stores that are attached later.
import { Node, type Graph } from './atoms.js';

/** Something that can be read beside the atoms: the same within an action as before it. */
export class Reading<T> extends Node<T> {
  readonly #of: () => T;

  constructor(graph: Graph, name: string, of: () => T) {
    super(graph, name);
    this.#of = of;
    graph.readings.push(this);
  }

  protected override read(): T {
    return this.#of();
  }

  protected override within(): T {
    return this.#of();
  }

  protected override giveOut(value: T): T {
    return value;
  }

  /** It may have changed. */
  tell(): void {
    this.notify();
  }
}
