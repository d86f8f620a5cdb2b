import { escapePointer, isObject, type Json } from '../../base/json.js';
import { isSend, isStart, type ScriptStep } from '../script.js';

/** A number or a text in what a step gives, and the step with another in its place. */
export interface Leaf {
  readonly value: number | string;
  readonly put: (value: number | string) => ScriptStep;
}

/** A leaf that is a number, or a number as a form field gives it. */
export const isNumeric = ({ value }: Leaf): boolean =>
  typeof value === 'number' || (value.trim() !== '' && Number.isFinite(Number(value)));

/** A step with another number in place of a leaf, by so much; or with a text that is longer by so much, or shorter. */
export function withMore(leaf: Leaf, more: number): ScriptStep {
  const { value, put } = leaf;
  if (!isNumeric(leaf)) {
    const length = Math.round([...String(value)].length + more);
    return put(withLength(String(value), length));
  }
  const number = Number(value);
  const sum = Number.isInteger(number) ? Math.round(number + more) : number + more;
  // JSON has no infinity, and writes -0 as 0: a script has to be the same when it is read again.
  const next = Number.isFinite(sum) ? sum + 0 : number;
  return put(typeof value === 'string' ? String(next) : next);
}

/** The longest text that is made. */
const longestText = 1000;

/** A text of some length in characters: with more at its end, or less. */
function withLength(text: string, length: number): string {
  const characters = [...text];
  const wanted = Math.min(longestText, Math.max(0, length));
  return characters.slice(0, wanted).join('') + 'q'.repeat(Math.max(0, wanted - characters.length));
}

/** The numbers and texts in a payload, an answer or a time that passes. */
export function leavesOf(step: ScriptStep): readonly Leaf[] {
  if ('pass' in step) {
    if (step.pass === 'next') return [];
    return [{ value: step.pass, put: (ms) => ({ pass: Math.max(0, Math.round(Number(ms))) }) }];
  }
  // What stands in the state is meant to.
  if (isSend(step) || isStart(step))
    return leavesIn(step.payload, '', (payload) => ({ ...step, payload })).filter(
      ({ at }) => step.fill?.[at] === undefined,
    );
  if ('answer' in step && 'error' in step)
    return leavesIn(step.error, '', (error) => ({ ...step, error }));
  if (('answer' in step || 'value' in step) && 'result' in step)
    return leavesIn(step.result, '', (result) => ({ ...step, result }));
  return [];
}

function leavesIn(
  value: Json | undefined,
  at: string,
  put: (whole: Json) => ScriptStep,
): readonly (Leaf & { readonly at: string })[] {
  if (typeof value === 'number' || typeof value === 'string') return [{ value, put, at }];
  if (Array.isArray(value))
    return value.flatMap((item: Json, i) =>
      leavesIn(item, `${at}/${i}`, (other) => put(value.with(i, other) as Json)),
    );
  if (!isObject(value)) return [];
  return Object.entries(value as Readonly<Record<string, Json>>).flatMap(([name, part]) =>
    leavesIn(part, `${at}/${escapePointer(name)}`, (other) => put({ ...value, [name]: other })),
  );
}
