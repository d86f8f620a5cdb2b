import type { LogLine } from '../log/log-lines.js';
import type { Application } from '../../model/application.js';

/** What lines of each kind may be about. */
export class KnownNames {
  readonly #actions: ReadonlySet<string>;
  readonly #tasks: ReadonlySet<string>;
  readonly #undone: ReadonlySet<string>;
  readonly #lazy: ReadonlySet<string>;
  /** The tasks that call a service, and the operations that there are. */
  readonly #calling: ReadonlySet<string>;
  readonly #operations: ReadonlySet<string>;

  constructor({ stores, services }: Application) {
    this.#actions = new Set(
      stores.flatMap(({ name, actions }) => actions.map((action) => `${name}.${action.name}`)),
    );
    this.#tasks = new Set(
      stores.flatMap(({ name, tasks }) => tasks.map((task) => `${name}.${task.name}`)),
    );
    this.#undone = new Set(stores.flatMap(({ name, history }) => (history ? [name] : [])));
    this.#lazy = new Set(stores.flatMap(({ name, lazy }) => (lazy ? [name] : [])));
    this.#calling = new Set(
      stores.flatMap(({ name, tasks }) =>
        tasks.filter(({ operation }) => operation).map((task) => `${name}.${task.name}`),
      ),
    );
    this.#operations = new Set(
      services.flatMap(({ name, operations }) =>
        operations.map((operation) => `${name}.${operation.name}`),
      ),
    );
  }

  isAction(name: string): boolean {
    return this.#actions.has(name);
  }

  isTask(name: string): boolean {
    return this.#tasks.has(name);
  }

  /** True if a task calls a service. */
  calls(name: string): boolean {
    return this.#calling.has(name);
  }

  hasOperation(name: string): boolean {
    return this.#operations.has(name);
  }

  /** True if the schema has what a line is about, as something of its kind. */
  has({ do: name, kind = 'action' }: LogLine): boolean {
    switch (kind) {
      case 'action':
        return this.#actions.has(name);
      case 'undo':
      case 'redo':
        return this.#undone.has(name);
      case 'attach':
        return this.#lazy.has(name);
      case 'saved':
      case 'close':
        return true;
      case 'start':
      case 'cancel':
      case 'each':
      case 'finish':
      case 'fail':
      case 'retry':
        return this.#tasks.has(name);
    }
  }
}
