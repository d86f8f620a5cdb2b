import { isObject } from '../../base/json.js';
import type { Abilities } from '../../model/participant.js';
import type { Player, TasksShown } from '../playing/player.js';
import type { ScriptStep } from '../script.js';
import type { MatchedCalls } from './matched-calls.js';

/** A step as a participant is asked to do it whose calls have other numbers; `undefined` if it answers one that it has not made. */
export function stepWithin(step: ScriptStep, calls: MatchedCalls): ScriptStep | undefined {
  if ('answer' in step) {
    const answer = calls.ownOf(step.answer);
    return answer === undefined ? undefined : { ...step, answer };
  }
  if ('value' in step) {
    const value = calls.ownOf(step.value);
    return value === undefined ? undefined : { ...step, value };
  }
  return step;
}

/** What of tasks a participant can be held against: of its calls those that are compared, aborted ones by its own numbers. */
export function tasksWithin(shown: TasksShown, calls: MatchedCalls, has: Abilities): TasksShown {
  const aborted = has.abortsCalls ? shown.aborted.flatMap((one) => calls.ownOf(one) ?? []) : [];
  return {
    calls: shown.calls,
    // In which order signals are aborted within a step is up to code of the user's.
    aborted: sorted(aborted),
    // Who cannot say how a run ended, or that nobody listens, is not asked.
    stopped: [],
    ends: [],
    running: readingsWithin(shown.running, has),
  };
}

/** What a participant shows of its tasks, as far as it is held against the first: calls in the order of the first. */
export function ownWithin(
  shown: TasksShown,
  { outside, has }: Pick<Player, 'outside' | 'has'>,
): TasksShown {
  if (has?.abortsCalls === false) return { ...shown, aborted: [], stopped: [] };
  const isListed = (number: number) =>
    has?.operations.has(outside?.operations[number - 1] ?? '') === true;
  return { ...shown, aborted: sorted(shown.aborted.filter(isListed)) };
}

const sorted = (numbers: readonly number[]): readonly number[] => numbers.toSorted((a, b) => a - b);

function readingsWithin(running: unknown, has: Abilities): unknown {
  if (!isObject(running)) return running;
  const stores = new Set([...has.tasks].map((name) => name.split('.')[0]));
  return Object.fromEntries(
    Object.entries(running)
      .filter(([store]) => stores.has(store))
      .map(([store, own]) => [
        store,
        Object.fromEntries(
          Object.entries(isObject(own) ? own : {})
            .filter(([task]) => has.tells.has(`${store}.${task}`))
            .map(([task, readings]) => [
              task,
              { running: isObject(readings) ? readings.running : undefined },
            ]),
        ),
      ]),
  );
}
