// What a function reads, followed from outside.
import { Followed } from './followed.js';
import type { Problem } from './transaction.js';

/** What a function reads: it can be watched, subscribed to and iterated over. */
export class Following<T> extends Followed<T> {
  readonly name = 'follow';

  override readonly toJSON: () => T;
  override readonly watch: (changed: (now: T, before: T) => void) => () => void;
  protected override readonly report: (problem: Problem) => void;

  constructor(
    read: () => T,
    watch: (changed: (now: T, before: T) => void) => () => void,
    report: (problem: Problem) => void,
  ) {
    super();
    this.toJSON = read;
    this.watch = watch;
    this.report = report;
  }
}
