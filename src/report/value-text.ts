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

/** A value over several lines: one for each part that is not short. */
export function valueLines(value: unknown, width: number, indent = ''): string[] {
  const line = inline(value);
  if (indent.length + line.length <= width || typeof value !== 'object' || value === null) {
    return [clipped(indent + line, width)];
  }
  const isList = Array.isArray(value);
  const inner = Object.entries(value).flatMap(([key, part]) => {
    const [first = '', ...rest] = valueLines(part, width, `${indent}  `);
    const named = isList ? first : `${indent}  ${plainKey(key)}: ${first.trimStart()}`;
    return [clipped(named, width), ...rest];
  });
  return [`${indent}${isList ? '[' : '{'}`, ...inner, `${indent}${isList ? ']' : '}'}`];
}

function clipped(line: string, width: number): string {
  return line.length > width ? `${line.slice(0, width - 1)}…` : line;
}

/** Whole numbers with a comma every three digits. */
export function countText(n: number): string {
  return String(Math.round(n)).replace(/\B(?=(\d{3})+$)/g, ',');
}

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
