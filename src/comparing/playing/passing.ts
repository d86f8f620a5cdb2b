import { isObject, type Json } from '../../base/json.js';
import type { Passed } from '../script.js';

/**
 * Passes a payload as some callers do: what becomes of that object is no concern of the stores. `withAbsent` gives it
 * optional properties that are undefined.
 */
export function passing(
  payload: Json | undefined,
  passed: Passed,
  withAbsent: (payload: Json) => unknown,
  send: (payload: Json | undefined) => unknown,
): unknown {
  if (typeof payload !== 'object' || payload === null) return send(payload);
  const given = structuredClone(payload);
  if (passed === 'frozen') return send(frozen(given));
  if (passed === 'with undefined') return send(withAbsent(given) as Json);
  const outcome = send(given);
  change(given);
  return outcome;
}

function frozen<T>(value: T): T {
  if (typeof value !== 'object' || value === null) return value;
  for (const part of Object.values(value)) frozen(part);
  return Object.freeze(value);
}

/** Changes an object all over, in place. */
function change(value: unknown): void {
  if (Array.isArray(value)) {
    value.forEach(change);
    attemptTo(() => {
      value.reverse();
      value.push('changed by the caller');
    });
    return;
  }
  if (!isObject(value)) return;
  for (const [name, part] of Object.entries(value)) {
    if (typeof part === 'object') change(part);
    else
      attemptTo(() => {
        value[name] = 'changed by the caller';
      });
  }
}

/** A store may have frozen what it was given: that shows elsewhere. */
function attemptTo(act: () => void): void {
  try {
    act();
  } catch {
    // It cannot be changed any more.
  }
}
