import { reasons, type Outcome, type Report } from '../model/participant.js';

/** At most this many turns follow from one call. */
const mostTurns = 1000;

interface Waiting {
  readonly run: () => Outcome;
  readonly settle: (outcome: Outcome) => void;
}

const unsettled: Outcome = { status: 'refused', reason: reasons.unsettled };
const closed: Outcome = { status: 'refused', reason: reasons.closed };

/** Takes what is asked of the stores one after the other: what comes during a turn waits for its own. */
export class Turns {
  #busy = false;
  #isClosing = false;
  #isClosed = false;
  #close: (() => void) | undefined;
  readonly #waiting: Waiting[] = [];

  constructor(readonly onProblem: (report: Report) => void) {}

  /** Runs a transaction with its notices now, or later if one is under way. */
  take(run: () => Outcome, at: string): Outcome {
    if (this.#isClosed) return closed;
    if (this.#busy) {
      const outcome = new Promise<Outcome>((resolve) => {
        // A start that is set aside is queued once more.
        const settle = (final: Outcome) => {
          resolve(final.status === 'queued' ? final.outcome : final);
        };
        this.#waiting.push({ run, settle });
      });
      return { status: 'queued', outcome };
    }
    let outcome: Outcome = closed;
    this.busyWith(() => (outcome = run()), at);
    return outcome;
  }

  /** A turn that no caller waits for: `isNext` before all else that waits. `refused` is told if it is never taken. */
  later(run: () => Outcome, at: string, refused: () => void, isNext = false): void {
    if (this.#isClosed) return;
    const settle = (outcome: Outcome) => {
      if (outcome.status === 'refused' && outcome.reason === reasons.unsettled) refused();
    };
    if (isNext) this.#waiting.unshift({ run, settle });
    else this.#waiting.push({ run, settle });
    if (!this.#busy) this.busyWith(() => undefined, at);
  }

  /** Does something with all the turns that it leads to. */
  busyWith(work: () => void, at: string): void {
    this.#busy = true;
    try {
      work();
      this.#drain(at);
    } finally {
      this.#busy = false;
    }
  }

  /** From now on, or when the turn under way is over, all is refused. */
  close(end: () => void): void {
    if (this.#isClosed || this.#isClosing) return;
    this.#isClosing = true;
    const close = () => {
      this.#isClosed = true;
      end();
      for (const { settle } of this.#waiting.splice(0)) settle(closed);
    };
    if (this.#busy) this.#close = close;
    else close();
  }

  #drain(at: string): void {
    this.#close?.();
    for (let turns = 1; this.#waiting.length > 0; turns++) {
      const next = this.#waiting.shift() as Waiting;
      next.settle(turns < mostTurns ? next.run() : unsettled);
      if (turns === mostTurns) this.onProblem({ kind: 'unsettled', at });
      this.#close?.();
    }
  }
}
