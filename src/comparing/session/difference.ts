import { escapePointer, type Json } from '../../base/json.js';
import { same } from '../../base/same.js';
import type { Leak } from '../../model/participant.js';
import type { ObservedClass } from '../../model/observed-class.js';

/** The outcome of a script with the first participant, step by step. */
export interface ScriptDone {
  /** The identifiers that were drawn, in that order. */
  readonly ids: readonly string[];
  /** How many of them had been drawn before each step. */
  readonly before: readonly number[];
  /** True if identifiers say the number of the step that drew them. */
  readonly byStep: boolean;
  /** What was sent where parts of a payload were taken from the state. */
  readonly sent: readonly (Json | undefined)[];
}

/** A place at which two participants differ. */
export interface Difference {
  /** The step after which they differ, counted from 0. */
  readonly step: number;
  readonly what: ObservedClass;
  /** JSON Pointer to the first part that differs. */
  readonly at: string;
  /** The participant that differs from the first. */
  readonly participant: string;
  readonly expected: unknown;
  readonly actual: unknown;
  /** True if the participant did not answer: a call went on too long, or its thread ended. */
  readonly isStuck?: boolean;
  /** How many calls of operations the first had made before each step of the script; not known if not given. */
  readonly calls?: readonly number[];
  /** What was drawn and sent when the script was done with the first; not known if not given. */
  readonly done?: ScriptDone;
  /** What was sent to the participant up to the action that set off something late: that may be another script. */
  readonly cause?: Pick<Leak, 'steps' | 'afterMs'>;
}

/** The innermost part that differs, by its JSON Pointer. */
export function narrowed(
  expected: unknown,
  actual: unknown,
  at = '',
): Pick<Difference, 'at' | 'expected' | 'actual'> {
  const here = { at, expected, actual };
  if (
    typeof expected !== 'object' ||
    typeof actual !== 'object' ||
    expected === null ||
    actual === null
  )
    return here;
  if (Array.isArray(expected) !== Array.isArray(actual)) return here;
  const keys = [...new Set([...Object.keys(expected), ...Object.keys(actual)])];
  const differing = keys.filter(
    (key) =>
      !(
        Object.hasOwn(expected, key) &&
        Object.hasOwn(actual, key) &&
        same(partOf(expected, key), partOf(actual, key))
      ),
  );
  const [only] = differing;
  if (differing.length !== 1 || only === undefined) return here;
  const [one, other] = [partOf(expected, only), partOf(actual, only)];
  // Of a property that is absent and one that is undefined, only what is around it shows which is which.
  if (one === undefined && other === undefined) return here;
  return narrowed(one, other, `${at}/${escapePointer(only)}`);
}

function partOf(value: object, key: string): unknown {
  return Object.hasOwn(value, key) ? (value as Record<string, unknown>)[key] : undefined;
}
