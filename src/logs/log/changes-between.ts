import { escapePointer, isObject } from '../../base/json.js';
import { same } from '../../base/same.js';
import type { PatchOperation } from './log-lines.js';

/** What makes one value of another, as a JSON Patch: item by item in lists that only grew or shrank at their end. */
export function changesBetween(
  before: unknown,
  after: unknown,
  at = '',
): readonly PatchOperation[] {
  if (same(before, after)) return [];
  if (Array.isArray(before) && Array.isArray(after)) return changesOfList(before, after, at);
  if (!isObject(before) || !isObject(after) || Array.isArray(before) || Array.isArray(after))
    return [{ op: 'replace', path: at, value: after } as PatchOperation];
  const gone = Object.keys(before).filter((key) => !Object.hasOwn(after, key));
  return [
    ...gone.map((key): PatchOperation => ({ op: 'remove', path: `${at}/${escapePointer(key)}` })),
    ...Object.entries(after).flatMap(([key, part]): readonly PatchOperation[] => {
      const path = `${at}/${escapePointer(key)}`;
      return Object.hasOwn(before, key)
        ? changesBetween(before[key], part, path)
        : [{ op: 'add', path, value: part } as PatchOperation];
    }),
  ];
}

/** So many items at most are changed one by one: if more are, the list is another one. */
const mostItems = 3;

function changesOfList(
  before: readonly unknown[],
  after: readonly unknown[],
  at: string,
): readonly PatchOperation[] {
  const shared = Math.min(before.length, after.length);
  const other = [...after.keys()].filter((i) => i < shared && !same(before[i], after[i]));
  if (other.length > mostItems)
    return [{ op: 'replace', path: at, value: after } as PatchOperation];
  return [
    ...other.flatMap((i) => changesBetween(before[i], after[i], `${at}/${i}`)),
    ...after
      .slice(shared)
      .map(
        (value, i): PatchOperation =>
          ({ op: 'add', path: `${at}/${shared + i}`, value }) as PatchOperation,
      ),
    ...before
      .slice(shared)
      .map((_, i): PatchOperation => ({ op: 'remove', path: `${at}/${before.length - 1 - i}` })),
  ];
}
