// Who is called after a change, and in which order.
import type { Problem } from './transaction.js';

/** Someone who is told when what they look at is not what it was. */
interface Watcher {
  isStopped: boolean;
  look(): void;
}

/** The watchers of an application: called in the order in which they were added, whatever they watch. */
export class Watchers {
  readonly #report: (problem: Problem) => void;
  /** Replaced, never changed: a round goes on with the list that it began with. */
  #watchers: readonly Watcher[] = [];

  constructor(report: (problem: Problem) => void) {
    this.#report = report;
  }

  /**
   * Calls `changed` after each transaction that changed what `read` gives; returns what stops it. What
   * either throws is reported, and stops nobody: of `read` once, until it gives something again.
   */
  add<T>(name: string, read: () => T, changed: (now: T, before: T) => void): () => void {
    let last = read();
    let isBroken = false;
    const watcher: Watcher = {
      isStopped: false,
      look: () => {
        let now: T;
        try {
          now = read();
        } catch (error) {
          if (!isBroken) this.#report({ kind: 'derived', at: name, error });
          isBroken = true;
          return;
        }
        isBroken = false;
        if (Object.is(now, last)) return;
        const before = last;
        last = now;
        try {
          changed(now, before);
        } catch (error) {
          this.#report({ kind: 'watcher', at: name, error });
        }
      },
    };
    this.#watchers = [...this.#watchers, watcher];
    return () => {
      watcher.isStopped = true;
      this.#watchers = this.#watchers.filter((other) => other !== watcher);
    };
  }

  /** After a transaction. One that is stopped meanwhile is passed over, one that is added waits. */
  round(): void {
    for (const watcher of this.#watchers) if (!watcher.isStopped) watcher.look();
  }
}
