// What comes of a call.
import { Misfit } from './judging.js';
import type { TaskCheck } from './value-types.js';
import type { TaskError } from './task-outcomes.js';

/** An error that says no more than its kind. */
export const errorOf = (kind: TaskError['kind']): TaskError => ({
  kind,
  message: kind,
  data: null,
});

/** What comes, as the stores keep it; nothing if it does not fit, or throws when it is looked at. */
export function judged(
  value: unknown,
  check: TaskCheck | undefined,
  part: 'result' | 'results' | 'error',
): { readonly value: unknown } | undefined {
  const type = check?.[part];
  if (type === undefined) return { value: undefined };
  try {
    const extra = part === 'error' ? undefined : check?.extraOfAnswer;
    const taken = type.judge(extra === undefined ? value : extra(value, type), true);
    return taken instanceof Misfit ? undefined : { value: taken };
  } catch {
    return undefined;
  }
}

/** The error of a call that was rejected, with its data if that fits. */
export function rejectionOf(error: unknown, check: TaskCheck | undefined): TaskError {
  const data = judged(error, check, 'error')?.value ?? null;
  return { kind: 'rejected', message: messageOf(error), data };
}

function messageOf(error: unknown): string {
  try {
    const { message } = Object(error) as { message: unknown };
    return typeof message === 'string' ? message : String(error);
  } catch {
    return '';
  }
}
