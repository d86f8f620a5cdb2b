import type { Random } from '../../base/random.js';
import { isSend, isStart, type ScriptStep } from '../script.js';

/** A step that is known, or one of an action that is drawn anew when it is its turn. */
export type PlannedStep = ScriptStep | { readonly again: string };

/** Scripts are varied from here on only as far as that. */
const longest = 60;

/** How often an action is repeated at most. */
const mostRepeated = 6;

/** At most so many changes are made to a script. */
const mostChanges = 3;

/**
 * A script that reached something, changed in a few places: steps are left out, repeated, exchanged or drawn anew, or those of
 * another script put in.
 */
export function variation(
  steps: readonly ScriptStep[],
  other: readonly ScriptStep[],
  random: Random,
): readonly PlannedStep[] {
  let planned: readonly PlannedStep[] = steps.slice(-longest);
  const changes = random.below(mostChanges + 1);
  for (let i = 0; i < changes; i++) planned = changed(planned, other, random);
  return planned;
}

function changed(
  steps: readonly PlannedStep[],
  other: readonly ScriptStep[],
  random: Random,
): readonly PlannedStep[] {
  if (steps.length === 0) return steps;
  const at = random.below(steps.length);
  const step = steps[at] as PlannedStep;
  const name = nameOf(step);
  switch (random.below(7)) {
    case 0:
      return steps.toSpliced(at, 1 + random.below(Math.max(1, steps.length >> 2)));
    case 1: {
      const place = random.below(steps.length);
      return steps.with(at, steps[place] as PlannedStep).with(place, step);
    }
    case 2: {
      const from = random.below(other.length + 1);
      return steps.toSpliced(at, 0, ...other.slice(from, from + longest / 2)).slice(0, 2 * longest);
    }
    case 3:
      return steps.slice(0, at + 1);
    case 4:
      return name === undefined ? steps : steps.with(at, { again: name });
    case 5: {
      if (name === undefined) return steps.toSpliced(at, 0, step);
      const times = 1 + random.below(mostRepeated);
      return steps.toSpliced(at + 1, 0, ...Array.from({ length: times }, () => ({ again: name })));
    }
    default:
      return steps.toSpliced(at, 0, ...Array.from({ length: 1 + random.below(3) }, () => step));
  }
}

/** The same action or task, drawn anew; what is about none stays as it is. */
export function asDrawnAnew(step: ScriptStep): PlannedStep {
  const name = nameOf(step);
  return name === undefined ? step : { again: name };
}

/** The action or task that a step asks for. */
function nameOf(step: PlannedStep): string | undefined {
  if ('again' in step) return step.again;
  if (isSend(step)) return step.send;
  return isStart(step) ? step.start : undefined;
}
