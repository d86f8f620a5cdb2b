import type { Coverable, CoverPoint, Reach } from '../model/cover-points.js';
import type { Expr } from '../model/expressions.js';

/** What has been reached of what can be. */
export class Reached implements Reach {
  /** All that can be reached, in schema order. */
  readonly points: readonly CoverPoint[];
  readonly #known: ReadonlyMap<string, number>;
  readonly #decisions: ReadonlyMap<Expr, number>;
  readonly #all: Uint8Array;
  readonly #now: Uint8Array;
  readonly #journal: number[] = [];
  /** What was added since the beginning, in that order. */
  readonly #added: number[] = [];

  constructor({ points, decisions }: Coverable) {
    this.points = [...points, ...decisions.flatMap(({ sides }) => sides)];
    this.#known = new Map(points.map(({ id }, i) => [id, i]));
    this.#decisions = new Map(decisions.map(({ expr }, i) => [expr, points.length + 2 * i]));
    this.#all = new Uint8Array(this.points.length);
    this.#now = new Uint8Array(this.points.length);
  }

  readonly point = (id: string): void => {
    const index = this.#known.get(id);
    if (index !== undefined) this.#note(index);
  };

  readonly decided = (expr: Expr, way: boolean): void => {
    const index = this.#decisions.get(expr);
    if (index !== undefined) this.#note(way ? index : index + 1);
  };

  #note(index: number): void {
    if (this.#now[index] === 1) return;
    this.#now[index] = 1;
    this.#journal.push(index);
  }

  /** What was noted since last time counts. */
  keep(): void {
    for (const index of this.#journal) {
      this.#now[index] = 0;
      if (this.#all[index] === 1) continue;
      this.#all[index] = 1;
      this.#added.push(index);
    }
    this.#journal.length = 0;
  }

  /** Whether something was noted since last time that had not been reached before. */
  get hasNews(): boolean {
    return this.#journal.some((index) => this.#all[index] === 0);
  }

  /** What was noted since last time does not count. */
  drop(): void {
    for (const index of this.#journal) this.#now[index] = 0;
    this.#journal.length = 0;
  }

  /** What has been reached since the beginning, in that order. */
  get added(): readonly number[] {
    return this.#added;
  }

  /** What has been reached, by its place in `points`. */
  get indices(): readonly number[] {
    return this.points.flatMap((_, i) => (this.#all[i] === 1 ? [i] : []));
  }

  /** Begins anew, from what has been reached elsewhere. */
  restart(indices: readonly number[]): void {
    this.drop();
    this.#all.fill(0);
    for (const index of indices) this.#all[index] = 1;
    this.#added.length = 0;
  }
}
