import { thrownText } from '../../base/thrown-text.js';
import type { Outcome } from '../../model/participant.js';

/** How a run ended: which of those that were started by a caller, counted from 1. */
export interface RunEnd {
  readonly run: number;
  readonly ended: unknown;
}

/** The outcome of what was sent to one participant, also what is known later. */
export class RunOutcomes {
  /** The final outcomes of actions that were queued, as far as they are known. */
  readonly finals: unknown[] = [];
  /** The number of runs that were started, and how some of them have ended. */
  #begun = 0;
  readonly #ends: RunEnd[] = [];

  /** The outcome as it is compared: what is queued is told later, and how runs ended. */
  settled(outcome: unknown): unknown {
    if (isBegun(outcome)) {
      const run = (this.#begun += 1);
      outcome.ended.then(
        (ended) => this.#ends.push({ run, ended }),
        (error: unknown) => this.#ends.push({ run, ended: { rejected: thrownText(error) } }),
      );
      return { status: 'done' };
    }
    if (!isQueued(outcome)) return outcome;
    const place = this.finals.push({ status: 'queued' }) - 1;
    outcome.outcome.then(
      (final) => (this.finals[place] = this.settled(final)),
      (error: unknown) => (this.finals[place] = { rejected: thrownText(error) }),
    );
    return { status: 'queued' };
  }

  /** How runs have ended since this was last asked, in the order of their starts. */
  takeEnds(): readonly RunEnd[] {
    return this.#ends.splice(0).sort((a, b) => a.run - b.run);
  }
}

function isBegun(outcome: unknown): outcome is { readonly ended: Promise<unknown> } {
  return (
    typeof outcome === 'object' &&
    outcome !== null &&
    (outcome as { ended?: unknown }).ended instanceof Promise
  );
}

function isQueued(outcome: unknown): outcome is Outcome & { readonly status: 'queued' } {
  return (
    typeof outcome === 'object' &&
    outcome !== null &&
    (outcome as Partial<Outcome>).status === 'queued' &&
    (outcome as { outcome?: unknown }).outcome instanceof Promise
  );
}
