import type { Difference } from '../session/difference.js';
import type { ScriptStep } from '../script.js';
import { renumbered } from './renumbered.js';

/**
 * A script without some of its steps, in the ways that may show the same: first with what the steps that are left drew and took
 * before under their new names, then as they are. What answers calls of steps that are gone goes too, and what answers later ones
 * is numbered anew.
 */
export function withoutSteps(
  steps: readonly ScriptStep[],
  isLeftOut: (place: number) => boolean,
  { calls, done }: Pick<Difference, 'calls' | 'done'>,
): readonly (readonly ScriptStep[])[] {
  const kept = keptSteps(steps, isLeftOut, calls);
  const named = done && renumbered(kept, isLeftOut, done);
  const plain = kept.map(([step]) => step);
  return named === undefined ? [plain] : [named, plain];
}

/** The steps that are left, with their places. */
function keptSteps(
  steps: readonly ScriptStep[],
  isLeftOut: (place: number) => boolean,
  calls: readonly number[] | undefined,
): readonly (readonly [ScriptStep, number])[] {
  const kept = steps.flatMap((step, i) => (isLeftOut(i) ? [] : [[step, i] as const]));
  if (calls === undefined) return kept;
  const gone = new Set<number>();
  steps.forEach((_, i) => {
    if (!isLeftOut(i)) return;
    const [from, to] = [calls[i] ?? 0, calls[i + 1] ?? calls[i] ?? 0];
    for (let call = from + 1; call <= to; call++) gone.add(call);
  });
  if (gone.size === 0) return kept;
  const numbered = (call: number) => call - [...gone].filter((other) => other < call).length;
  return kept.flatMap(([step, i]): readonly (readonly [ScriptStep, number])[] => {
    if ('answer' in step)
      return gone.has(step.answer) ? [] : [[{ ...step, answer: numbered(step.answer) }, i]];
    if ('value' in step)
      return gone.has(step.value) ? [] : [[{ ...step, value: numbered(step.value) }, i]];
    return [[step, i]];
  });
}
