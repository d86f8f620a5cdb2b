import { thrownMessage } from '../base/thrown-message.js';
import type { TaskError } from '../model/participant.js';
import type { Failure, Operation } from '../model/tasks.js';
import type { Judge } from './judge.js';
import { takeIn } from './take-in.js';
import { withoutExtra } from './without-extra.js';

/** An error that says no more than its kind. */
export const errorOf = (kind: Failure): TaskError => ({ kind, message: kind, data: null });

/** What comes of a call, as the stores keep it; `undefined` if it does not fit, or throws when it is looked at. */
export function judged(
  value: unknown,
  type: Operation['result'],
  { dropsExtra }: Pick<Operation, 'dropsExtra'>,
  judge: Judge,
): { readonly value: unknown } | undefined {
  if (type === undefined) return { value: undefined };
  try {
    const taken = takeIn(value);
    const result = dropsExtra ? withoutExtra(taken, type, judge.types) : taken;
    return judge.fits(result, type) ? { value: result } : undefined;
  } catch {
    return undefined;
  }
}

/** The error of a call that was rejected, with its data if that fits. */
export function rejectionOf(error: unknown, { error: type }: Operation, judge: Judge): TaskError {
  const data = judged(error, type, { dropsExtra: false }, judge)?.value ?? null;
  return { kind: 'rejected', message: thrownMessage(error), data };
}
