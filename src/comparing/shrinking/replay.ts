import type { Json } from '../../base/json.js';
import type { Participant } from '../../model/participant.js';
import type { Difference } from '../session/difference.js';
import type { Observed } from '../session/observed.js';
import type { Reached } from '../reached.js';
import { circumstancesOf, isSend, isStart, payloadIn, type Script } from '../script.js';
import { Session } from '../session/session.js';

/** The outcome of a script that was done once more. */
export interface Replayed {
  readonly difference: Difference | undefined;
  /** How many steps all participants were asked. */
  readonly steps: number;
  readonly notReported: ReadonlyMap<string, number>;
}

/** How a script is done once more. */
export interface ReplayOptions {
  readonly reached?: Reached;
  /** How long to wait at the end for what comes late, in milliseconds; 0 if not given. */
  readonly lateMs?: number;
}

/**
 * Runs a script with all participants, after those that come before it, compared in full after each step unless it is
 * quiet, up to the first difference.
 */
export async function replay(
  script: Script,
  participants: readonly Participant[],
  observed: Observed,
  options: ReplayOptions = {},
): Promise<Replayed> {
  for (const before of script.before ?? [])
    await replayOne(before, participants, observed, {}, true);
  return replayOne(script, participants, observed, options, false);
}

/** True if a difference does not end it: then there is none in the result. */
async function replayOne(
  script: Script,
  participants: readonly Participant[],
  observed: Observed,
  { reached, lateMs = 0 }: ReplayOptions,
  goesOn: boolean,
): Promise<Replayed> {
  const isQuiet = script.quiet === true;
  const session = new Session(participants, observed, {
    look: isQuiet ? 'unasked' : 'fully',
    watches: !isQuiet,
    circumstances: circumstancesOf(script),
    reached,
  });
  const last = script.steps.length - 1;
  let difference: Difference | undefined;
  const calls: number[] = [];
  const before: number[] = [];
  const sent: (Json | undefined)[] = [];
  for (const [i, step] of script.steps.entries()) {
    calls.push(session.outside?.count ?? 0);
    before.push(session.made.size);
    const isFilled = (isSend(step) || isStart(step)) && step.fill !== undefined;
    sent.push(isFilled ? payloadIn(step, session.state) : undefined);
    const options = i === last ? ({ look: 'fully' } as const) : {};
    const { difference: found } = session.isSlow
      ? await session.play(step, options)
      : session.step(step, options);
    if (found === undefined || goesOn) continue;
    // Steps that not all take part in are passed over: the place in the script is what counts.
    const byStep = participants.some(({ has }) => has !== undefined);
    const done = { ids: [...session.made], before, byStep, sent };
    difference = { ...found, step: i, done, ...(session.isSlow && { calls }) };
    break;
  }
  if (difference === undefined) {
    const late = await session.settled(lateMs);
    if (late !== undefined && !goesOn) difference = { ...late, step: stepOf(late, script) };
  }
  session.close();
  return { difference, steps: session.steps, notReported: session.notReported };
}

/** The step that set off something late. */
function stepOf({ cause }: Difference, { steps }: Script): number {
  const sends = steps.flatMap((step, i) => (isSend(step) ? [i] : []));
  const last = cause === undefined ? undefined : sends[cause.steps.length - 1];
  return last ?? steps.length - 1;
}
