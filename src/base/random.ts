import { xoroshiro128plus } from 'pure-rand/generator/xoroshiro128plus';

/** A seeded source of random choices: the same seed gives the same sequence on every machine. */
export class Random {
  readonly #generator;

  /** `seed`: a whole number; only its lower 32 bits count. */
  constructor(seed: number) {
    this.#generator = xoroshiro128plus(seed | 0);
  }

  /** A fraction in [0, 1). */
  fraction(): number {
    return (this.#generator.next() >>> 0) / 0x1_0000_0000;
  }

  /** A whole number from 0 to `count - 1`. */
  below(count: number): number {
    return Math.floor(this.fraction() * count);
  }

  /** True with the probability `share` (0 to 1). */
  chance(share: number): boolean {
    return this.fraction() < share;
  }

  /** One of a list that is not empty. */
  pick<T>(items: readonly T[]): T {
    if (items.length === 0) throw new RangeError('pick needs at least one item');
    return items[this.below(items.length)] as T;
  }
}
