import type { Difference } from '../session/difference.js';
import { deedOf } from '../deed-of.js';
import { withoutSteps } from './without-steps.js';
import { sentBy, type Script, type ScriptStep, type SendStep } from '../script.js';
import { simplerSteps } from './simpler-steps.js';

/** Where a script ends: at a step, after so many calls before each, and what was drawn and sent by then. */
export type Ending = Pick<Difference, 'step' | 'calls' | 'done'>;

/** A script that ends as it is meant to. */
interface Ended<E extends Ending> {
  readonly script: Script;
  readonly difference: E;
}

/** A failing script, with how it fails. */
export interface Failing {
  readonly script: Script;
  readonly difference: Difference;
}

/** A difference in the shortest script that shows it. */
export interface Shrunk extends Failing {
  /** True if the script that was found showed the same when it was done again. */
  readonly isRepeatable: boolean;
}

/** At most this many scripts are tried, if nothing else is said, and these have at most so many steps together. */
const mostTries = 3000;
const mostSteps = 60_000;

export interface ShrinkOptions {
  /** At most so many scripts are tried; 3,000 if not given. */
  readonly most?: number;
  /** True if to stop with the shortest script so far. */
  readonly isOver?: () => boolean;
  /** What may be done in place of several steps; nothing if not given. */
  readonly instead?: readonly SendStep[];
}

/** Scripts that are longer than that are not tried without any two steps, or with steps in other places. */
const longestForPairs = 40;
const longestForMoves = 12;
/** So many steps are tried in place of others, each time that nothing else helps. */
const mostExchanges = 600;

/**
 * A script that still fails, in which no single step can be left out, and payloads are as plain as can be.
 * The same failing script always shrinks to the same one.
 */
export async function shrink<E extends Ending>(
  failing: Ended<E>,
  fails: (script: Script) => Promise<E | undefined>,
  { most = mostTries, isOver = () => false, instead = [] }: ShrinkOptions = {},
): Promise<Ended<E>> {
  let tries = 0;
  let left = mostSteps;
  let best = cut(failing);
  const tried = new Set<string>();
  const attempt: Attempt = async (steps) => {
    const text = JSON.stringify(steps);
    if (tried.has(text)) return false;
    tried.add(text);
    if (tries++ >= most || (left -= steps.length) < 0 || isOver()) return false;
    const script = { ...failing.script, steps };
    const difference = await fails(script);
    if (difference === undefined) return false;
    best = cut({ script, difference });
    return true;
  };
  await removeDeeds(() => best, attempt);
  for (let changed = true; changed;) {
    changed = await removeSteps(() => best, attempt);
    changed = (await simplifyPayloads(() => best.script.steps, attempt)) || changed;
    // Only where nothing else helps: it takes many tries.
    changed ||= await removePairs(() => best, attempt);
    changed ||= await removeAndMove(() => best.script.steps, attempt);
    changed ||= await exchange(best, instead, attempt);
  }
  return best;
}

/** The script without what comes after the step that fails. */
function cut<E extends Ending>({ script, difference }: Ended<E>): Ended<E> {
  return { script: { ...script, steps: script.steps.slice(0, difference.step + 1) }, difference };
}

type Attempt = (steps: readonly ScriptStep[]) => Promise<boolean>;

/** Tries one after the other, until one fails as it is to. */
async function attemptAny(
  scripts: readonly (readonly ScriptStep[])[],
  attempt: Attempt,
): Promise<boolean> {
  for (const steps of scripts) if (await attempt(steps)) return true;
  return false;
}

/** Scripts that are shorter are not worth it. */
const leastForDeeds = 20;

/** Leaves out all that is done of a store, or of an action: much of a long script has nothing to do with what fails. */
async function removeDeeds(best: () => Ended<Ending>, attempt: Attempt): Promise<void> {
  for (const nameOf of [storeOf, deedOf]) {
    const names = new Set(best().script.steps.map(nameOf));
    for (const name of names) {
      const { script, difference } = best();
      const { steps } = script;
      if (name === '' || steps.length < leastForDeeds) continue;
      const isLeftOut = (i: number) => nameOf(steps[i] as ScriptStep) === name;
      await attemptAny(withoutSteps(steps, isLeftOut, difference), attempt);
    }
  }
}

