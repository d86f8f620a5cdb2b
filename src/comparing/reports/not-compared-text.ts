import type { Paint } from '../../report/paint.js';
import type { ParticipantSummary } from '../comparison.js';
import type { ComparisonJson } from './comparison-json.js';
import { countText, wrappedNames } from '../../report/value-text.js';

/** What of participants could not be compared. */
export function notCompared(comparison: ComparisonJson, paint: Paint): string[] {
  const { participants, compared, ignored } = comparison;
  const hasAnswers = [...compared, ...ignored].includes('tasks');
  return [
    ...participants.flatMap((one) => notComparedWith(one, paint)),
    ...notSentTo(participants, 'refusesMisfits', 'payloads', 'Payloads that do not fit their type'),
    ...(hasAnswers
      ? notSentTo(participants, 'judgesAnswers', 'answers', 'Answers that do not fit their type')
      : []),
  ];
}

/** What was not sent since somebody does not judge it, and the property of a participant that says that it does. */
function notSentTo(
  participants: readonly ParticipantSummary[],
  property: 'refusesMisfits' | 'judgesAnswers',
  counted: keyof ParticipantSummary['notSent'],
  what: string,
): string[] {
  const spared = participants.filter((one) => !one[property]);
  if (spared.length === 0) return [];
  const names = spared.map(({ name }) => name).join(', ');
  const count = Math.max(...spared.map(({ notSent }) => notSent[counted]));
  const steps =
    count === 0 ? '' : ` (${countText(count)} step${count === 1 ? '' : 's'} passed over)`;
  return [
    `${what} were not sent${steps}: ${names} ${spared.length === 1 ? 'does' : 'do'} not check them (${property}).`,
  ];
}

function notComparedWith(
  {
    name,
    lacks,
    unfilled,
    sharedOperations,
    without,
    notReported,
    known,
    tolerance,
  }: ParticipantSummary,
  { columns }: Paint,
): string[] {
  return [
    ...(lacks.length === 0
      ? []
      : [
          `Not compared, since ${name} does not have it:\n  ${wrappedNames(lacks, columns - 3, 2)}.`,
        ]),
    ...(unfilled.length === 0
      ? []
      : [
          `Not filled in yet in the file of ${name}:\n  ${wrappedNames(unfilled, columns - 3, 2)}.`,
        ]),
    ...(sharedOperations.length === 0
      ? []
      : [
          `Tasks that ${name} leaves out call these too, so calls are compared where both make them:\n  ${wrappedNames(sharedOperations, columns - 3, 2)}.`,
        ]),
    ...(without.length === 0 ? [] : [`Not compared with ${name}: ${without.join(', ')}.`]),
    ...(notReported === 0
      ? []
      : [
          `Of ${countText(notReported)} actions ${name} did not say whether they were done or refused: not compared.`,
        ]),
    ...(tolerance === null ? [] : [toleranceText(name, tolerance)]),
    ...(known.length === 0
      ? []
      : [`Known differences of ${name}, passed over:`, ...known.map(knownText)]),
  ];
}

function toleranceText(name: string, tolerance: number | Readonly<Record<string, number>>): string {
  if (typeof tolerance === 'number')
    return `Numbers of ${name} count as equal if they differ by ${tolerance} or less.`;
  const own = Object.entries(tolerance).map(([place, by]) => `${place} by ${by}`);
  return `Numbers of ${name} count as equal if they differ little: ${own.join(', ')} or less.`;
}

function knownText({
  what,
  at,
  action,
  reason,
  shown,
}: ParticipantSummary['known'][number]): string {
  const place = `${what}${at === undefined ? '' : ` at ${at}`}${action === undefined ? '' : ` after ${action}`}`;
  const times = shown === 0 ? 'never seen: it may be gone' : `seen ${countText(shown)} times`;
  return `  ${place}: ${reason} (${times})`;
}
