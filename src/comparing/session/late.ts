import type { Leak, Participant } from '../../model/participant.js';
import type { ObservedClass } from '../../model/observed-class.js';
import type { Difference } from './difference.js';
import type { Script } from '../script.js';

/** What a participant left unhandled since last time: the first of it, as a difference but for its step. */
export function leakedBy({
  name,
  leaks,
}: {
  readonly name: string;
  readonly leaks?: Participant['leaks'] | undefined;
}): Omit<Difference, 'step'> | undefined {
  const [first] = leaks?.() ?? [];
  return first && leakOf(name, first);
}

function leakOf(participant: string, { text, ...cause }: Leak): Omit<Difference, 'step'> {
  const what: ObservedClass = 'problems';
  return { participant, what, at: '/unhandled', expected: [], actual: [text], cause };
}

/** The script that set off something late, and the difference at its last step. */
export function causeOf(difference: Omit<Difference, 'step'>): {
  readonly script: Script;
  readonly difference: Difference;
} {
  const steps = difference.cause?.steps ?? [];
  return { script: { steps }, difference: { ...difference, step: Math.max(0, steps.length - 1) } };
}
