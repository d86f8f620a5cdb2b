import { instrument, type Span, type Way } from './instrument.js';

/** How near a comparison came, in so many classes. */
const nearClasses = 16;

/** Code that is counted, and which numbers its ways have among those of all code. */
export interface CountedCode {
  readonly participant: string;
  readonly file: string;
  readonly ways: readonly Way[];
  readonly from: number;
}

/** What instrumented code calls. */
export interface Counters {
  readonly leeshore$seen: Uint8Array;
  readonly leeshore$see: (way: number) => void;
  readonly leeshore$either: <T>(way: number, value: T) => T;
  readonly leeshore$given: <T>(way: number, value: T) => T;
  readonly leeshore$near: <T>(comparison: number, value: T, to: number) => T;
}

/** Which ways the code of all participants went, by their numbers; and how near comparisons with numbers came. */
export class WaysGone {
  readonly codes: CountedCode[] = [];
  readonly texts = new Set<string>();
  readonly numbers = new Set<number>();
  readonly #seen: { readonly from: number; readonly of: Uint8Array }[] = [];
  #count = 0;
  /** What was gone since the beginning that had not been before, in that order. */
  readonly #added: number[] = [];

  /** Code with counters, and what it calls by them; `undefined` for code that cannot be parsed. */
  count(
    participant: string,
    file: string,
    text: string,
    sourceType: 'module' | 'script',
    spared?: readonly Span[],
  ): { readonly code: string; readonly counters: Counters } | undefined {
    let made;
    try {
      made = instrument(text, sourceType, spared);
    } catch {
      // Whoever runs it says what is wrong with it.
      return undefined;
    }
    const { code, ways, comparisons, texts, numbers } = made;
    for (const one of texts) this.texts.add(one);
    for (const one of numbers) this.numbers.add(one);
    this.codes.push({ participant, file, ways, from: this.#count });
    const counters = this.#counters(ways.length, comparisons);
    return { code, counters };
  }

  #counters(ways: number, comparisons: number): Counters {
    const from = this.#count;
    const leeshore$seen = new Uint8Array(ways);
    const near = new Uint8Array(comparisons * nearClasses);
    this.#seen.push({ from, of: leeshore$seen }, { from: from + ways, of: near });
    this.#count += ways + near.length;
    const added = this.#added;
    const leeshore$see = (way: number): void => {
      leeshore$seen[way] = 1;
      added.push(from + way);
    };
    return {
      leeshore$seen,
      leeshore$see,
      leeshore$either(way, value) {
        const gone = value ? way : way + 1;
        if (leeshore$seen[gone] === 0) leeshore$see(gone);
        return value;
      },
      leeshore$given(way, value) {
        const gone = value === null || value === undefined ? way + 1 : way;
        if (leeshore$seen[gone] === 0) leeshore$see(gone);
        return value;
      },
      leeshore$near(comparison, value, to) {
        if (typeof value !== 'number') return value;
        const place = comparison * nearClasses + classOf(Math.abs(value - to));
        if (near[place] === 0) {
          near[place] = 1;
          added.push(from + ways + place);
        }
        return value;
      },
    };
  }

  /** What was gone since the last restart, and not before. */
  get added(): readonly number[] {
    return this.#added;
  }

  /** Begins anew, from what was gone elsewhere. */
  restart(known: readonly number[]): void {
    this.#added.length = 0;
    for (const { of } of this.#seen) of.fill(0);
    let at = 0;
    const sorted = [...known].sort((a, b) => a - b);
    for (const { from, of } of this.#seen)
      for (; at < sorted.length; at++) {
        const place = (sorted[at] as number) - from;
        if (place >= of.length) break;
        of[place] = 1;
      }
  }
}

/** 0 for equal, a class for each whole number up to 8, then wider and wider ones. */
function classOf(distance: number): number {
  if (distance <= 8) return Math.ceil(distance);
  return Math.min(nearClasses - 1, 7 + Math.floor(Math.log2(distance)) - 1);
}
