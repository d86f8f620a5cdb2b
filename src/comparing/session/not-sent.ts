import type { NotSent, Participant } from '../../model/participant.js';

/** True if some are sent only what fits: payloads, or answers. */
export const isSpared = (what: NotSent) =>
  what === 'payload'
    ? ({ refusesMisfits }: Pick<Participant, 'refusesMisfits'>) => refusesMisfits === false
    : ({ judgesAnswers }: Pick<Participant, 'judgesAnswers'>) => judgesAnswers === false;

/** Notes a step for those that are spared it, since what it sends does not fit; whether there are any. */
export function noteSpared(participants: readonly Participant[], what: NotSent): boolean {
  const spared = participants.filter(isSpared(what));
  for (const { passedOver } of spared) passedOver?.note(what);
  return spared.length > 0;
}
