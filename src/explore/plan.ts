import type { Application } from '../model/application.js';
import { plannedLength } from './random-scripts.js';
import type { KeptScript } from './searching.js';
import type { Unit } from './unit.js';

/** How the steps of a budget are searched: by trying everything in a small scope, at random, or both. */
export const searches = ['both', 'small', 'random'] as const;
export type SearchKind = (typeof searches)[number];

/** The share of the steps that is spent on trying everything in a small scope, if both searches are wanted. */
const shareOfWalks = 0.3;

/** So many steps of each walk are enough then, whatever is left: random scripts find more. */
const mostOfWalk = 20_000;

/** How many random scripts are one unit of work, and how many units are one round: all of it draws on the same kept scripts. */
const scriptsInUnit = 5;
const unitsInRound = 8;

/** At most so many scripts are kept to be varied: the newest. */
export const mostKept = 200;

/** A share of a search: the second of eight. */
export interface Shard {
  readonly number: number;
  readonly of: number;
}

/** Scripts of different shares have different numbers: so far apart. */
export const scriptsInShard = 10_000_000;

/** One walk for each store alone, then one through all of them; a share does some of them. */
export function walksFor(
  application: Application,
  steps: number,
  { kind, depth }: { readonly kind: SearchKind; readonly depth: number },
  { number, of }: Shard,
): readonly Unit[] {
  const names = application.stores
    .filter(({ actions }) => actions.length > 0)
    .map(({ name }) => name);
  const scopes = names.length === 1 ? names : [...names, undefined];
  const share = Math.floor(stepsOfWalks(kind, steps) / scopes.length);
  const each = kind === 'small' ? share : Math.min(share, mostOfWalk);
  if (each === 0) return [];
  return scopes
    .map((store) => ({ kind: 'walk', store, steps: each, depth }) as const)
    .filter((_, i) => i % of === number - 1);
}

/** How many of the steps of a budget go into walks. */
function stepsOfWalks(kind: SearchKind, steps: number): number {
  if (kind === 'random') return 0;
  return kind === 'small' ? steps : Math.floor(steps * shareOfWalks);
}

/** A round of random scripts, up to a number of steps; none if there are no steps left. */
export function randomRound(
  seed: number,
  first: number,
  steps: number,
  kept: readonly KeptScript[],
): readonly (Unit & { readonly kind: 'random' })[] {
  const units: (Unit & { readonly kind: 'random' })[] = [];
  let left = steps;
  let number = first;
  while (units.length < unitsInRound && left > 0) {
    const lengths: number[] = [];
    while (lengths.length < scriptsInUnit && left > 0) {
      const length = Math.min(plannedLength(seed, number + lengths.length), left);
      lengths.push(length);
      left -= length;
    }
    units.push({ kind: 'random', seed, first: number, lengths, kept });
    number += lengths.length;
  }
  return units;
}
