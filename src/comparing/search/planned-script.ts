import { Random } from '../../base/random.js';
import { fullEvery } from '../session/session.js';
import { deedOf, lastDeedOf } from '../deed-of.js';
import { drawOdd, type Odd } from '../inputs/odd-values.js';
import { idKinds, type Circumstances, type ScriptStep } from '../script.js';
import type { KeptScript } from '../searching.js';
import type { Goal } from './goal.js';
import { variation, type PlannedStep } from './vary.js';

/** The number of steps that a script has that is new, and how many more one has that is a variation: its last step is compared in full. */
const shortLength = 4 * fullEvery;
export const usualLength = 10 * fullEvery;
const greatLength = 60 * fullEvery;
const mostAfter = 4 * fullEvery;
/** The chance that a variation goes on for as long as a new script has steps. */
const shareOfFurther = 0.3;

/** The chance that a script is a variation of one that was kept; of the others, how often one is short, or long. */
const shareOfVaried = 0.5;
const shareOfVariedIfSlow = 0.2;
const shareOfShort = 0.3;
const shareOfLong = 0.4;
const shareOfShortIfSlow = 0.5;
const shareOfLongIfSlow = 0.15;
/** The chance that the script that is varied is one of the newest, and how many these are. */
const shareOfNewest = 0.5;
const newest = 40;
/** The chance that a script has something odd. */
const shareOfOdd = 0.1;
/** The chance that a script is to get somewhere; how many levels of what leads there it has at most, and the chance of each that is not the first. */
const shareOfGoals = 0.3;
const shareOfRare = 0.25;
const shareOfRareIfSlow = 0.6;
const mostLevels = 4;
const shareOfLeading = 0.8;
/**
 * How often such a script goes on from another; how often from the one that came nearest. That is varied,
 * or some of its steps are left out, of which each stays so often: shorter ways leave room for more.
 */
const shareOfGoingOn = 0.75;
const shareOfNearest = 0.4;
const shareOfVariedWay = 0.25;
const shareOfThinned = 0.35;
const shareOfStaying = 0.75;
/** The chance that a script does without what has shown a difference: what others show would be hidden by it. */
const shareOfWithout = 0.75;
/** The chance that a variation has the circumstances of the script that it varies. */
const shareOfSame = 0.7;
/** The chance that identifiers are alike, or numbers; that each participant has a second instance. */
const shareOfIds = 0.2;
const shareOfBeside = 0.06;

/** Under which circumstances a script is done. */
export function drawnCircumstances(random: Random): Circumstances {
  return {
    ...(random.chance(shareOfIds) && { ids: random.pick(idKinds) }),
    ...(random.chance(shareOfBeside) && { beside: true }),
  };
}

/** What is settled of a script before it is drawn. */
export interface PlannedScript {
  /** Its number: with the seed, it says what is drawn. */
  readonly number: number;
  /** The most steps. */
  readonly length: number;
  /** The steps of a script that reached something, varied; none if it is a new one. */
  readonly varied: readonly PlannedStep[];
  /** What its payloads are made of again and again; nothing odd if not given. */
  readonly odd?: Odd | undefined;
  /** The actions and tasks that it does not have: what is wrong with them is told already. */
  readonly without?: readonly string[];
  /** What it is to get to: nothing in particular if not given. */
  readonly aim?: Aim;
  /** The circumstances of the script that it varies. */
  readonly circumstances?: Circumstances;
}

/** What is sent to get somewhere: an action or a task, if it is one, and what leads there. */
export interface Aim {
  readonly name: string | undefined;
  readonly by: readonly string[];
  /** The point that is to be reached again, by its place, if it is one that was. */
  readonly point: number | undefined;
}

export interface PlanOptions {
  /** What is known to lead to something new: these are the first scripts; none if not given. */
  readonly ways?: readonly KeptScript[];
  /** What can be aimed at; nothing if not given. */
  readonly goals?: readonly Goal[];
  /** What was seldom reached; nothing if not given. */
  readonly rare?: readonly Goal[];
  /** The actions and tasks that have shown a difference; none if not given. */
  readonly told?: readonly string[];
  /** True if steps take their time, and it takes many of them to get anywhere; false if not given. */
  readonly isSlow?: boolean;
}

/** Does what leads to something new, and goes on from there. */
export function scriptOfWay(
  number: number,
  { steps, circumstances = {} }: KeptScript,
): PlannedScript {
  return { number, length: steps.length + 2 * fullEvery, varied: steps, circumstances };
}

