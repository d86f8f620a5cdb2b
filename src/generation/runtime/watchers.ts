// Who is called after a change, and in which order.
import type { Problem } from './transaction.js';

/** Something that says when it may have changed: only then those are asked that watch it. */
export interface Source {
  readonly touched: Set<Listener>;
}

/** Someone who looks after transactions: after each, or after those that touched its source. */
export class Listener {
  isStopped = false;
  isTouched = false;
  /** Its place among all. */
  readonly number: number;
  readonly look: () => boolean;
  readonly ended: () => void;
  readonly #touched: (listener: Listener) => void;

  constructor(
    number: number,
    look: () => boolean,
    ended: () => void,
    touched: (listener: Listener) => void,
  ) {
    this.number = number;
    this.look = look;
    this.ended = ended;
    this.#touched = touched;
  }

  /** What it watches may have changed. */
  touch(): void {
    if (this.isTouched) return;
    this.isTouched = true;
    this.#touched(this);
  }
}

/** The watchers of an application: called in the order in which they were added, whatever they watch. */
export class Watchers {
  readonly #report: (problem: Problem) => void;
  /** Called with the name of each watcher that is called. */
  notified: ((name: string) => void) | undefined;
  readonly #watchers = new Set<Listener>();
  /** Those that look after each transaction: they have no source. */
  readonly #always = new Set<Listener>();
  /** Those whose sources may have changed. */
  #touched: Listener[] = [];
  readonly #touch = (listener: Listener): void => {
    this.#touched.push(listener);
  };
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
    let last = read();
    let isBroken = false;
    const report = (kind: Problem['kind'], error: unknown): void => {
      this.#report({ kind, at: name, error });
    };
    const look = (): boolean => {
      const before = last;
      try {
        last = read();
        isBroken = false;
      } catch (error) {
        if (!isBroken) report('derived', error);
        isBroken = true;
        return false;
      }
      if (Object.is(last, before)) return true;
      this.notified?.(name);
      try {
        changed(last, before);
      } catch (error) {
        report('watcher', error);
      }
      return true;
    };
    const end = (): void => {
      try {
        ended?.();
      } catch (error) {
        report('watcher', error);
      }
    };
    return this.listen(look, end, source);
  }

  /**
   * Calls `look` after each transaction, or those that touched `source`; it returns whether it could be read. Calls
   * `ended` when the application is closed. Returns what stops it.
   */
  listen(look: () => boolean, ended: () => void = () => undefined, source?: Source): () => void {
    const listener = new Listener((this.#count += 1), look, ended, this.#touch);
    const among = source?.touched ?? this.#always;
    if (this.#isClosed) ended();
    else {
      this.#watchers.add(listener);
      among.add(listener);
    }
    return () => {
      listener.isStopped = true;
      this.#watchers.delete(listener);
      among.delete(listener);
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
      watcher.isStopped = true;
      watcher.ended();
    }
  }

  /** After a transaction. One that is stopped meanwhile is passed over, one that is added waits. */
  round(): void {
    const touched = this.#touched;
    this.#touched = [];
    const round = this.#always.size === 0 ? touched : [...this.#always, ...touched];
    if (!isInOrder(round)) round.sort((a, b) => a.number - b.number);
    for (const watcher of touched) watcher.isTouched = false;
    for (const watcher of round)
      // One that could not be read is asked again.
      if (!watcher.isStopped && !watcher.look() && !this.#always.has(watcher)) watcher.touch();
  }
}

function isInOrder(round: readonly Listener[]): boolean {
  for (let i = 1; i < round.length; i++)
    if ((round[i - 1] as Listener).number > (round[i] as Listener).number) return false;
  return true;
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
