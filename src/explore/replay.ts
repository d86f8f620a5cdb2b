import type { Participant, Target } from '../model/participant.js';
import type { Script } from './script.js';
import { Session, type Difference } from './session.js';

/** Runs a script with all participants; the first difference, if there is one. */
export function replay(
  script: Script,
  participants: readonly Participant[],
  targets: readonly Target[],
): Difference | undefined {
  const session = new Session(participants, targets);
  for (const step of script.steps) {
    const { difference } = session.step(step);
    if (difference !== undefined) return difference;
  }
  return undefined;
}
