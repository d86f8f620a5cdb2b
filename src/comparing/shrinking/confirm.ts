import type { Difference } from '../session/difference.js';
import { circumstancesOf, type Script, type SendStep } from '../script.js';
import { shrink, type Failing, type Shrunk } from './shrink.js';
import type { Found } from '../work-item.js';

/** The code of all participants, loaded for itself: nothing of earlier scripts is left in it. */
export interface Load {
  /** Does a script; the first difference that it shows. */
  fails(script: Script): Promise<Difference | undefined>;
  close(): Promise<void>;
}

export interface ConfirmOptions {
  readonly load: () => Promise<Load>;
  /** True if to give up, with what is known by then. */
  readonly isOver: () => boolean;
  /** True if a participant may show another thing each time. */
  readonly mayBeRandom: boolean;
  /** At most so many scripts are tried where each needs a load of its own. */
  readonly mostLoads: number;
  /** What may be done in place of several steps. */
  readonly instead: readonly SendStep[];
}

/** How often a script is done in one load to see whether a participant always shows the same. */
const repetitions = 8;

/**
 * Does a failing script again after a fresh load of the code, and shrinks it. If it does not fail there, what was done
 * before it is done again too: then the script has that with it.
 */
export async function confirm(found: Found, options: ConfirmOptions): Promise<Shrunk> {
  const { script, difference, earlier = [] } = found;
  for (const variant of variantsOf(script)) {
    const shrunk = await shrunkAlone(variant, options);
    if (shrunk !== undefined) return shrunk;
  }
  for (const variant of earlier.length === 0 ? [] : variantsOf(script)) {
    const after = { ...variant, before: earlier };
    const again = await failsAlone(after, options);
    if (again === undefined) continue;
    const shrunk = await shrunkAfter({ script: after, difference: again }, options);
    return { ...shrunk, isRepeatable: await isSteady(shrunk.script, options) };
  }
  return { script, difference, isRepeatable: false };
}

/** As it was found, or looked at more closely: one of both shows it again, unless somebody is not repeatable. */
function variantsOf(script: Script): readonly Script[] {
  const { steps } = script;
  const looks: readonly Script[] =
    script.quiet === true ? [{ steps }, { steps, quiet: true }] : [{ steps }];
  const circumstances = circumstancesOf(script);
  if (Object.keys(circumstances).length === 0) return looks;
  return [...looks, ...looks.map((look) => ({ ...look, ...circumstances }))];
}

async function failsAlone(
  script: Script,
  { load }: Pick<ConfirmOptions, 'load'>,
): Promise<Difference | undefined> {
  const fresh = await load();
  try {
    return await fresh.fails(script);
  } finally {
    await fresh.close();
  }
}

/** At most so many scripts are tried to shrink one that does not come back: each takes its time. */
const mostStuck = 60;

/** True if two loads show the same difference, however often they do the script: not so if answers are at random. */
async function isSteady(script: Script, options: ConfirmOptions): Promise<boolean> {
  if (!options.mayBeRandom) return true;
  const shown = await Promise.all(
    [0, 1].map(async () => {
      const fresh = await options.load();
      try {
        return await shownBy(script, fresh);
      } finally {
        await fresh.close();
      }
    }),
  );
  const [one, other] = shown;
  return one?.first !== undefined && one.text === other?.text;
}

/** What a load shows each time that a script is done in it, and what it showed first. */
async function shownBy(
  script: Script,
  fresh: Load,
): Promise<{ readonly first: Difference | undefined; readonly text: string }> {
  const shown: unknown[] = [];
  let first: Difference | undefined;
  for (let i = 0; i < repetitions; i++) {
    const difference = await fresh.fails(script);
    first ??= difference;
    const { step, what, at, participant, actual } = difference ?? {};
    shown.push([step, what, at, participant, actual]);
    // What takes long, since it is late or does not come back at all, need not be seen again and again.
    if (difference?.isStuck === true || difference?.cause !== undefined) break;
    if (i === 0 && difference === undefined) break;
  }
  return { first, text: JSON.stringify(shown) };
}

/**
 * The script, shrunk, if it fails after a fresh load. All are tried in one load, which is fast; if the code keeps
 * something from script to script, each in its own.
 */
async function shrunkAlone(script: Script, options: ConfirmOptions): Promise<Shrunk | undefined> {
  const { mayBeRandom } = options;
  const [fresh, other] = await Promise.all([
    options.load(),
    mayBeRandom ? options.load() : undefined,
  ]);
  let failing: Failing;
  let shrunk: Failing;
  try {
    const [one, two] = await Promise.all(
      other === undefined
        ? [shownOnce(script, fresh)]
        : [shownBy(script, fresh), shownBy(script, other)],
    );
    if (one?.first === undefined) return undefined;
    failing = { script, difference: one.first };
    if (two !== undefined && two.text !== one.text) return { ...failing, isRepeatable: false };
    shrunk = await shrink(failing, (shorter) => fresh.fails(shorter), {
      isOver: options.isOver,
      instead: options.instead,
      ...(failing.difference.isStuck === true ? { most: mostStuck } : {}),
    });
    // What could not be made shorter has been seen in a load of its own.
    if (JSON.stringify(shrunk.script.steps) === JSON.stringify(script.steps))
      return { ...shrunk, isRepeatable: true };
  } finally {
    await Promise.all([fresh.close(), other?.close()]);
  }
  const again = await failsAlone(shrunk.script, options);
  if (again !== undefined) return { script: shrunk.script, difference: again, isRepeatable: true };
  const slowly = await shrink(failing, (shorter) => failsAlone(shorter, options), {
    most: options.mostLoads,
    isOver: options.isOver,
  });
  return { ...slowly, isRepeatable: true };
}

async function shownOnce(script: Script, fresh: Load) {
  return { first: await fresh.fails(script), text: '' };
}

/** Leaves out what was done before as far as it can be, then steps of it, then steps of the script. */
async function shrunkAfter(failing: Failing, options: ConfirmOptions): Promise<Failing> {
  let best = failing;
  let left = options.mostLoads;
  const attempt = async (before: readonly Script[]): Promise<boolean> => {
    if (left-- <= 0 || options.isOver()) return false;
    const script = { ...best.script, before };
    const difference = await failsAlone(script, options);
    if (difference !== undefined) best = { script, difference };
    return difference !== undefined;
  };
  const before = () => best.script.before ?? [];
  await removeParts(before, attempt);
  for (let i = 0; i < before().length; i++) {
    const steps = () => before()[i]?.steps ?? [];
    await removeParts(steps, (fewer) => attempt(before().with(i, { steps: fewer })));
  }
  const kept = best.script.before;
  return shrink(
    { script: { ...best.script }, difference: best.difference },
    (script) => failsAlone(kept === undefined ? script : { ...script, before: kept }, options),
    { most: options.mostLoads, isOver: options.isOver },
  );
}

/** Leaves out runs of a list, long ones first, as long as the rest will do. */
async function removeParts<T>(
  parts: () => readonly T[],
  attempt: (fewer: readonly T[]) => Promise<boolean>,
): Promise<void> {
  for (let size = parts().length; size >= 1; size >>= 1)
    for (let end = parts().length; end > 0;) {
      const from = Math.max(0, end - size);
      await attempt(parts().toSpliced(from, end - from));
      end = from;
    }
}
