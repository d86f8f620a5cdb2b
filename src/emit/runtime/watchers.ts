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
  readonly #notified: (name: string) => void;

  constructor(
    name: string,
    read: () => T,
    changed: (now: T, before: T) => void,
    report: (problem: Problem) => void,
    notified: (name: string) => void,
  ) {
    this.#name = name;
    this.#read = read;
    this.#changed = changed;
    this.#report = report;
    this.#notified = notified;
    this.#last = read();
  }

  /** Calls back if there is something new. What goes wrong is reported: a `read` that throws once; whether it gave something. */
  look(): boolean {
    const before = this.#last;
    let now: T;
    try {
      now = this.#read();
    } catch (error) {
      if (!this.#isBroken) this.#report({ kind: 'derived', at: this.#name, error });
      this.#isBroken = true;
      return false;
    }
    this.#isBroken = false;
    if (Object.is(now, before)) return true;
    this.#last = now;
    this.#notified(this.#name);
    try {
      this.#changed(now, before);
    } catch (error) {
      this.#report({ kind: 'watcher', at: this.#name, error });
    }
    return true;
  }
}

/** Something that says when it may have changed: only then those are asked that watch it. */
export interface Source {
  readonly touched: Set<() => void>;
}

interface Listener {
  readonly isStopped: boolean;
  /** Whether it has to look: always without a source. */
  isTouched: boolean;
  readonly look: () => boolean;
  readonly ended: () => void;
}

/** The watchers of an application: called in the order in which they were added, whatever they watch. */
export class Watchers {
  readonly #report: (problem: Problem) => void;
  /** Called with the name of each watcher that is called. */
  notified: (name: string) => void = () => undefined;
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
   * the application is closed; at once if it is. With a `source`, `read` is asked only when that was touched.
   */
  add<T>(
    name: string,
    read: () => T,
    changed: (now: T, before: T) => void,
    ended?: () => void,
    source?: Source,
  ): () => void {
    const watcher = new Watcher(name, read, changed, this.#report, (called) => {
      this.notified(called);
    });
    return this.listen(
      () => watcher.look(),
      () => {
        try {
          ended?.();
        } catch (error) {
          this.#report({ kind: 'watcher', at: name, error });
        }
      },
      source,
    );
  }

  /** Calls `look` after each transaction, and `ended` when the application is closed; returns what stops it. */
  listen(look: () => boolean, ended: () => void = () => undefined, source?: Source): () => void {
    const listener = {
      isStopped: this.#isClosed,
      isTouched: source === undefined,
      ended,
      // One that could not be read is asked again.
      look: () => (listener.isTouched = !look() || source === undefined),
    };
    if (this.#isClosed) ended();
    else this.#watchers.add(listener);
    this.#round = undefined;
    const touch = () => (listener.isTouched = true);
    source?.touched.add(touch);
    return () => {
      listener.isStopped = true;
      this.#watchers.delete(listener);
      this.#round = undefined;
      source?.touched.delete(touch);
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
    for (const watcher of this.#round) if (watcher.isTouched && !watcher.isStopped) watcher.look();
  }
}
