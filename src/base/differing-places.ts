import { escapePointer, isObject } from './json.js';
import { same } from './same.js';

/** The places where two values differ, as JSON Pointers, innermost; at most `most`. */
export function differingPlaces(a: unknown, b: unknown, most: number, at = ''): string[] {
  if (same(a, b)) return [];
  const areLists = Array.isArray(a) && Array.isArray(b);
  const areObjects = isObject(a) && isObject(b);
  if (!areLists && !areObjects) return [at];
  // Where items were added or taken out, and in a list of numbers or texts, what differs is the list.
  if (areLists && (a.length !== b.length || !a.some(isNested))) return [at];
  const found: string[] = [];
  const [left, right] = [a as Record<string, unknown>, b as Record<string, unknown>];
  for (const key of new Set([...Object.keys(left), ...Object.keys(right)])) {
    if (found.length >= most) break;
    const below = `${at}/${escapePointer(key)}`;
    const isThere = Object.hasOwn(left, key) && Object.hasOwn(right, key);
    found.push(
      ...(isThere ? differingPlaces(left[key], right[key], most - found.length, below) : [below]),
    );
  }
  return found;
}

const isNested = (value: unknown): boolean => typeof value === 'object' && value !== null;
