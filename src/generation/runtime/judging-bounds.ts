// Texts and numbers with bounds.
import { here, integer, number } from './judging.js';
import type { NumberBounds, ScalarType, TextBounds } from './value-types.js';

export function stringWithin(bounds: TextBounds): ScalarType {
  const { minLength = 0, maxLength = Infinity, format } = bounds;
  const isCounted = minLength > 0 || maxLength < Infinity;
  return {
    type: 'string',
    judge: (value) => {
      if (typeof value !== 'string') return here;
      const length = isCounted ? lengthOf(value) : 0;
      const isLong = length >= minLength && length <= maxLength;
      return isLong && (format === undefined || format(value)) ? value : here;
    },
  };
}

const within = (type: ScalarType, bounds: NumberBounds): ScalarType => ({
  type: type.type,
  judge: (value) => {
    const judged = type.judge(value, false);
    return judged === here || isWithin(judged as number, bounds) ? judged : here;
  },
});

export const numberWithin = (bounds: NumberBounds): ScalarType => within(number, bounds);
export const integerWithin = (bounds: NumberBounds): ScalarType => within(integer, bounds);

function isWithin(value: number, bounds: NumberBounds): boolean {
  const { minimum, maximum, exclusiveMinimum, exclusiveMaximum, multipleOf } = bounds;
  if (minimum !== undefined && value < minimum) return false;
  if (maximum !== undefined && value > maximum) return false;
  if (exclusiveMinimum !== undefined && value <= exclusiveMinimum) return false;
  if (exclusiveMaximum !== undefined && value >= exclusiveMaximum) return false;
  // Without tolerance.
  const times = value / (multipleOf ?? 1);
  return multipleOf === undefined || times === Number.parseInt(String(times), 10);
}

/** The length of a text in code points. */
function lengthOf(text: string): number {
  let length = text.length;
  for (let i = 1; i < text.length; i++)
    if ((text.charCodeAt(i) & 0xfc00) === 0xdc00 && (text.charCodeAt(i - 1) & 0xfc00) === 0xd800)
      length -= 1;
  return length;
}
