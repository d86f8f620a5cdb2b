/** A half-open range of UTF-16 offsets into the text of a source. */
export interface Span {
  readonly source: Source;
  readonly start: number;
  readonly end: number;
}

/** A place as people count: line and column from 1, columns in UTF-16 code units. */
export interface Place {
  readonly line: number;
  readonly column: number;
}

/** A file that was read: its path as the user wrote it, and its text. */
export class Source {
  #lineStarts: number[] | undefined;

  constructor(
    readonly path: string,
    readonly text: string,
  ) {}

  /** The line and column of an offset; offsets beyond the end count as the end. */
  placeOf(offset: number): Place {
    const starts = (this.#lineStarts ??= lineStartsOf(this.text));
    const at = Math.min(Math.max(offset, 0), this.text.length);
    let low = 0;
    let high = starts.length - 1;
    while (low < high) {
      const middle = (low + high + 1) >> 1;
      if ((starts[middle] ?? 0) <= at) low = middle;
      else high = middle - 1;
    }
    return { line: low + 1, column: at - (starts[low] ?? 0) + 1 };
  }

  /** The text of a line (counted from 1), without its line break. */
  lineText(line: number): string {
    const starts = (this.#lineStarts ??= lineStartsOf(this.text));
    return this.text.slice(starts[line - 1], starts[line]).replace(/\r?\n$/, '');
  }
}

function lineStartsOf(text: string): number[] {
  const starts = [0];
  for (let at = text.indexOf('\n'); at >= 0; at = text.indexOf('\n', at + 1)) starts.push(at + 1);
  return starts;
}
