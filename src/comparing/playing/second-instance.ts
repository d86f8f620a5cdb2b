import type { Json } from '../../base/json.js';
import type { Participant, Running } from '../../model/participant.js';
import { attempt, started } from './attempt.js';
import { repeatableEnvironment } from './environment.js';
import { Outside, type Callable } from './outside.js';

/** A second instance of a participant's stores: what is done to it must not show in the first. */
export class SecondInstance {
  readonly #running: Running;

  constructor(participant: Participant, callables: readonly Callable[] | undefined) {
    const push = () => 0;
    // Nobody answers what it calls, and no time passes.
    const outside = callables && new Outside(callables);
    this.#running = started(participant, repeatableEnvironment({ push }, false, outside));
  }

  send(store: string, action: string, payload: Json | undefined): void {
    attempt(() => this.#running.send(store, action, payload));
  }

  close(): void {
    attempt(() => this.#running.close?.());
  }
}
