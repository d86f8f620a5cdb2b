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
  /** Its place among all. */
  readonly number: number;
  readonly isStopped: boolean;
  readonly look: () => void;
  readonly ended: () => void;
}

/** The watchers of an application: called in the order in which they were added, whatever they watch. */
export class Watchers {
  readonly #report: (problem: Problem) => void;
  /** Called with the name of each watcher that is called. */
  notified: (name: string) => void = () => undefined;
  readonly #watchers = new Set<Listener>();
  /** Those that look after each transaction: they have no source. */
  readonly #always = new Set<Listener>();
  /** Those whose sources may have changed. */
  #touched = new Set<Listener>();
  #count = 0;
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
    const touch = (): void => {
      this.#touched.add(listener);
    };
    const listener = {
      number: (this.#count += 1),
      isStopped: this.#isClosed,
      ended,
      look: () => {
        // One that could not be read is asked again.
        if (!look() && source !== undefined) touch();
      },
    };
    if (this.#isClosed) ended();
    else {
      this.#watchers.add(listener);
      if (source === undefined) this.#always.add(listener);
      else source.touched.add(touch);
    }
    return () => {
      listener.isStopped = true;
      this.#watchers.delete(listener);
      this.#always.delete(listener);
      source?.touched.delete(touch);
    };
  }

  /** Nobody is told any more of anything but that. */
  close(): void {
    this.#isClosed = true;
    const watchers = [...this.#watchers];
    this.#watchers.clear();
    this.#always.clear();
    for (const watcher of watchers) {
      if (watcher.isStopped) continue;
      Object.assign(watcher, { isStopped: true });
      watcher.ended();
    }
  }

  /** After a transaction. One that is stopped meanwhile is passed over, one that is added waits. */
  round(): void {
    const touched = this.#touched;
    this.#touched = new Set();
    const round = [...this.#always, ...touched];
    if (touched.size > 0) round.sort((a, b) => a.number - b.number);
    for (const watcher of round) if (!watcher.isStopped) watcher.look();
  }
}

/** Calls back after each transaction that changed anything; returns what stops it. */
export const watchAll = (watchers: Watchers, changed: () => void): (() => void) =>
  watchers.add(
    'subscribe',
    () => ({}),
    () => {
      changed();
    },
  );
