import { isObject } from '../base/json.js';

/** A value in one line as JSON with spaces, cut to a width; what JSON cannot say is named. */
export function valueText(value: unknown, width = Infinity): string {
  const text = inline(value);
  return text.length <= width ? text : `${text.slice(0, width - 1)}…`;
}

function inline(value: unknown): string {
  if (value === undefined || isAbsent(value)) return 'absent';
  if (typeof value === 'number') return String(value);
  if (Array.isArray(value)) return `[${value.map(inline).join(', ')}]`;
  if (typeof value === 'object' && value !== null) {
    const parts = Object.entries(value).map(([key, part]) => `${plainKey(key)}: ${inline(part)}`);
    return parts.length === 0 ? '{}' : `{ ${parts.join(', ')} }`;
  }
  return JSON.stringify(value);
}

/** As a report in JSON names what is not there. */
function isAbsent(value: unknown): boolean {
  return isObject(value) && value.absent === true && Object.keys(value).length === 1;
}

function plainKey(key: string): string {
  return /^[A-Za-z_$][\w$]*$/.test(key) ? key : JSON.stringify(key);
}

/** A value over several lines: one for each part that is not short. What is too long for a line goes on in the next. */
export function valueLines(value: unknown, width: number, indent = ''): string[] {
  const line = inline(value);
  if (indent.length + line.length <= width) return [indent + line];
  if (typeof value !== 'object' || value === null) return folded(indent + line, width, indent);
  const isList = Array.isArray(value);
  const inner = Object.entries(value).flatMap(([key, part]) => {
    const deeper = `${indent}  `;
    const name = isList ? '' : `${plainKey(key)}: `;
    const [first = '', ...rest] = valueLines(part, Math.max(width - name.length, 8), deeper);
    const isNested = typeof part === 'object' && part !== null && rest.length > 0;
    const below = isNested ? valueLines(part, width, deeper).slice(1) : rest;
    return [
      ...folded(`${deeper}${name}${first.trimStart()}`, width, deeper),
      ...(isNested
        ? below
        : below.map((one) => `${deeper}${' '.repeat(name.length)}${one.trimStart()}`)),
    ];
  });
  return [`${indent}${isList ? '[' : '{'}`, ...inner, `${indent}${isList ? ']' : '}'}`];
}

/** A line in pieces that fit, broken between words where there are any; those after the first are indented. */
function folded(line: string, width: number, indent: string): string[] {
  if (line.length <= width) return [line];
  const least = indent.length + 1;
  const space = line.lastIndexOf(' ', width);
  const at = space > Math.max(least, width / 2) ? space + 1 : Math.max(width, least);
  return [line.slice(0, at).trimEnd(), ...folded(`${indent}${line.slice(at)}`, width, indent)];
}

/** Whole numbers with a comma every three digits. */
export function countText(n: number): string {
  return String(Math.round(n)).replace(/\B(?=(\d{3})+$)/g, ',');
}

/** How many of something there are: `1 place`, `2,000 places`. */
export const counted = (n: number, what: string): string =>
  `${countText(n)} ${what}${n === 1 ? '' : 's'}`;

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
