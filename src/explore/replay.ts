import type { Participant } from '../model/participant.js';
import type { Difference } from './difference.js';
import type { Observed } from './observed.js';
import type { Reached } from './reached.js';
import type { Script } from './script.js';
import { Session } from './session.js';

/** What became of a script that was done once more. */
export interface Replayed {
  readonly difference: Difference | undefined;
  /** How many steps all participants were asked. */
  readonly steps: number;
  readonly untold: ReadonlyMap<string, number>;
}

/** Runs a script with all participants, compared in full after each step unless it is quiet, up to the first difference. */
export async function replay(
  script: Script,
  participants: readonly Participant[],
  observed: Observed,
  reached?: Reached,
): Promise<Replayed> {
  const isQuiet = script.quiet === true;
  const session = new Session(participants, observed, {
    look: isQuiet ? 'unasked' : 'fully',
    watches: !isQuiet,
    reached,
  });
  const last = script.steps.length - 1;
  let difference: Difference | undefined;
  for (const [i, step] of script.steps.entries()) {
    const found = session.step(step, i === last ? { look: 'fully' } : {}).difference;
    // Steps that not all take part in are passed over: the place in the script is what counts.
    if (found !== undefined) difference = { ...found, step: i };
    if (found !== undefined) break;
  }
  if (difference === undefined) {
    const late = await session.settled();
    difference = late && { ...late, step: last };
  }
  session.close();
  return { difference, steps: session.steps, untold: session.untold };
}
