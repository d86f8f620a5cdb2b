import { atPointer, escapePointer, isObject, type Json } from '../../base/json.js';
import type { Random } from '../../base/random.js';
import type { State } from '../../base/state.js';
import type { Application } from '../../model/application.js';
import { trailsOf, type Stop, type Trail } from './trails.js';

/** A part of a payload that was taken from the state; `from` is where it stands there, if it stands there as it is. */
export interface Part {
  readonly value: Json;
  readonly from: string | undefined;
}

/** By the JSON Pointer of the part. */
export type Parts = ReadonlyMap<string, Part>;

/** The chance that a part is what it is held against somewhere: it may be to differ. */
const shareOfEquals = 0.7;

/** So many items of a list are tried, to find one that the rest of the way leads on from. */
const mostTried = 6;

/**
 * Parts of a payload that agree with each other: a table that is there, and a seat at that table. Each trail is followed once,
 * those that bind most first; what one has bound holds for the others.
 */
export function agreeingParts(
  application: Application,
  name: string,
  state: State,
  random: Random,
): Parts {
  const parts = new Map<string, Part>();
  for (const trail of trailsOf(application, name)) {
    if (trail.equals !== undefined && !random.chance(shareOfEquals)) continue;
    const bound = new TrailSearch(trail, parts, random).from(
      atPointer(state, trail.root),
      trail.root,
    );
    for (const [part, one] of bound ?? []) parts.set(part, one);
  }
  return parts;
}

type Bound = readonly (readonly [string, Part])[];

/** Looks for what one trail binds in a state. */
class TrailSearch {
  constructor(
    readonly trail: Trail,
    readonly parts: Parts,
    readonly random: Random,
  ) {}

  /** What is bound from a stop on; `undefined` if the way does not lead to its end. */
  from(value: unknown, at: string, index = 0): Bound | undefined {
    const { stops, equals } = this.trail;
    const stop = stops[index];
    if (stop === undefined) return this.#atEnd(value, at, equals);
    if (typeof value !== 'object' || value === null) return undefined;
    if (stop.kind === 'property') {
      const own = (value as Readonly<Record<string, unknown>>)[stop.name];
      return this.from(own, `${at}/${escapePointer(stop.name)}`, index + 1);
    }
    for (const [key, item] of this.#items(value, stop)) {
      const place = `${at}/${escapePointer(key)}`;
      const rest = this.from(item, place, index + 1);
      if (rest === undefined) continue;
      if (stop.kind === 'any') return rest;
      return [[stop.part, partOf(value, key, item, stop.by, place)], ...rest];
    }
    return undefined;
  }

  #atEnd(value: unknown, at: string, equals: string | undefined): Bound | undefined {
    if (equals === undefined) return [];
    const known = this.parts.get(equals);
    if (known !== undefined) return known.value === value ? [] : undefined;
    return isScalar(value) ? [[equals, { value, from: at }]] : undefined;
  }

  /** The items that may be meant, in any order: the one that was picked before, or some. */
  #items(value: object, stop: Stop): readonly (readonly [string, unknown])[] {
    const all = Object.entries(value) as readonly (readonly [string, unknown])[];
    const known = stop.kind === 'picked' ? this.parts.get(stop.part) : undefined;
    if (known !== undefined && stop.kind === 'picked')
      return all.filter(
        ([key, item]) => partOf(value, key, item, stop.by, '').value === known.value,
      );
    const from = this.random.below(all.length + 1);
    return [...all.slice(from), ...all.slice(0, from)].slice(0, mostTried);
  }
}

/** What a payload says to pick an item: its property, its position, or the key of an entry. */
function partOf(
  list: object,
  key: string,
  item: unknown,
  by: string | undefined,
  place: string,
): Part {
  if (by === undefined) return { value: Array.isArray(list) ? Number(key) : key, from: undefined };
  const own = isObject(item) ? item[by] : undefined;
  return isScalar(own)
    ? { value: own, from: `${place}/${escapePointer(by)}` }
    : { value: null, from: undefined };
}

const isScalar = (value: unknown): value is string | number | boolean | null =>
  value === null || ['string', 'number', 'boolean'].includes(typeof value);