const storeOf = (step: ScriptStep): string => deedOf(step).split('.')[0] ?? '';

/** Leaves out runs of steps, long ones first, then single ones. */
async function removeSteps(best: () => Ended<Ending>, attempt: Attempt): Promise<boolean> {
  const length = () => best().script.steps.length;
  let changed = false;
  for (let size = Math.max(1, length() >> 1); size >= 1; size >>= 1) {
    for (let from = length() - size; from >= 0;) {
      const { script, difference } = best();
      const isLeftOut = (i: number) => i >= from && i < from + size;
      if (await attemptAny(withoutSteps(script.steps, isLeftOut, difference), attempt))
        changed = true;
      from = Math.min(from, length()) - Math.max(1, size >> 1);
    }
  }
  return changed;
}

/** Leaves out two steps that only make sense together: what turns something on and off again. */
async function removePairs(best: () => Ended<Ending>, attempt: Attempt): Promise<boolean> {
  const { script, difference } = best();
  const all = script.steps;
  for (let i = 0; i < all.length && all.length <= longestForPairs; i++)
    for (let j = i + 1; j < all.length; j++)
      if (
        await attemptAny(
          withoutSteps(all, (at) => at === i || at === j, difference),
          attempt,
        )
      )
        return true;
  return false;
}

/** Leaves out one step and does another earlier or later: so what had to be done again is done once. */
async function removeAndMove(
  steps: () => readonly ScriptStep[],
  attempt: Attempt,
): Promise<boolean> {
  const all = steps();
  for (let left = 0; left < all.length && all.length <= longestForMoves; left++) {
    const others = all.toSpliced(left, 1);
    for (const [from, step] of others.entries())
      for (let to = 0; to < others.length; to++) {
        if (to === from) continue;
        const moved = sentAtOnce(step) ?? step;
        if (await attempt(others.toSpliced(from, 1).toSpliced(to, 0, moved))) return true;
      }
  }
  return false;
}

/** Does one step in place of several in a row, of the stores that the script is about; many in a row first. */
async function exchange(
  { script, difference }: Ended<Ending>,
  instead: readonly SendStep[],
  attempt: Attempt,
): Promise<boolean> {
  const { steps } = script;
  const stores = new Set(steps.map(storeOf));
  const meant = instead.filter((step) => stores.has(storeOf(step)));
  let left = mostExchanges;
  const isLong = steps.length > longestForMoves;
  for (let size = steps.length - 1; size >= 2; size = isLong ? size >> 1 : size - 1)
    for (let from = 0; from + size < steps.length; from += isLong ? size >> 1 : 1)
      for (const step of meant) {
        if (left-- <= 0) return false;
        const isLeftOut = (i: number) => i >= from && i < from + size;
        const others = withoutSteps(steps, isLeftOut, difference);
        const exchanged = others.map((left) => left.toSpliced(from, 0, step));
        if (await attemptAny(exchanged, attempt)) return true;
      }
  return false;
}

async function simplifyPayloads(
  steps: () => readonly ScriptStep[],
  attempt: Attempt,
): Promise<boolean> {
  let changed = false;
  for (let i = 0; i < steps().length; i++) {
    for (let progress = true; progress;) {
      progress = false;
      const step = steps()[i];
      if (step === undefined) break;
      for (const simpler of simplerSteps(step)) {
        if (await attempt(steps().with(i, simpler))) {
          changed = progress = true;
          break;
        }
      }
    }
  }
  return changed;
}

/** What a watcher sends, as a step of its own. */
function sentAtOnce(step: ScriptStep): SendStep | undefined {
  return 'watch' in step ? sentBy(step) : undefined;
}
