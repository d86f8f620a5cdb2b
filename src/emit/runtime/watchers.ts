// Who is called after a change, and in which order.
import type { Problem } from './transaction.js';

/** Someone who is told when what they look at is not what it was. */
class Watcher<T> {
  #isBroken = false;
  #last: T;
  readonly #name: string;
  readonly #read: () => T;
  readonly #changed: (now: T, before: T) => void;
  readonly #report: (problem: Problem) => void;
  // <log>
  readonly #notified: ((name: string) => void) | undefined;
  // </log>

  constructor(
    name: string,
    read: () => T,
    changed: (now: T, before: T) => void,
    report: (problem: Problem) => void,
    // <log>
    notified: ((name: string) => void) | undefined,
    // </log>
  ) {
    this.#name = name;
    this.#read = read;
    this.#changed = changed;
    this.#report = report;
    // <log>
    this.#notified = notified;
    // </log>
    this.#last = read();
  }

  /** Calls back if there is something new. What goes wrong is reported: a `read` that throws once. */
  look(): void {
    const before = this.#last;
    let now: T;
    try {
      now = this.#read();
    } catch (error) {
      if (!this.#isBroken) this.#report({ kind: 'derived', at: this.#name, error });
      this.#isBroken = true;
      return;
    }
    this.#isBroken = false;
    if (Object.is(now, before)) return;
    this.#last = now;
    // <log>
    this.#notified?.(this.#name);
    // </log>
    try {
      this.#changed(now, before);
    } catch (error) {
      this.#report({ kind: 'watcher', at: this.#name, error });
    }
  }
}

interface Listener {
  readonly isStopped: boolean;
  readonly look: () => void;
  readonly ended: () => void;
}

/** The watchers of an application: called in the order in which they were added, whatever they watch. */
export class Watchers {
  readonly #report: (problem: Problem) => void;
  // <log>
  /** Called with the name of each watcher that is called. */
  notified: ((name: string) => void) | undefined;
  // </log>
  readonly #watchers = new Set<Listener>();
  /** The same as a list, until one comes or goes: a round goes on with the list that it began with. */
  #round: readonly Listener[] | undefined;
  #isClosed = false;

  constructor(report: (problem: Problem) => void) {
    this.#report = report;
  }

  /**
   * Calls `changed` after each transaction that changed what `read` gives; returns what stops it. What
   * either throws is reported, and stops nobody: of `read` once, until it gives something again. `ended` is called when
   * the application is closed; at once if it is.
   */
  add<T>(
    name: string,
    read: () => T,
    changed: (now: T, before: T) => void,
    ended?: () => void,
  ): () => void {
    // <log>
    const watcher = new Watcher(name, read, changed, this.#report, (called) =>
      this.notified?.(called),
    );
    //- const watcher = new Watcher(name, read, changed, this.#report);
    // </log>
    return this.listen(
      () => {
        watcher.look();
      },
      () => {
        try {
          ended?.();
        } catch (error) {
          this.#report({ kind: 'watcher', at: name, error });
        }
      },
    );
  }

  /** Calls `look` after each transaction, and `ended` when the application is closed; returns what stops it. */
  listen(look: () => void, ended: () => void = () => undefined): () => void {
    const listener = { isStopped: this.#isClosed, look, ended };
    if (this.#isClosed) ended();
    else this.#watchers.add(listener);
    this.#round = undefined;
    return () => {
      listener.isStopped = true;
      this.#watchers.delete(listener);
      this.#round = undefined;
    };
  }

  /** Nobody is told any more of anything but that. */
  close(): void {
    this.#isClosed = true;
    const watchers = [...this.#watchers];
    this.#watchers.clear();
    this.#round = undefined;
    for (const watcher of watchers) {
      if (watcher.isStopped) continue;
      Object.assign(watcher, { isStopped: true });
      watcher.ended();
    }
  }

  /** After a transaction. One that is stopped meanwhile is passed over, one that is added waits. */
  round(): void {
    this.#round ??= [...this.#watchers];
    for (const watcher of this.#round) if (!watcher.isStopped) watcher.look();
  }
}
