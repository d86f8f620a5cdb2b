import { isObject } from '../../base/json.js';
import type { ObservedClass } from '../../model/observed-class.js';
import type { Difference } from '../session/difference.js';
import { choicesOf, smallInputs, type Choice } from '../inputs/inputs.js';
import type { Script, ScriptStep, SendStep } from '../script.js';
import type { Searching } from '../searching.js';

/**
 * What counts once: each `state`, whatever has led to it, but for generated names; or each `sequence` of inputs that
 * change something, even if it leads back: that finds what hides in the past.
 */
export type WalkedBy = 'state' | 'sequence';

/** What is compared in walks, where nobody watches. */
export const seenInWalks: readonly ObservedClass[] = [
  'outcome',
  'state',
  'derived',
  'tasks',
  'problems',
];

/** A state, or a sequence of inputs, that has inputs left to try: how to reach it, and how many were tried there. */
export interface FrontierState {
  readonly path: readonly ScriptStep[];
  readonly tried: number;
}

/** A share of a walk: tries the inputs of a small scope in some states of its frontier. */
export interface ExpandItem {
  readonly kind: 'expansion';
  readonly by: WalkedBy;
  /** The store whose actions are sent; all stores if not given. */
  readonly store: string | undefined;
  /** The task of that store whose orders are tried; all inputs if not given. */
  readonly task?: string | undefined;
  /** How many of the first steps of each path lead to where the walk begins. */
  readonly base: number;
  readonly states: readonly FrontierState[];
  /** The most steps; one input is tried all the same. */
  readonly steps: number;
}

/** An input that has changed something. */
export interface NextState {
  readonly input: ScriptStep;
  /** The same for states that count as one; empty where sequences count. */
  readonly key: string;
  /** True if what it led to is small enough to be gone on from. */
  readonly isWithin: boolean;
}

/** The outcome of one state of the frontier. */
export interface Expanded {
  /** The same for states that count as one. */
  readonly key: string;
  /** The number of inputs that have been tried there by now, and whether these are all. */
  readonly tried: number;
  readonly isDone: boolean;
  readonly nextStates: readonly NextState[];
}

/** The outcome of a share of a walk. */
export interface Expansion {
  readonly steps: number;
  /** The number of inputs that were tried. */
  readonly transitions: number;
  /** Those that were begun, in order. */
  readonly expanded: readonly Expanded[];
  readonly notReported: ReadonlyMap<string, number>;
  readonly found: { readonly script: Script; readonly difference: Difference } | undefined;
}

/** What can be sent within the scope of a work item. */
export function choicesWithin(
  { application, participants }: Searching,
  { store }: Pick<ExpandItem, 'store'>,
): readonly Choice[] {
  return choicesOf(application, participants).filter(
    (choice) => store === undefined || choice.store.name === store,
  );
}

/** What is tried in a state, the first one first. */
export function inputsIn(
  { application }: Searching,
  choices: readonly Choice[],
  state: Readonly<Record<string, unknown>>,
): readonly SendStep[] {
  return choices.flatMap((choice) => smallInputs(application, choice, state));
}

/** States whose lists have more items than that, and than where a walk begins, are not gone on from. */
export const mostItems = 3;

/** True if no list in a value has too many items. */
export function isSmall(value: unknown, most = mostItems): boolean {
  return longestIn(value) <= most;
}

/** The number of items that the longest list in a value has. */
export function longestIn(value: unknown): number {
  if (Array.isArray(value)) return Math.max(value.length, ...value.map(longestIn));
  return isObject(value) ? Math.max(0, ...Object.values(value).map(longestIn)) : 0;
}
