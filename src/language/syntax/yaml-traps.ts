import type { Problems } from '../problems/problem.js';
import type { Source, Span } from '../../base/source.js';
import type { ScalarText } from './scalar-text.js';

/** A value that YAML does not take as it was meant, since it stands without quotes. */
export interface Trap {
  readonly span: Span;
  readonly why: string;
}

/** Reports a trap, with what to write. */
export function reportTrap({ span, why }: Trap, problems: Problems): void {
  const text = span.source.text.slice(span.start, span.end);
  problems.add('unquoted', span, { why, instead: quoted(text) });
}

/** The text in double quotes, with text inside it in single ones. */
export function quoted(text: string): string {
  const inner = text.includes('"') && !text.includes("'") ? text.replaceAll('"', "'") : text;
  return `"${inner.replaceAll('\\', '\\\\').replaceAll('"', '\\"')}"`;
}

/** The trap around a place in the file where the parser stumbled; `undefined` if it is something else. */
export function trapAt(source: Source, offset: number): Trap | undefined {
  const span = valueAround(source, offset);
  if (span === undefined) return undefined;
  const value = source.text.slice(span.start, span.end);
  // A bracket that never closes is another slip: quotes would not help.
  if (/^[[{]/.test(value) && closingOf(value, 0, value.length) === value.length) return undefined;
  const why = whyOf(value, isInFlow(source, span.start));
  return why === undefined ? undefined : { span, why };
}

const starts: Readonly<Record<string, string>> = {
  '!': "YAML takes '!' at the start for a tag, and loses what follows",
  '*': "YAML takes '*' at the start for an alias",
  '&': "YAML takes '&' at the start for an anchor",
  "'": 'YAML takes a quote at the start for the whole value, and cannot go on after it',
  '"': 'YAML takes a quote at the start for the whole value, and cannot go on after it',
  '`': 'YAML has no values that start with a backtick',
  '{': "YAML takes '{' at the start for a mapping",
  '[': "YAML takes '[' at the start for a list",
};

function whyOf(value: string, inFlow: boolean): string | undefined {
  const start = starts[value.charAt(0)];
  if (start !== undefined) return start;
  if (/:\s/.test(value)) return "YAML takes ': ' for the end of a key";
  if (inFlow && /[[\]{}]/.test(value)) return "inside '{ }' a bracket ends the value";
  return undefined;
}

/** Nobody writes longer lines by hand. */
const longestLine = 1000;
/** How far before a place a reference is looked for that was read as a comment. */
const referenceBefore = 2000;

/** The value that begins last before a place, on the place's own line. */
function valueAround(source: Source, offset: number): Span | undefined {
  const { text } = source;
  const lineStart = text.lastIndexOf('\n', Math.max(0, offset - 1)) + 1;
  const lineEnd = endOfLine(text, lineStart);
  if (lineEnd - lineStart > longestLine) return undefined;
  let start: number | undefined;
  for (let at = lineStart; at <= Math.min(offset, lineEnd); at++) {
    const begins =
      /^[ \t]*$/.test(text.slice(lineStart, at)) ||
      /(?:[:,{[]|^[ \t]*(?:- )*-)[ \t]+$/.test(text.slice(lineStart, at));
    if (!begins || /\s/.test(text.charAt(at))) continue;
    // A key is no value.
    if (/^[\w.$-]+:(?:\s|$)/.test(text.slice(at, lineEnd)) || text.startsWith('- ', at)) continue;
    if (start !== undefined && /^["'`]/.test(text.charAt(start))) break;
    if (!/[,[]\s*$/.test(text.slice(lineStart, at)) || start === undefined) start = at;
    const close = closingOf(text, at, lineEnd);
    if (start === at && close < offset && !/^\s*(?:[,}\]#]|$)/.test(text.slice(close + 1, lineEnd)))
      break;
  }
  if (start === undefined) return undefined;
  return { source, start, end: endOfValue(text, start, lineEnd, isInFlow(source, start)) };
}

/** Where the bracket closes that a value begins with; beyond the line if it does not. */
function closingOf(text: string, start: number, lineEnd: number): number {
  if (!'[{'.includes(text.charAt(start))) return lineEnd;
  let depth = 0;
  for (let at = start; at < lineEnd; at++) {
    if ('[{'.includes(text.charAt(at))) depth++;
    else if (']}'.includes(text.charAt(at)) && --depth === 0) return at;
  }
  return lineEnd;
}

function endOfLine(text: string, from: number): number {
  const end = text.indexOf('\n', from);
  return end < 0 ? text.length : end;
}

/** True if a place is within `{ }` that begin on its line. */
function isInFlow(source: Source, offset: number): boolean {
  const { text } = source;
  const before = text.slice(text.lastIndexOf('\n', offset - 1) + 1, offset);
  return (before.match(/\{/g) ?? []).length > (before.match(/\}/g) ?? []).length;
}

/** A reference that was read as a comment, with the brace behind it, before a place where the parser stumbled. */
export function lostReferenceBefore(source: Source, offset: number): Trap | undefined {
  const pattern = /\{[^}\n]*\$ref:[ \t]+(#[^\s}]*)/g;
  const from = Math.max(0, offset - referenceBefore);
  const found = [...source.text.slice(from, offset).matchAll(pattern)].at(-1);
  const reference = found?.[1];
  if (found === undefined || reference === undefined) return undefined;
  const start = from + found.index + found[0].length - reference.length;
  return referenceTrap({ source, start, end: start + reference.length });
}

export function referenceTrap(span: Span): Trap {
  return { span, why: "YAML takes '#' after a space for the start of a comment" };
}

/** Where a value ends that stands without quotes: at the brace that closes around it, before the next key, at a comment. */
function endOfValue(text: string, start: number, lineEnd: number, inFlow: boolean): number {
  let depth = 0;
  let end = lineEnd;
  for (let at = start; at < lineEnd; at++) {
    const char = text.charAt(at);
    const close = /["'`]/.test(char) ? text.indexOf(char, at + 1) : -1;
    if (close > 0 && close < lineEnd) at = close;
    else if ('([{'.includes(char)) depth++;
    else if (')]}'.includes(char) && depth > 0) depth--;
    else if (inFlow && char === '}') end = Math.min(end, at);
    else if (inFlow && depth === 0 && /^, *[\w.$]+:/.test(text.slice(at, lineEnd))) end = at;
    else if (char === '#' && text.charAt(at - 1) === ' ' && depth === 0) end = at;
    if (end < lineEnd) break;
  }
  return start + text.slice(start, end).trimEnd().length;
}

/** A value without quotes that a `#` after a space has cut short. */
export function cutByComment({ style, span }: ScalarText): Trap | undefined {
  const { text } = span.source;
  if (style !== 'plain' || !/^[ \t]+#/.test(text.slice(span.end, endOfLine(text, span.end))))
    return undefined;
  const lineEnd = endOfLine(text, span.end);
  const end = span.end + text.slice(span.end, lineEnd).trimEnd().length;
  const why = "YAML takes '#' after a space for the start of a comment";
  return { span: { ...span, end }, why };
}
