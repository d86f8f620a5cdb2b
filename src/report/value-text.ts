import { isObject } from '../base/json.js';
import { Cut, cut, cutTogether, restKey } from './cut-values.js';

export { counted, countText } from './count-text.js';

/** A value in one line as JSON with spaces, cut to a width; what JSON cannot say is named. */
export function valueText(value: unknown, width = Infinity): string {
  return fitted(inline(cut(value)), width);
}

function inline(value: unknown): string {
  if (value instanceof Cut) return value.text;
  if (value === undefined || isAbsent(value)) return 'absent';
  if (typeof value === 'number') return String(value);
  if (Array.isArray(value)) return `[${value.map(inline).join(', ')}]`;
  if (typeof value === 'object' && value !== null) {
    const parts = Object.entries(value).map(([key, part]) => `${nameOf(key, part)}${inline(part)}`);
    return parts.length === 0 ? '{}' : `{ ${parts.join(', ')} }`;
  }
  return JSON.stringify(value);
}

/** As a report in JSON names what is not there. */
function isAbsent(value: unknown): boolean {
  return isObject(value) && value.absent === true && Object.keys(value).length === 1;
}

const nameOf = (key: string, part: unknown): string =>
  key === restKey && part instanceof Cut ? '' : `${plainKey(key)}: `;

function plainKey(key: string): string {
  return /^[A-Za-z_$][\w$]*$/.test(key) ? key : JSON.stringify(key);
}

/** A value over several lines: one for each part that is not short. What is too long for a line goes on in the next. */
export const valueLines = (value: unknown, width: number, indent = ''): string[] =>
  linesOf('', cut(value), width, indent);

/** Two values as {@link valueLines}, cut so that the places where they differ stay. */
export function bothLines(
  one: unknown,
  other: unknown,
  width: number,
): [readonly string[], readonly string[]] {
  const [first, second] = cutTogether(one, other);
  return [linesOf('', first, width, ''), linesOf('', second, width, '')];
}

/** The lines of a part with its name before it. */
function linesOf(name: string, value: unknown, width: number, indent: string): string[] {
  const line = inline(value);
  if (indent.length + name.length + line.length <= width) return [`${indent}${name}${line}`];
  if (typeof value !== 'object' || value === null || value instanceof Cut)
    return folded(name, line, width, indent);
  // So deep that nothing of a line would be left for what stands there.
  if (indent.length > width / 2) return [fitted(`${indent}${name}${line}`, width)];
  const isList = Array.isArray(value);
  const inner = Object.entries(value).flatMap(([key, part]) =>
    linesOf(isList ? '' : nameOf(key, part), part, width, `${indent}  `),
  );
  return [`${indent}${name}${isList ? '[' : '{'}`, ...inner, `${indent}${isList ? ']' : '}'}`];
}

/** A line in pieces that fit, broken between words where there are any; those after the first stand below its text. */
function folded(name: string, text: string, width: number, indent: string): string[] {
  const left = Math.max(8, width - indent.length);
  const below = ' '.repeat(Math.min(name.length, Math.floor(left / 2)));
  const lines: string[] = [];
  let rest = `${name}${text}`;
  for (let room = left; rest !== ''; room = left - below.length) {
    const space = rest.length <= room ? -1 : rest.lastIndexOf(' ', room);
    const at = space > room / 2 ? space + 1 : room;
    lines.push(`${indent}${lines.length === 0 ? '' : below}${rest.slice(0, at)}`.trimEnd());
    rest = rest.slice(at);
  }
  return lines;
}

const fitted = (text: string, width: number): string =>
  text.length <= width ? text : `${text.slice(0, width - 1)}…`;

/** Names with commas between them, over several lines of a width; all but the first are indented. */
export function wrappedNames(names: readonly string[], width: number, indent: number): string {
  const lines = [''];
  for (const name of names) {
    const line = lines.at(-1) ?? '';
    const longer = line === '' ? name : `${line}, ${name}`;
    if (longer.length <= width) lines[lines.length - 1] = longer;
    else lines.push(name);
  }
  return lines.join(`,\n${' '.repeat(indent)}`);
}
