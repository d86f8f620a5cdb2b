import { Random } from '../../base/random.js';

/** Chance that is the same in every run, for one instance of old code. */
export class Chance {
  readonly #random = new Random(1);
  #ids = 0;
  #micros = 0;

  /** `fraction`: what `Math.random` gives; in [0, 1). */
  constructor(readonly fraction: () => number = () => this.#random.fraction()) {}

  /**
   * The next id, in the form of a random UUID. Each part of it is another one than before, since code may keep one part only;
   * and each is greater than those before it.
   */
  uuid(): string {
    const hex = (this.#ids += 1).toString(16);
    const part = (length: number) => hex.padStart(length, '0').slice(-length);
    return `${part(8)}-${part(4)}-4${part(3)}-8${part(3)}-${part(12)}`;
  }

  /** Fills an array of whole numbers, of any kind. */
  fill<T extends NodeJS.ArrayBufferView>(array: T): T {
    const bytes = new Uint8Array(array.buffer, array.byteOffset, array.byteLength);
    for (let i = 0; i < bytes.length; i++) bytes[i] = this.#random.below(256);
    return array;
  }

  /** A microsecond later each time, in milliseconds: no two questions are asked at once. */
  tick(): number {
    return (this.#micros += 1) / 1000;
  }
}
