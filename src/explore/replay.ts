import type { Participant } from '../model/participant.js';
import type { Script } from './script.js';
import { Session, type Difference, type Observed } from './session.js';

/** Runs a script with all participants, compared in full after each step; the first difference, if there is one. */
export function replay(
  script: Script,
  participants: readonly Participant[],
  observed: Observed,
): Difference | undefined {
  const session = new Session(participants, observed, true);
  for (const step of script.steps) {
    const { difference } = session.step(step);
    if (difference !== undefined) return difference;
  }
  return undefined;
}
