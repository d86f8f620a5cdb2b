import stringWidth from 'string-width';
import type { Paint } from './paint.js';
import { bothLines } from './value-text.js';

/** What the borders around both sides of a difference take, in columns. */
const borders = 7;
/** How wide a side is at least, in columns, where there is room. */
const leastSide = 40;
/** How many lines of a side are shown at most. */
const mostLines = 30;
/** So many of them are above the first line that differs. */
const linesAbove = 6;

/** A value, and what it is called. */
export type Side = readonly [title: string, value: unknown];

/** Two values side by side, from a little above the first line that differs. */
export function sideBySide([left, expected]: Side, [right, actual]: Side, paint: Paint): string {
  const most = Math.max(12, Math.floor((paint.columns - borders) / 2));
  const both = bothLines(expected, actual, most);
  const widest = Math.max(...both.flat().map((line) => stringWidth(line)));
  const side = Math.min(most, Math.max(leastSide, widest));
  const [one, other] = both;
  const differs = one.findIndex((line, i) => line !== other[i]);
  const from = Math.max(0, (differs < 0 ? one.length : differs) - linesAbove);
  const [ones, others] = both.map((lines) => windowOf(lines, from)) as [string[], string[]];
  const height = Math.max(ones.length, others.length);
  // The package for tables takes seconds for cells of many lines.
  return [
    border('┌', '┬', '┐', side),
    row(paint.bold(left), paint.bold(right), side),
    border('├', '┼', '┤', side),
    ...Array.from({ length: height }, (_, i) => row(ones[i] ?? '', others[i] ?? '', side)),
    border('└', '┴', '┘', side),
  ].join('\n');
}

function border(left: string, middle: string, right: string, side: number): string {
  const line = '─'.repeat(side + 2);
  return `${left}${line}${middle}${line}${right}`;
}

function row(left: string, right: string, side: number): string {
  return `│ ${padded(left, side)} │ ${padded(right, side)} │`;
}

function padded(text: string, side: number): string {
  return text + ' '.repeat(Math.max(0, side - stringWidth(text)));
}

/** The lines from one on, as many as are shown; what is left out is said. */
function windowOf(lines: readonly string[], wanted: number): string[] {
  const from = lines.length <= mostLines ? 0 : Math.min(wanted, lines.length - mostLines);
  const shown = lines.slice(from, from + mostLines);
  const below = lines.length - from - shown.length;
  return [
    ...(from > 0 ? [`… ${from} more lines`] : []),
    ...shown,
    ...(below > 0 ? [`… ${below} more lines`] : []),
  ];
}
