import { hasTasks, type Application } from '../model/application.js';
import { reachesTasks } from '../model/reaches-tasks.js';
import { plannedScript, scriptOfWay, type PlanOptions } from './search/planned-script.js';
import type { KeptScript } from './searching.js';
import type { RandomItem } from './work-item.js';
import type { WalkScope } from './search/walk.js';

/** How the steps of a budget are searched: by trying everything in a small scope, at random, or both. */
export const searches = ['both', 'small', 'random'] as const;
export type SearchKind = (typeof searches)[number];

/**
 * The number of steps that a search has if nothing else is said: about half a minute's. Steps that take their time are fewer; with
 * one or two that are compared with the reference, `others`, there are more.
 */
export function usualSteps(application: Application, others: number): number {
  if (hasTasks(application)) return 20_000;
  return others <= 2 ? 80_000 : 40_000;
}

/** The share of the steps that is spent on a small scope at most, if both searches are wanted. */
export const shareOfWalks = 0.3;

/** So many steps of a small scope come before random scripts. */
export const walkedAtFirst = 6000;

/** The share of these that is spent on sequences of the actions of one store, whatever states they lead to. */
const shareOfSequences = 0.25;

/** How much fewer steps a walk has if everything takes its time, unless nothing else is wanted. */
const slowness = 4;

/** The share of these that is spent on the runs of one task, in every order. */
const shareOfOrders = 0.35;

/** So many steps of each walk are enough then, whatever is left: random scripts find more. */
const mostOfWalk = 20_000;

/** The number of random scripts that are done before all else: they find what is plainly wrong. */
const scriptsAtFirst = 12;

/** Sequences of inputs that are longer are not tried unasked: where states follow each other like that, they only grow. */
const deepestUnasked = 32;

/** The number of random scripts that are one round: all of it draws on the same kept scripts. Each is a work item. */
export const scriptsInRound = 48;

/** At most so many scripts are kept to be varied: the newest. */
export const mostKept = 200;

/** A share of a search: the second of eight. */
export interface Shard {
  readonly number: number;
  readonly of: number;
}

/** Scripts of different shares have different numbers: so far apart. */
export const scriptsInShard = 10_000_000;

/** What is tried without gaps: of each store alone, by state and by sequence, and of all together; a share does some of it. */
export function scopesFor(
  application: Application,
  steps: number,
  {
    kind,
    depth = deepestUnasked,
  }: { readonly kind: SearchKind; readonly depth?: number | undefined },
  { number, of }: Shard,
): readonly WalkScope[] {
  const names = application.stores
    .filter(({ actions, tasks }) => actions.length + tasks.length > 0)
    .map(({ name }) => name);
  const tasks = application.stores.flatMap((store) =>
    store.tasks.map((task) => ({ store: store.name, task: task.name })),
  );
  const wholes = names.length === 1 ? names : [...names, undefined];
  const all = stepsOfWalks(kind, steps);
  const each = (share: number, count: number) => {
    const own = Math.floor((all * share) / count);
    return kind === 'small' ? own : Math.min(own, mostOfWalk);
  };
  // Where tasks are at work, all participants are made anew for each input: that takes many times as long.
  const isSlow = (store: string | undefined) =>
    hasTasks(application) && (store === undefined || reachesTasks(application, store));
  const quickly = (store: string | undefined, own: number) =>
    isSlow(store) && kind !== 'small' ? Math.ceil(own / slowness) : own;
  const ofTasks = tasks.length === 0 ? 0 : shareOfOrders;
  const byOrder = tasks.length === 0 ? 0 : each(ofTasks, tasks.length);
  const byState = each(1 - shareOfSequences - ofTasks, wholes.length);
  const bySequence = each(shareOfSequences, names.length);
  const scopes: readonly WalkScope[] = [
    ...tasks.map((one) => ({ ...one, by: 'state', steps: byOrder, depth }) as const),
    ...wholes.map(
      (store) => ({ store, by: 'state', steps: quickly(store, byState), depth }) as const,
    ),
    ...names.map(
      (store) => ({ store, by: 'sequence', steps: quickly(store, bySequence), depth }) as const,
    ),
  ];
  return scopes.filter((scope) => scope.steps > 0).filter((_, i) => i % of === number - 1);
}

/** How many of the steps of a budget go into walks. */
function stepsOfWalks(kind: SearchKind, steps: number): number {
  if (kind === 'random') return 0;
  return kind === 'small' ? steps : Math.floor(steps * shareOfWalks);
}

/** The random scripts that are done before all else, if there is to be anything else. */
export function firstRandom(seed: number, first: number, steps: number): readonly RandomItem[] {
  return randomRound(seed, first, steps, []).slice(0, scriptsAtFirst);
}

/** A round of random scripts, up to a number of steps, most of them without what has been told already; none if there are no steps left. */
export function randomRound(
  seed: number,
  first: number,
  steps: number,
  kept: readonly KeptScript[],
  options: PlanOptions = {},
): readonly RandomItem[] {
  const items: RandomItem[] = [];
  let left = steps;
  let number = first;
  while (items.length < scriptsInRound && left > 0) {
    const way = options.ways?.[items.length];
    const planned =
      way === undefined ? plannedScript(seed, number, kept, options) : scriptOfWay(number, way);
    number += 1;
    const length = Math.min(planned.length, left);
    items.push({ kind: 'random', seed, script: { ...planned, length } });
    left -= length;
  }
  return items;
}
