import { isObject } from '../base/json.js';
import type { CornerKind } from '../model/corners.js';
import type { Coverable, CoverPoint, Reach } from '../model/cover-points.js';
import type { Expr } from '../model/expressions.js';
import {
  missesOfComparison,
  missesOfPick,
  missesOfRight,
  missesOfStored,
  type Misses,
} from './corner-sides.js';

/** How far it was from reaching a point, by its place; less is nearer. */
export type Near = readonly [index: number, distance: number];

/** What has been reached of what can be. */
export class Reached implements Reach {
  /** All that can be reached, in schema order. */
  readonly points: readonly CoverPoint[];
  /** The places of points, by what happens and where: `done`, then `deck.admit`. */
  readonly #known: ReadonlyMap<string, ReadonlyMap<string, number>>;
  /** The places of the points of derived values, by store and name. */
  readonly #derived = new Map<string, Map<string, DerivedPoints>>();
  readonly #decisions: ReadonlyMap<Expr, number>;
  readonly #all: Uint8Array;
  readonly #now: Uint8Array;
  readonly #journal: number[] = [];
  /** After how many steps each point was reached since the beginning. */
  readonly #hits: Uint32Array;
  /** How near each point came that was not reached, and which came nearer since the beginning. */
  readonly #nearest = new Map<number, number>();
  readonly #nearer: Near[] = [];
  #isAside = false;
  #listener: Listener | undefined;
  /** The corners, by what is told of them: the value of a step may be a comparison, too. */
  readonly #corners: Readonly<Record<CornerKind, Map<Expr, CornerPlace>>> = {
    comparison: new Map(),
    right: new Map(),
    pick: new Map(),
    stored: new Map(),
  };
  /** What was added since the beginning, in that order. */
  readonly #added: number[] = [];
  /** What scripts have led to, and to what they did for the first time since the beginning. */
  readonly #isLed: Uint8Array;
  readonly #led: number[] = [];

  constructor({ points, decisions, corners }: Coverable) {
    const counted = [...points, ...decisions.flatMap(({ sides }) => sides)];
    this.points = [...counted, ...corners.flatMap((corner) => corner.points)];
    let first = counted.length;
    for (const { kind, expr, points: sides } of corners) {
      this.#corners[kind].set(expr, { first, sides: sides.length });
      first += sides.length;
    }
    this.#known = placesOf(points);
    this.#decisions = new Map(decisions.map(({ expr }, i) => [expr, points.length + 2 * i]));
    this.#all = new Uint8Array(this.points.length);
    this.#now = new Uint8Array(this.points.length);
    this.#hits = new Uint32Array(this.points.length);
    this.#isLed = new Uint8Array(this.points.length);
  }

  readonly point = (at: string, what: string): void => {
    this.#note(this.#known.get(what)?.get(at));
  };

  readonly decided = (expr: Expr, way: boolean): void => {
    const index = this.#decisions.get(expr);
    if (index !== undefined) this.#note(way ? index : index + 1);
  };

  readonly compared = (expr: Expr, left: unknown, right: unknown): void => {
    const first = this.#cornerOf('comparison', expr);
    if (first === undefined || typeof left !== 'number' || typeof right !== 'number') return;
    if (!Number.isNaN(left - right)) this.#noteSides(first, missesOfComparison(left, right));
  };

  readonly right = (expr: Expr, value: unknown): void => {
    const first = this.#cornerOf('right', expr);
    if (first !== undefined) this.#noteSides(first, missesOfRight(value));
  };

  readonly picked = (
    test: Expr,
    items: readonly unknown[],
    isMeant: (item: never, i: number) => unknown,
  ): void => {
    const first = this.#cornerOf('pick', test);
    if (first === undefined) return;
    // What is evaluated for a corner is not done.
    this.#isAside = true;
    let answers: readonly boolean[] = [];
    try {
      answers = items.map((item, i) => Boolean(isMeant(item as never, i)));
    } catch {
      // It throws when it is done, too, if it is done for that item.
    }
    this.#isAside = false;
    this.#noteSides(first, missesOfPick(answers));
  };

  readonly stored = (value: Expr, now: unknown, before: unknown): void => {
    const first = this.#cornerOf('stored', value);
    if (first !== undefined) this.#noteSides(first, missesOfStored(now, before));
  };

  /** The place of the first side of a corner; `undefined` if it is none, or all of its sides were reached already. */
  #cornerOf(kind: CornerKind, expr: Expr): number | undefined {
    if (this.#isAside) return undefined;
    const corner = this.#corners[kind].get(expr);
    if (corner === undefined) return undefined;
    const { first, sides } = corner;
    for (let i = first; i < first + sides; i++) if (this.#all[i] === 0) return first;
    return undefined;
  }

  #noteSides(first: number, misses: Misses): void {
    for (const [side, miss] of misses.entries())
      if (miss === 0) this.#note(first + side);
      else if (this.#all[first + side] === 0) this.#noteNear(first + side, partOf(miss), miss);
  }

  /** Notes how near something came to a point that it did not reach. */
  #noteNear(index: number, far: number, miss: number | undefined): void {
    this.#listener?.(index, far, miss);
    if (far >= (this.#nearest.get(index) ?? Infinity)) return;
    this.#nearest.set(index, far);
    this.#nearer.push([index, far]);
  }

  readonly near = (at: string, what: string, distance: () => number): void => {
    const index = this.#known.get(what)?.get(at);
    if (index === undefined || this.#all[index] === 1) return;
    // What is evaluated for a distance is not done.
    this.#isAside = true;
    const far = distance();
    this.#isAside = false;
    this.#noteNear(index, far, undefined);
  };

  /** Whoever listens is told how near each point comes that was not reached. */
  listen(listener: Listener | undefined): void {
    this.#listener = listener;
  }

  /** What came nearer than ever before since the beginning, in that order. */
  get nearer(): readonly Near[] {
    return this.#nearer;
  }

  #note(index: number | undefined): void {
    if (index === undefined || this.#isAside || this.#now[index] === 1) return;
    this.#now[index] = 1;
    this.#journal.push(index);
  }

  /** Notes which derived values are others than before, and which are not. */
  noteDerived(before: unknown, now: unknown): void {
    if (!isObject(now) || !isObject(before)) return;
    for (const store in now) {
      const [old, values] = [before[store], now[store]];
      if (!isObject(values) || !isObject(old)) continue;
      const points = this.#pointsOf(store, values);
      for (const [name, { changed, unchanged }] of points)
        this.#note(Object.is(values[name], old[name]) ? unchanged : changed);
    }
  }

  #pointsOf(store: string, values: object): ReadonlyMap<string, DerivedPoints> {
    let points = this.#derived.get(store);
    if (points === undefined) {
      const place = (name: string, way: string) => this.#known.get(way)?.get(`${store}.${name}`);
      points = new Map(
        Object.keys(values).map((name) => [
          name,
          { changed: place(name, 'changed'), unchanged: place(name, 'unchanged') },
        ]),
      );
      this.#derived.set(store, points);
    }
    return points;
  }

  /** What was noted since last time counts. */
  keep(): void {
    for (const index of this.#journal) {
      this.#now[index] = 0;
      this.#hits[index] = (this.#hits[index] ?? 0) + 1;
      if (this.#isLed[index] === 0) this.#led.push(index);
      this.#isLed[index] = 1;
      if (this.#all[index] === 1) continue;
      this.#all[index] = 1;
      this.#added.push(index);
    }
    this.#journal.length = 0;
  }

  /** True if something was noted since last time that had not been reached before. */
  get hasNews(): boolean {
    return this.#journal.some((index) => this.#all[index] === 0);
  }

  /** What was noted since last time that had not been reached before. */
  get news(): readonly number[] {
    return this.#journal.filter((index) => this.#all[index] === 0);
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

  /** What was led to since the beginning that no script had led to before, in that order. */
  get led(): readonly number[] {
    return this.#led;
  }

  /** What has been reached, by its place in `points`. */
  get indices(): readonly number[] {
    return this.points.flatMap((_, i) => (this.#all[i] === 1 ? [i] : []));
  }

  /** True if something was ever reached that is told like that; true if it is no point. */
  isReached(at: string, what: string): boolean {
    const index = this.#known.get(what)?.get(at);
    return index === undefined || this.#all[index] === 1;
  }

  /** After how many steps a point was reached since the beginning, by its place. */
  countOf(index: number): number {
    return this.#hits[index] ?? 0;
  }

  /** After how many steps each point was reached since the beginning, by its place; those that were not are left out. */
  get hits(): readonly (readonly [index: number, count: number])[] {
    return [...this.#hits.entries()].filter(([, count]) => count > 0);
  }

  /** Begins anew, from what has been reached elsewhere, what of that scripts have led to, and what came near. */
  restart(indices: readonly number[], led = indices, nearest: readonly Near[] = []): void {
    this.drop();
    this.#all.fill(0);
    for (const index of indices) this.#all[index] = 1;
    this.#added.length = 0;
    this.#hits.fill(0);
    this.#isLed.fill(0);
    for (const index of led) this.#isLed[index] = 1;
    this.#led.length = 0;
    this.#nearer.length = 0;
    this.#nearest.clear();
    for (const [index, far] of nearest) this.#nearest.set(index, far);
  }
}

/** Told how near each point comes that was not reached; of what is compared also by how much it was missed, below or above. */
export type Listener = (index: number, far: number, miss: number | undefined) => void;

/** A distance as a part of 1. */
const partOf = (miss: number): number => {
  const far = Math.abs(miss);
  return far === Infinity ? 1 : far / (far + 1);
};

/** The place of the first side of a corner, and how many sides it has. */
interface CornerPlace {
  readonly first: number;
  readonly sides: number;
}

/** The places of what can happen to a derived value. */
interface DerivedPoints {
  readonly changed: number | undefined;
  readonly unchanged: number | undefined;
}

/** The places of points, by what happens and where. */
function placesOf(points: readonly CoverPoint[]): ReadonlyMap<string, ReadonlyMap<string, number>> {
  const places = new Map<string, Map<string, number>>();
  for (const [i, { id }] of points.entries()) {
    const [at, what] = [id.slice(0, id.lastIndexOf(' ')), id.slice(id.lastIndexOf(' ') + 1)];
    const own = places.get(what) ?? new Map<string, number>();
    places.set(what, own.set(at, i));
  }
  return places;
}
