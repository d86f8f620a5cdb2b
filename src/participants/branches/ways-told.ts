import { SourceMap, type SourceMapPayload } from 'node:module';
import type { WayTold } from '../../model/way-told.js';
import type { CountedCode } from './ways-gone.js';

/**
 * The ways of code as they are told: where they stand in the files that it was bundled from. `path` is the participant file,
 * whose own ways are of no interest, and nor are those of packages. `gone`: those that were gone when it was loaded.
 */
export function waysTold(
  { participant, ways, from }: CountedCode,
  { path, bundle, map }: { readonly path: string; readonly bundle: string; readonly map: string },
  gone: readonly number[],
): readonly WayTold[] {
  const places = new Places(bundle);
  const sources = new SourceMap(JSON.parse(map) as SourceMapPayload);
  return ways.flatMap(({ kind, at, start, end }, i) => {
    const { line, column } = places.at(at);
    const entry = sources.findEntry(line, column);
    // What the bundler has added stands in no file.
    if (!('originalSource' in entry) || entry.generatedLine !== line) return [];
    const { originalSource: file, originalLine, originalColumn } = entry;
    if (file === path || file.includes('node_modules/')) return [];
    return [
      {
        way: from + i,
        participant,
        kind,
        file,
        line: originalLine + 1,
        column: originalColumn + 1,
        isGone: gone.includes(from + i),
        within: ways.flatMap((other, j) =>
          j !== i &&
          other.start <= start &&
          other.end >= end &&
          other.end - other.start > end - start
            ? [from + j]
            : [],
        ),
      },
    ];
  });
}

/** Lines and columns of a text, from 0. */
class Places {
  readonly #starts: readonly number[];

  constructor(text: string) {
    const starts = [0];
    for (let at = text.indexOf('\n'); at >= 0; at = text.indexOf('\n', at + 1)) starts.push(at + 1);
    this.#starts = starts;
  }

  at(place: number): { readonly line: number; readonly column: number } {
    let [low, high] = [0, this.#starts.length - 1];
    while (low < high) {
      const middle = (low + high + 1) >> 1;
      if ((this.#starts[middle] as number) <= place) low = middle;
      else high = middle - 1;
    }
    return { line: low, column: place - (this.#starts[low] as number) };
  }
}
