import { isObject } from '../../base/json.js';
import type { Abilities } from '../../model/participant.js';
import type { TasksShown } from '../playing/player.js';
import type { ScriptStep } from '../script.js';
import type { StepRecord } from './step-record.js';

/**
 * A step as a participant is asked to do it that may not make all calls: which call is meant is counted among those that
 * it makes. `undefined` if it answers one that it does not make.
 */
export function stepWithin(
  { step, operations }: Pick<StepRecord, 'step' | 'operations'>,
  has: Abilities | undefined,
): ScriptStep | undefined {
  if (has === undefined) return step;
  if ('answer' in step) {
    const answer = numberWithin(step.answer, operations, has);
    return answer === undefined ? undefined : { ...step, answer };
  }
  if ('value' in step) {
    const value = numberWithin(step.value, operations, has);
    return value === undefined ? undefined : { ...step, value };
  }
  return step;
}

/** The number of a call among those that a participant makes. */
export function numberWithin(
  number: number,
  operations: readonly string[],
  has: Abilities,
): number | undefined {
  if (!has.operations.has(operations[number - 1] ?? '')) return undefined;
  return operations.slice(0, number).filter((operation) => has.operations.has(operation)).length;
}

/** What of tasks a participant can be held against. */
export function tasksWithin(
  shown: TasksShown,
  operations: readonly string[],
  has: Abilities | undefined,
): TasksShown {
  if (has === undefined) return shown;
  const within = (numbers: readonly number[]) =>
    has.abortsCalls ? numbers.flatMap((one) => numberWithin(one, operations, has) ?? []) : [];
  return {
    calls: shown.calls.filter(({ operation }) => has.operations.has(operation)),
    aborted: within(shown.aborted),
    // Who cannot say how a run ended, or that nobody listens, is not asked.
    stopped: [],
    ends: [],
    running: readingsWithin(shown.running, has),
  };
}

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
