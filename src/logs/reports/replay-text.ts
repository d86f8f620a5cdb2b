import type { Paint } from '../../report/paint.js';
import type { MismatchJson, ReplayJson } from './replay-json.js';
import { sideBySide } from '../../report/side-by-side.js';
import { counted, countText } from '../../report/value-text.js';

/** A replay as people read it: the verdict, each mismatch, what was not replayed. */
export function replayText(result: ReplayJson, paint: Paint): string {
  const parts = [
    otherSchemaText(result, paint),
    verdictText(result, paint),
    ...result.mismatches.map((one) => mismatchText(one, result, paint)),
    notesText(result, paint),
  ];
  return parts.filter((part) => part !== '').join('\n\n');
}

/** A log of another application differs, whatever the stores do: that is said before anything. */
function otherSchemaText({ titles, schema }: ReplayJson, paint: Paint): string {
  if (titles === null) return '';
  const own = titles.schema === null ? schema : `'${titles.schema}' (${schema})`;
  return `${paint.yellow('another schema')}  The log is of '${titles.log}', and not of ${own}.`;
}

function verdictText(result: ReplayJson, paint: Paint): string {
  const { verdict, lines, sessions, spanMs, mismatches, participants } = result;
  const names = listed(participants.map(({ name }) => name));
  const span = spanMs > 0 ? `, ${durationText(spanMs)}` : '';
  const size = `${counted(lines, 'line')} (${counted(sessions, 'session')}${span})`;
  switch (verdict) {
    case 'no difference':
      return `${paint.green(verdict)}  ${size} of the log, replayed by ${names}.`;
    case 'interrupted':
      return `${paint.yellow(verdict)}  No difference in ${size}, replayed by ${names}; the rest of the log was not replayed.`;
    case 'nothing replayed':
      return `${paint.red(verdict)}  No line of the log could be replayed.`;
    case 'mismatch':
      return `${paint.red(verdict)}  ${counted(mismatches.length, 'mismatch').replace(/hs$/, 'hes')} with the log in ${size}, replayed by ${names}.`;
  }
}

function mismatchText(one: MismatchJson, result: ReplayJson, paint: Paint): string {
  const { line, turn, participants, what, at, place, otherPlaces } = one;
  const where = turn === null ? `line ${line}` : `line ${line} (turn ${turn})`;
  const others = otherPlaces === 0 ? '' : `, and ${counted(otherPlaces, 'other place')}`;
  const name = participants.length === 1 ? (participants[0] ?? '') : 'participants';
  return [
    `${paint.bold(`${result.log}:${line}`)}  ${whoText(one, result)} after ${where}: ${doneText(one)}`,
    `What differs: ${paint.bold(what)}${at === '' ? '' : ` at ${at}`}${others}`,
    sideBySide(['log', one.logged], [name, one.shown], paint),
    ...(place === null
      ? []
      : [`In the schema: ${place.file}:${place.line}:${place.column}  ${one.do}`]),
    windowText(one),
    ...(one.times > 1
      ? [`The same shows again ${timesText(one.times - 1)}: ${linesText(one)}.`]
      : []),
  ].join('\n');
}

/** What the line is about: `deck.admit`, `start of timetable.load`. */
function doneText({ kind, do: name }: MismatchJson): string {
  return kind === 'action' ? name : `${kind} of ${name}`;
}

function whoText({ participants, agreeing }: MismatchJson, result: ReplayJson): string {
  const all = result.participants.length;
  const are = participants.length === 1 ? 'differs' : 'differ';
  if (participants.length === all && all > 1)
    return `${all === 2 ? 'Both' : `All ${all}`} participants agree with each other, and not with the log,`;
  const rest =
    agreeing.length === 0
      ? ''
      : ` (${listed(agreeing)} ${agreeing.length === 1 ? 'agrees' : 'agree'} with it)`;
  return `${listed(participants)} ${are} from the log${rest}`;
}

function windowText({ window, line }: MismatchJson): string {
  if (window === null) return 'It may depend on what was done earlier in the session.';
  if (window.from === window.to || window.from === line)
    return 'The line shows it by itself, from the state before it.';
  return `Lines ${window.from} to ${window.to} show it, from the state before them.`;
}

const timesText = (times: number): string => (times === 1 ? 'once' : `${countText(times)} times`);

function linesText({ alsoAt, times }: MismatchJson): string {
  const more = times - 1 - alsoAt.length;
  const lines = `${alsoAt.length === 1 ? 'line' : 'lines'} ${alsoAt.join(', ')}`;
  return more === 0 ? lines : `${lines} and ${countText(more)} more`;
}

/** Why lines were passed over, by the reason. */
const reasons: Readonly<Record<string, string>> = {
  turns: 'refused because too many turns followed from one call, or the stores were closed',
  'earlier run': 'of a run that began before the first line',
  'not there': 'of something that a participant does not have',
  incomplete: 'in which something is missing',
  'unknown name': 'of names that the schema does not have',
  unmapped: 'of names that the mapping leaves out',
};

function notesText(result: ReplayJson, paint: Paint): string {
  const notes = Object.entries(result.passedOver).map(
    ([reason, count]) => `Not replayed: ${counted(count, 'line')} ${reasons[reason] ?? reason}.`,
  );
  const { unknownNames, tornLine, isOtherSchema } = result;
  if (unknownNames.length > 0)
    notes.push(
      `Unknown names: ${unknownNames.join(', ')}. If the log is of an old application, name a file with --mapping.`,
    );
  for (const { line, missing, times } of result.incomplete)
    notes.push(`Line ${line}${times > 1 ? ` and ${times - 1} more` : ''}: ${missing}.`);
  if (tornLine !== null)
    notes.push(`Line ${tornLine} is cut off in the middle; it was not replayed.`);
  if (result.masked > 0)
    notes.push(`${counted(result.masked, 'value')} of secret types: anything matches there.`);
  if (isOtherSchema && result.titles === null)
    notes.push('The log was written with another version of the schema.');
  return notes.map((note) => paint.yellow(note)).join('\n');
}

function listed(names: readonly string[]): string {
  if (names.length < 2) return names.join('');
  return `${names.slice(0, -1).join(', ')} and ${names.at(-1) ?? ''}`;
}

/** A time as people say it: `3 h 12 min`. */
export function durationText(ms: number): string {
  const seconds = Math.round(ms / 1000);
  if (seconds < 1) return `${Math.round(ms)} ms`;
  if (seconds < 60) return `${seconds} s`;
  const minutes = Math.floor(seconds / 60);
  if (minutes < 60) return `${minutes} min ${seconds % 60} s`;
  return `${Math.floor(minutes / 60)} h ${minutes % 60} min`;
}
