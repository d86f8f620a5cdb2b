import type { PatchOperation, LogLine } from './log-lines.js';

/** A path as people write it: `/deck/vehicles/3/plate` is `deck.vehicles[3].plate`. */
export function pathText(path: string): string {
  const [first = '', ...parts] = path
    .slice(1)
    .split('/')
    .map((part) => part.replaceAll('~1', '/').replaceAll('~0', '~'));
  return parts.reduce((text, part) => {
    if (/^\d+$/.test(part)) return `${text}[${part}]`;
    return /^[A-Za-z_$][\w$]*$/.test(part) ? `${text}.${part}` : `${text}[${JSON.stringify(part)}]`;
  }, first);
}

/** How much of a text is shown. */
const mostText = 40;

function shortText(value: unknown): string {
  const text = JSON.stringify(value);
  return text.length <= mostText ? text : `${text.slice(0, mostText - 1)}…`;
}

/** A change in a few words: `deck.hold = "fog"`, `+ deck.vehicles[3]`. */
export function changeText(change: PatchOperation): string {
  const path = pathText(change.path);
  if (change.op === 'remove') return `- ${path}`;
  const { value } = change;
  if (typeof value !== 'object' || value === null)
    return `${change.op === 'add' ? '+ ' : ''}${path} = ${shortText(value)}`;
  return `${change.op === 'add' ? '+ ' : ''}${path}`;
}

/** What was done: `deck.admit`, `timetable.load finish`, `timetable.load timer`. */
export function doneText({ do: name, kind = 'action', by }: LogLine): string {
  const what = kind === 'action' && by === 'timer' ? 'timer' : kind;
  return what === 'action' ? name : `${name}${name === '' ? '' : ' '}${what}`;
}

/** Milliseconds as people read a clock: `01:07:03.250`. */
export function timeText(ms: number | undefined): string {
  if (ms === undefined) return '';
  const [rest, seconds] = [Math.floor(ms / 60_000), (ms % 60_000) / 1000];
  const [hours, minutes] = [Math.floor(rest / 60), rest % 60];
  const two = (number: number) => String(number).padStart(2, '0');
  return `${two(hours)}:${two(minutes)}:${seconds.toFixed(3).padStart(6, '0')}`;
}

/** Who asked for a turn. */
export const causeTexts = {
  outside: 'asked for from outside',
  watcher: 'sent by code that was called in a turn',
  step: 'asked for by a step',
  answer: 'answers a call',
  timer: 'set off by a timer',
  auto: 'starts by itself',
} as const;
