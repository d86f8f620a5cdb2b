import type { ScriptStep } from '../script.js';

/**
 * A script without some of its steps. What answers calls that these made goes too, and what answers later ones is numbered
 * anew; `calls` is how many calls had been made before each step.
 */
export function withoutSteps(
  steps: readonly ScriptStep[],
  isLeftOut: (place: number) => boolean,
  calls: readonly number[] | undefined,
): readonly ScriptStep[] {
  const kept = steps.filter((_, i) => !isLeftOut(i));
  if (calls === undefined) return kept;
  const gone = new Set<number>();
  steps.forEach((_, i) => {
    if (!isLeftOut(i)) return;
    const [from, to] = [calls[i] ?? 0, calls[i + 1] ?? calls[i] ?? 0];
    for (let call = from + 1; call <= to; call++) gone.add(call);
  });
  if (gone.size === 0) return kept;
  const renumbered = (call: number) => call - [...gone].filter((other) => other < call).length;
  return kept.flatMap((step): readonly ScriptStep[] => {
    if ('answer' in step)
      return gone.has(step.answer) ? [] : [{ ...step, answer: renumbered(step.answer) }];
    if ('value' in step)
      return gone.has(step.value) ? [] : [{ ...step, value: renumbered(step.value) }];
    return [step];
  });
}
