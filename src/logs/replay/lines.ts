import type { LineGroup } from '../log/groups.js';
import type { LoggedState, LogLine } from '../log/log-lines.js';
import { taskNamed } from '../../model/task-of.js';
import type { Application } from '../../model/application.js';
import type { Outcome } from '../../model/participant.js';

/** True if something outside asked for a line: a caller, an answer or a timer. */
export const isAskedFor = ({ by = 'outside', sync }: LogLine): boolean =>
  by === 'outside' || by === 'timer' || (by === 'answer' && sync !== true) || by === 'watcher';

/** Old stores, and their logs, may say that something was refused and not why. */
export const saysLess = ({ outcome, reason }: LogLine, shown: Outcome): boolean =>
  outcome === 'refused' &&
  shown.status === 'refused' &&
  (reason === undefined || (shown.reason as string | undefined) === undefined);

/** Which call a line of an old application's log answers. */
export interface AskedCall {
  readonly operation: string;
  readonly with: unknown;
  /** True if the line says what was asked with. */
  readonly isSaid: boolean;
  /** Which of the calls that have asked for the same, from 1; the oldest that waits if not given. */
  readonly nth: number | undefined;
}

/** The call that a line answers: of the operation that it names, or that of its task. */
export function askedIn(line: LogLine, application: Application): AskedCall {
  const about = { with: line.with, isSaid: 'with' in line, nth: line.nth };
  if (line.operation !== undefined) return { operation: line.operation, ...about };
  const [store = '', task = ''] = line.do.split('.');
  const { operation } = taskNamed(application, store, task).task;
  return { operation: operation ? `${operation.service}.${operation.operation}` : '', ...about };
}

/** The state after a turn of a group. */
export function stateAfterTurn(
  { lines, before }: LineGroup,
  turn: number | undefined,
): LoggedState | undefined {
  return lines.find(({ line }) => line.turn === turn)?.state ?? before;
}

/** The final outcome of an action that was queued. */
export async function finalOf(outcome: Outcome | undefined): Promise<Outcome | undefined> {
  let final = outcome;
  while (final?.status === 'queued') final = await final.outcome;
  return final;
}
