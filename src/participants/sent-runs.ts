import type { Json } from '../base/json.js';

/** An action that was sent, with its payload as it was then. */
export interface Sent {
  readonly send: string;
  readonly payload?: Json;
}

/** What one instance of a participant's stores was sent, from its creation on. */
export type SentRun = Sent[];

/** At most so many actions are kept, over all runs: the oldest runs are forgotten first. */
const mostKept = 200_000;

/** What the instances of a participant were sent since its code was loaded, one after the other. */
export class SentRuns {
  #runs: SentRun[] = [[]];
  #count = 0;

  /** The run that is going on. */
  get current(): SentRun {
    return this.#runs.at(-1) as SentRun;
  }

  /** The runs before that, oldest first; those in which nothing was sent are left out. */
  get earlier(): readonly SentRun[] {
    return this.#runs.slice(0, -1);
  }

  begin(): void {
    if (this.current.length > 0) this.#runs.push([]);
    while (this.#count > mostKept && this.#runs.length > 1)
      this.#count -= this.#runs.shift()?.length ?? 0;
  }

  add(sent: Sent): void {
    this.current.push(sent);
    this.#count += 1;
  }
}
