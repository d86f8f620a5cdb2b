import type { Span } from '../../base/source.js';

/** How a YAML scalar is written. */
export type ScalarStyle = 'plain' | 'double' | 'single' | 'block';

/** The text of a YAML scalar, able to tell where in the file each of its characters stands. */
export class ScalarText {
  /** Where each character stands, or where the first does if all others follow it one by one. */
  #offsets: readonly number[] | number | undefined;

  constructor(
    readonly value: string,
    readonly style: ScalarStyle,
    readonly span: Span,
  ) {}

  /** The span in the file of a range of the value. */
  spanOf(start: number, end: number): Span {
    const offsets = (this.#offsets ??= this.#aligned());
    const { source } = this.span;
    if (typeof offsets === 'number') {
      const from = offsets + Math.min(start, this.value.length);
      const to = end > start ? offsets + Math.min(end - 1, this.value.length) + 1 : from;
      return { source, start: from, end: to };
    }
    const last = offsets.length - 1;
    const from = offsets[Math.min(start, last)] ?? this.span.start;
    const to = end > start ? (offsets[Math.min(end - 1, last)] ?? from) + 1 : from;
    return { source, start: from, end: Math.max(to, from) };
  }

  #aligned(): readonly number[] | number {
    const start = contentStart(this.style, this.span);
    return this.style !== 'block' && this.span.source.text.startsWith(this.value, start)
      ? start
      : alignScalar(this.value, this.style, this.span);
  }
}

const whitespace = /[ \t\r\n]/;

/** For each character of the value, and for its end, the offset in the file where it was written. */
function alignScalar(value: string, style: ScalarStyle, span: Span): number[] {
  const { text } = span.source;
  const offsets: number[] = [];
  let at = contentStart(style, span);
  for (let i = 0; i < value.length;) {
    const sourceRun = runLength(text, at);
    if (sourceRun > 0 && whitespace.test(value[i] ?? '')) {
      const isOneLine = !text.slice(at, at + sourceRun).includes('\n');
      const valueRun = Math.min(runLength(value, i), isOneLine ? sourceRun : Infinity);
      const folded = text.slice(at, at + sourceRun) !== value.slice(i, i + valueRun);
      for (let k = 0; k < valueRun; k++) offsets.push(folded ? at : at + k);
      at += sourceRun;
      i += valueRun;
      continue;
    }
    if (style !== 'double' && style !== 'single') at += runLength(text, at);
    const { width, produces } = writtenAs(text, at, style);
    for (let k = 0; k < produces; k++) offsets.push(at);
    i += produces;
    at += width;
  }
  offsets.push(Math.min(at, span.end));
  return offsets;
}

function contentStart(style: ScalarStyle, { source, start }: Span): number {
  if (style === 'double' || style === 'single') return start + 1;
  if (style === 'plain') return start;
  return source.text.indexOf('\n', start) + 1;
}

function runLength(text: string, from: number): number {
  let at = from;
  while (at < text.length && whitespace.test(text[at] ?? '')) at++;
  return at - from;
}

/** How many source characters write the next character, and how many UTF-16 units it has. */
function writtenAs(text: string, at: number, style: ScalarStyle) {
  if (style === 'single' && text.startsWith("''", at)) return { width: 2, produces: 1 };
  if (style !== 'double' || text[at] !== '\\') return { width: 1, produces: 1 };
  const letter = text[at + 1];
  if (letter === '\n' || letter === '\r')
    return { width: 1 + runLength(text, at + 1), produces: 0 };
  if (letter === 'x') return { width: 4, produces: 1 };
  if (letter === 'u') return { width: 6, produces: 1 };
  if (letter !== 'U') return { width: 2, produces: 1 };
  const point = Number.parseInt(text.slice(at + 2, at + 10), 16);
  return { width: 10, produces: point > 0xffff ? 2 : 1 };
}
