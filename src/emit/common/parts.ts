// Actions that are done as parts of others.
import { isRefusal } from './transaction.js';

/** Does an action as a part of another: if it is refused, that is known of it. */
export function asPartOf<T>(action: string, work: () => T): T {
  try {
    return work();
  } catch (error) {
    if (isRefusal(error)) error.via.unshift(action);
    throw error;
  }
}