/** Plans a script, by its number and the seed, and what was kept so far. */
export function plannedScript(
  seed: number,
  number: number,
  kept: readonly KeptScript[],
  { told = [], isSlow = false, goals = [], rare = [] }: PlanOptions = {},
): PlannedScript {
  const random = new Random(mixed(seed, number) ^ planning);
  const odd = random.chance(shareOfOdd) ? drawOdd(random) : undefined;
  const without = told.length > 0 && random.chance(shareOfWithout) ? told : [];
  const isMeant = (step: PlannedStep) =>
    !without.includes('again' in step ? step.again : deedOf(step));
  const isLeft = random.chance(shareOfGoals);
  const isRare = random.chance(isSlow ? shareOfRareIfSlow : shareOfRare);
  const aims = isLeft && goals.length > 0 ? goals : isRare ? rare : [];
  if (aims.length > 0) {
    const goal = random.pick(aims);
    const base = aims === rare ? goal.nearest : startFor(goal, kept, random);
    const aimed = aimedScript(goal, base, random);
    return { ...aimed, number, varied: aimed.varied.filter(isMeant), odd, without };
  }
  const share = isSlow ? shareOfVariedIfSlow : shareOfVaried;
  if (kept.length === 0 || !random.chance(share))
    return { number, length: newLength(random, isSlow), varied: [], odd, without };
  const base = pickKept(kept, random);
  const steps = variation(base.steps, random.pick(kept).steps, random).filter(isMeant);
  // Under other circumstances it may do something else.
  const circumstances = random.chance(shareOfSame) ? base.circumstances : undefined;
  const after = random.chance(shareOfFurther) ? usualLength : fullEvery + random.below(mostAfter);
  const length = steps.length + after;
  return { number, length, varied: steps, odd, without, ...(circumstances && { circumstances }) };
}

/** A script that is to get to a goal, and is of nothing else. */
export function scriptTo(
  goal: Goal,
  number: number,
  kept: readonly KeptScript[],
  random: Random,
): PlannedScript {
  return { number, ...aimedScript(goal, startFor(goal, kept, random), random) };
}

/** A script that is to get to a goal, from what got there or near to it. */
function aimedScript(
  goal: Goal,
  base: KeptScript | undefined,
  random: Random,
): Pick<PlannedScript, 'length' | 'varied' | 'aim' | 'circumstances'> {
  const varied = changedWay(base?.steps ?? [], random);
  const after = base === undefined ? usualLength : fullEvery + random.below(mostAfter);
  return {
    length: varied.length + after,
    varied,
    aim: aimAt(goal, random),
    ...(base?.circumstances && { circumstances: base.circumstances }),
  };
}

/** The steps that lead to a goal: mostly as they are, else varied or fewer. */
function changedWay(steps: readonly ScriptStep[], random: Random): readonly PlannedStep[] {
  if (random.chance(shareOfVariedWay)) return variation(steps, [], random);
  if (!random.chance(shareOfThinned)) return steps;
  return steps.filter((_, i) => i === steps.length - 1 || random.chance(shareOfStaying));
}

/** A script to go on from: the one that came nearest, or one that ends with what prepares the goal; none every now and then. */
function startFor(
  { name, nearest, levels: [first = []] }: Goal,
  kept: readonly KeptScript[],
  random: Random,
): KeptScript | undefined {
  if (!random.chance(shareOfGoingOn)) return undefined;
  const isPreparing = ({ steps }: KeptScript) => {
    const last = lastDeedOf(steps);
    return last !== undefined && (last === name || first.includes(last));
  };
  const preparing = random.chance(shareOfNearest) ? [] : kept.filter(isPreparing);
  return preparing.length > 0 ? random.pick(preparing) : nearest;
}

function aimAt({ name, levels, point }: Goal, random: Random): Aim {
  const [first = [], ...others] = levels.slice(0, 1 + random.below(mostLevels));
  const by = [...first, ...others.flat().filter(() => random.chance(shareOfLeading))];
  return { name, by, point };
}

function newLength(random: Random, isSlow: boolean): number {
  if (random.chance(isSlow ? shareOfShortIfSlow : shareOfShort)) return shortLength;
  return random.chance(isSlow ? shareOfLongIfSlow : shareOfLong) ? greatLength : usualLength;
}

const pickKept = (kept: readonly KeptScript[], random: Random): KeptScript =>
  random.pick(random.chance(shareOfNewest) ? kept.slice(-newest) : kept);

/** What is planned is drawn from another source than what is done. */
const planning = 0x5bd1e995;

/** A seed for each script, so that it does not matter who runs it, and after which others. */
export function mixed(seed: number, number: number): number {
  let mix = Math.imul(seed ^ 0x9e3779b9, 0x85ebca6b) ^ Math.imul(number + 1, 0xc2b2ae35);
  mix = Math.imul(mix ^ (mix >>> 15), 0x2c1b3c6d);
  return mix ^ (mix >>> 12);
}
