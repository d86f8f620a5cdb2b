import { differingPlaces } from '../../base/differing-places.js';
import { atPointer } from '../../base/json.js';
import type { Paint } from '../../report/paint.js';
import { causeTexts, changeText, doneText, pathText, timeText } from '../log/line-texts.js';
import type { PatchOperation, LogLine } from '../log/log-lines.js';
import type { Moment, TimelineCounts, TimelineRow } from '../log/timeline.js';
import { counted, countText, valueLines, valueText } from '../../report/value-text.js';

/** How wide the columns are that are always as wide. */
const widths = { turn: 6, time: 12, outcome: 9 } as const;
/** What was done takes at most so much, and no more than half of what is left. */
const mostWhat = 34;

/** How wide what was done and what changed are. */
function roomIn({ columns }: Paint): { readonly what: number; readonly rest: number } {
  const left = columns - widths.turn - widths.time - widths.outcome - 4 * 2;
  const what = Math.min(mostWhat, Math.floor(left / 2));
  return { what, rest: left - what };
}

/** What a timeline comes to: how many transactions there are, how many are shown, how many went wrong. */
export function timelineAnswer({ count, shown, failed, sessions }: TimelineCounts): string {
  const parts = [
    shown === count
      ? counted(count, 'transaction')
      : `${countText(shown)} of ${counted(count, 'transaction')}`,
    ...(sessions > 1 ? [counted(sessions, 'session')] : []),
    failed === 0
      ? 'none refused, broken or failed'
      : `${countText(failed)} refused, broken or failed`,
  ];
  return parts.join(', ');
}

/** What the columns of a timeline are. */
export function timelineHead(paint: Paint): string {
  const head = [
    'turn'.padStart(widths.turn),
    'time'.padStart(widths.time),
    'what was done'.padEnd(roomIn(paint).what),
    'outcome'.padEnd(widths.outcome),
    fitted('what changed', roomIn(paint).rest),
  ];
  return paint.dim(head.join('  '));
}

/** A transaction in a line: when, what, what became of it, what changed, how many watchers were called. */
export function timelineRow(row: TimelineRow, paint: Paint): string {
  const { line, turn, depth } = row;
  const room = roomIn(paint);
  const what = fitted(`${'  '.repeat(Math.min(depth, 6))}${doneText(line)}`, room.what);
  const start = [
    String(turn).padStart(widths.turn),
    timeText(line.at).padStart(widths.time),
    what.padEnd(room.what),
    outcomeText(line, paint),
  ].join('  ');
  const text = fitted(restText(line), room.rest);
  return `${start}  ${line.outcome === 'done' ? text : paint.dim(text)}`.trimEnd();
}

/** What is said after the outcome: why not, or what changed. */
function restText(line: LogLine): string {
  const { outcome, reason = '', place } = line;
  if (outcome === 'refused') return place === undefined ? reason : `${reason}: ${place}`;
  const { changes = [], notified = [], others = 0 } = line;
  const told = notified.length + others;
  const watchers = told === 0 ? '' : `  (${counted(told, 'watcher')})`;
  return `${changes.map(changeText).join(', ')}${watchers}`;
}

function outcomeText({ outcome }: LogLine, paint: Paint): string {
  const text = (outcome ?? '').padEnd(widths.outcome);
  if (outcome === 'refused') return paint.yellow(text);
  return outcome === 'broken' ? paint.red(text) : paint.dim(text);
}

const fitted = (text: string, width: number): string =>
  text.length <= width ? text : `${text.slice(0, width - 1)}…`;

/** The number of places that are told that differ from the end. */
const mostPlaces = 12;

/** A transaction in full. */
export function momentText(moment: Moment, paint: Paint): string {
  const { row, before, after, end, cause, caused } = moment;
  const { line } = row;
  const width = paint.columns - 2;
  const block = (title: string, lines: readonly string[]): string =>
    lines.length === 0 ? '' : [paint.bold(title), ...lines.map((one) => `  ${one}`)].join('\n');
  const value = (of: unknown) => valueLines(of, width);
  const parts = [
    `${paint.bold(`turn ${row.turn}`)}  ${doneText(line)}  ${line.outcome ?? ''}${line.reason === undefined ? '' : `: ${line.reason}`}${line.place === undefined ? '' : ` (${line.place})`}`,
    [
      `${dateText(moment)}line ${row.number}`,
      byText(moment, cause),
      ...(line.run === undefined ? [] : [`run ${line.run}`]),
      ...(line.call === undefined ? [] : [`call ${line.call}`]),
    ].join(', '),
    block('Payload', line.payload === undefined ? [] : value(line.payload)),
    block('Included', [...(line.included ?? [])]),
    block('Drawn', line.draws === undefined ? [] : value(line.draws)),
    block(
      'Calls made',
      (line.calls ?? []).map(({ call, operation }) => `${call}  ${operation}`),
    ),
    block(
      'Changed',
      (line.changes ?? []).flatMap((one) => changedLines(one, before, width)),
    ),
    block('Watchers called', [
      ...(line.notified ?? []),
      ...(line.others === undefined ? [] : [`${counted(line.others, 'watcher')} without a name`]),
    ]),
    block(
      'Set off',
      caused.map((one) => `turn ${one.turn}  ${doneText(one.line)}  ${one.line.outcome ?? ''}`),
    ),
    block('State after it', after === undefined ? [] : value(after)),
    block('What is different at the end', differences(after, end, width)),
  ];
  return parts.filter((part) => part !== '').join('\n\n');
}

function dateText({ head, row }: Moment): string {
  const { at } = row.line;
  if (at === undefined) return '';
  const since = `${timeText(at)} after the beginning`;
  if (head?.began === undefined) return `${since}, `;
  return `${new Date(Date.parse(head.began) + at).toISOString()} (${since}), `;
}

function byText({ row: { line } }: Moment, cause: TimelineRow | undefined): string {
  const by = causeTexts[line.by ?? 'outside'];
  if (line.cause === undefined) return by;
  const name = cause === undefined ? '' : ` (${doneText(cause.line)})`;
  return `${by}, after turn ${line.cause}${name}`;
}

function changedLines(change: PatchOperation, before: unknown, width: number): string[] {
  const path = pathText(change.path);
  const old = atPointer(before, change.path);
  if (change.op === 'remove') return [`${path}: ${valueText(old, width)} is gone`];
  const isNew = change.op === 'add';
  const from = isNew ? 'new' : valueText(old, width);
  const text = `${path}: ${from} -> ${valueText(change.value)}`;
  if (text.length <= width) return [text];
  return [`${path}: ${fitted(from, width)} ->`, ...valueLines(change.value, width, '  ')];
}

function differences(after: unknown, end: unknown, width: number): string[] {
  if (after === undefined || end === undefined) return [];
  const places = differingPlaces(after, end, mostPlaces + 1);
  if (places.length === 0) return ['nothing'];
  const lines = places.slice(0, mostPlaces).map((place) => {
    const [then, last] = [atPointer(after, place), atPointer(end, place)];
    const room = Math.max(12, Math.floor((width - place.length) / 2) - 6);
    return `${pathText(place)}: ${valueText(then, room)} -> ${valueText(last, room)}`;
  });
  return places.length > mostPlaces ? [...lines, 'and more'] : lines;
}
