import { isCancel, isSend, isStart, type ScriptStep } from './script.js';

/** The action or the task that a step names; '' if it names none. */
export function deedOf(step: ScriptStep): string {
  if (isSend(step)) return step.send;
  if (isStart(step)) return step.start;
  return isCancel(step) ? step.cancel : '';
}

/** The action or the task that the last step of a script names; `undefined` if it names none. */
export function lastDeedOf(steps: readonly ScriptStep[]): string | undefined {
  const last = steps.at(-1);
  return last === undefined ? undefined : deedOf(last) || undefined;
}
