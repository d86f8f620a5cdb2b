// Who is called after a change, and in which order.
import type { Turns } from './transaction.js';

interface Watcher {
  /** Calls back if what it looks at is not what it was. */
  look(): void;
}

/** The watchers of an application: called in the order in which they were added, whatever they watch. */
export class Watchers {
  readonly #turns: Turns;
  readonly #watchers = new Set<Watcher>();

  constructor(turns: Turns) {
    this.#turns = turns;
  }

  /** Calls `changed` after each transaction that changed what `read` gives; returns what stops it. */
  add<T>(name: string, read: () => T, changed: (now: T, before: T) => void): () => void {
    let last = read();
    const look = () => {
      const before = last;
      const now = read();
      if (Object.is(now, before)) return;
      last = now;
      this.#turns.tell(name, () => {
        changed(now, before);
      });
    };
    const watcher: Watcher = { look };
    this.#watchers.add(watcher);
    return () => {
      this.#watchers.delete(watcher);
    };
  }

  /** After a transaction. One that is stopped meanwhile is passed over, one that is added waits. */
  round(): void {
    for (const watcher of [...this.#watchers]) {
      if (this.#watchers.has(watcher)) watcher.look();
    }
  }
}
