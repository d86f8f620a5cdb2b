// How what a participant shows is told that is not what the log says.
import { atPointer } from '../../base/json.js';
import { same } from '../../base/same.js';
import type { PlacedLine } from '../log/groups.js';
import type { LoggedState } from '../log/log-lines.js';
import type { Outcome } from '../../model/participant.js';
import { saysLess } from './lines.js';
import type { Mismatch } from './mismatch.js';

/** Another state: the first place that differs, and how many there are besides. */
export function stateMismatch(
  participant: string,
  line: PlacedLine,
  { logged, shown }: Readonly<Record<'logged' | 'shown', LoggedState>>,
  places: readonly string[],
): Mismatch {
  const [at = ''] = places;
  return {
    ...about(participant, line),
    what: 'state',
    at,
    logged: atPointer(logged, at),
    shown: atPointer(shown, at),
    otherPlaces: Math.max(0, places.length - 1),
  };
}

/** Another outcome; nothing if it is what the line says. */
export function outcomeMismatch(
  participant: string,
  placed: PlacedLine,
  outcome: Outcome | undefined,
): Mismatch | undefined {
  const { outcome: status, reason, place } = placed.line;
  if (outcome === undefined || status === undefined) return undefined;
  const logged = {
    status,
    ...(reason !== undefined && { reason }),
    ...(place !== undefined && { at: place }),
  };
  const shown = {
    status: outcome.status,
    ...(outcome.status === 'refused' && {
      ...(outcome.reason !== undefined && { reason: outcome.reason }),
      ...(outcome.at !== undefined && { at: outcome.at }),
    }),
  };
  if (same(logged, shown) || saysLess(placed.line, outcome)) return undefined;
  return ofOutcome(participant, placed, logged, shown);
}

/** A call that was not made, or a timer that was not set. */
export function callMismatch(participant: string, placed: PlacedLine, shown: string): Mismatch {
  const { by, call, operation = placed.line.do } = placed.line;
  const logged =
    by === 'timer' ? 'a timer' : `an answer to ${call === undefined ? operation : `call ${call}`}`;
  return { ...about(participant, placed), what: 'calls', at: '', logged, shown, otherPlaces: 0 };
}

/** Nothing of what the log says. */
export const failure = (
  participant: string,
  placed: PlacedLine,
  shown: Readonly<Record<string, unknown>>,
): Mismatch => ofOutcome(participant, placed, { status: placed.line.outcome ?? 'done' }, shown);

const ofOutcome = (
  participant: string,
  placed: PlacedLine,
  logged: unknown,
  shown: unknown,
): Mismatch => ({
  ...about(participant, placed),
  what: 'outcome',
  at: '',
  logged,
  shown,
  otherPlaces: 0,
});

function about(participant: string, { number, line }: PlacedLine) {
  const { turn, do: name, by } = line;
  const kind = turn === undefined && by === 'timer' ? 'timer' : (line.kind ?? 'action');
  return { participant, line: number, turn, do: name, kind };
}
