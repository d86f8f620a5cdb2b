import { thrownText } from '../../base/thrown-text.js';
import type { Running, Target } from '../../model/participant.js';
import type { SendStep, StopStep, WatchStep } from '../script.js';
import { attempt } from './attempt.js';
import { followed, iterated } from './following.js';

/** A call of a watcher, with the name of the watcher and what it looks at. */
export interface Notice {
  readonly watcher: string;
  readonly target: Target;
  readonly now: unknown;
  readonly before: unknown;
}

/** Those who watch a player need of it. */
export interface Watched {
  readonly running: () => Running;
  /** True if a target is there to be watched. */
  isThere(target: Target): boolean;
  /** Sends an action, as a watcher asks for it. */
  send(step: SendStep): void;
}

/** At most so often a watcher of a script sends its action: what it sets off comes to an end. */
const mostSent = 3;

/** The watchers of one player: those of the script, and one for each target that is compared. */
export class PlayerWatchers {
  readonly notices: Notice[] = [];
  /** The values that each watcher took that iterates, by its name, as far as they have come. */
  readonly iterated = new Map<string, readonly unknown[]>();
  readonly #stops = new Map<string, () => void>();
  readonly #watched: Watched;

  constructor(watched: Watched) {
    this.#watched = watched;
  }

  /** Adds a watcher, or stops one, as a script says. */
  change(step: WatchStep | StopStep): void {
    if ('watch' in step) this.#add(step);
    else this.#stop(step.stop);
  }

  /** The stores are made anew: nobody watches them yet. */
  clear(): void {
    this.#stops.clear();
  }

  /** Adds a watcher that does nothing but tell, named like what it watches. */
  add(target: Target): void {
    if (this.#watched.isThere(target)) this.#watch({ target, watcher: target });
  }

  #add({ watch, as, by, then }: WatchStep): void {
    if (!this.#watched.isThere(watch)) return;
    if (by === 'iteration') return this.#iterate(watch, as);
    let left = mostSent;
    this.#watch({ target: watch, watcher: as, ...(by && { by }) }, () => {
      if (then === undefined || left-- <= 0) return;
      if (then === 'throw') throw new Error('a watcher of the script throws');
      if ('stop' in then) return void this.#stop(then.stop);
      if ('watch' in then) return void this.#add(then);
      this.#watched.send(then);
    });
  }

  #stop(name: string): void {
    // To stop twice is as good as once.
    attempt(() => this.#stops.get(name)?.());
  }

  #watch(
    { target, watcher, by }: Pick<Notice, 'target' | 'watcher'> & Pick<WatchStep, 'by'>,
    then?: () => void,
  ): void {
    this.#stop(watcher);
    this.#stops.delete(watcher);
    const running = this.#watched.running();
    const told = (now: unknown, before: unknown) => {
      this.notices.push({ watcher, target, now, before });
      then?.();
    };
    const stop = attempt(() =>
      by === undefined
        ? running.watch?.(target, told)
        : followed(running, target, (now) => {
            told(now, undefined);
          }),
    );
    if (typeof stop === 'function') this.#stops.set(watcher, stop as () => void);
  }

  /** Takes all new values of a target, one after the other; what is thrown stands among them. */
  #iterate(target: Target, watcher: string): void {
    const values: unknown[] = [];
    this.iterated.set(watcher, values);
    const running = this.#watched.running();
    iterated(running, target, (value) => values.push(value)).catch((error: unknown) => {
      values.push({ threw: thrownText(error) });
    });
  }
}
