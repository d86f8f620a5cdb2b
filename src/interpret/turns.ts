import { reasons, type Outcome, type Report } from '../model/participant.js';

/** At most this many turns follow from one call. */
const mostTurns = 1000;

interface Waiting {
  readonly run: () => Outcome;
  readonly refuse: () => Outcome;
  readonly settle: (outcome: Outcome) => void;
}

/** Takes what is asked of the stores one after the other: what comes during a turn waits for its own. */
export class Turns {
  #busy = false;
  readonly #waiting: Waiting[] = [];

  constructor(readonly onProblem: (report: Report) => void) {}

  /** Runs a transaction with its notices now, or later if one is under way. */
  take(run: () => Outcome, at: string): Outcome {
    const refuse = (): Outcome => ({ status: 'refused', reason: reasons.unsettled });
    if (this.#busy) {
      return {
        status: 'queued',
        outcome: new Promise((settle) => this.#waiting.push({ run, refuse, settle })),
      };
    }
    this.#busy = true;
    try {
      const outcome = run();
      this.#drain(at);
      return outcome;
    } finally {
      this.#busy = false;
    }
  }

  #drain(at: string): void {
    for (let turns = 1; this.#waiting.length > 0; turns++) {
      const next = this.#waiting.shift() as Waiting;
      next.settle(turns < mostTurns ? next.run() : next.refuse());
      if (turns === mostTurns) this.onProblem({ kind: 'unsettled', at });
    }
  }
}
