import type { LineGroup } from '../log/groups.js';
import type { LoggedState, LogLine } from '../log/log-lines.js';
import type { Outcome } from '../model/participant.js';

/** Whether something outside asked for a line: a caller, an answer or a timer. */
export const isAskedFor = ({ by = 'outside', sync }: LogLine): boolean =>
  by === 'outside' || by === 'timer' || (by === 'answer' && sync !== true) || by === 'watcher';

/** Old stores, and their logs, may say that something was refused and not why. */
export const saysLess = ({ outcome, reason }: LogLine, shown: Outcome): boolean =>
  outcome === 'refused' &&
  shown.status === 'refused' &&
  (reason === undefined || (shown.reason as string | undefined) === undefined);

/** The state after a turn of a group. */
export function stateAfterTurn(
  { lines, before }: LineGroup,
  turn: number | undefined,
): LoggedState | undefined {
  return lines.find(({ line }) => line.turn === turn)?.state ?? before;
}

/** What became of an action in the end, that was queued. */
export async function finalOf(outcome: Outcome | undefined): Promise<Outcome | undefined> {
  let final = outcome;
  while (final?.status === 'queued') final = await final.outcome;
  return final;
}
