import type { Json } from '../../base/json.js';
import type { Participant, Running } from '../../model/participant.js';
import { attempt, started } from './attempt.js';
import { repeatableEnvironment } from './environment.js';
import { Outside, type Callable } from './outside.js';

/** A second instance of a participant's stores: what is done to it must not show in the first. */
export class SecondInstance {
  readonly #participant: Participant;
  readonly #callables: readonly Callable[] | undefined;
  #running: Running;

  constructor(participant: Participant, callables: readonly Callable[] | undefined) {
    this.#participant = participant;
    this.#callables = callables;
    this.#running = this.#start();
  }

  /** Is made anew once it is closed, as the first is: what it knew is of before. */
  reopen(): void {
    this.#running = this.#start();
  }

  #start(): Running {
    const push = () => 0;
    // Nobody answers what it calls, and no time passes.
    const outside = this.#callables && new Outside(this.#callables);
    return started(this.#participant, repeatableEnvironment({ push }, false, outside));
  }

  send(store: string, action: string, payload: Json | undefined): void {
    attempt(() => this.#running.send(store, action, payload));
  }

  close(): void {
    attempt(() => this.#running.close?.());
  }
}
