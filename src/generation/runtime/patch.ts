// What has changed between two states, as JSON Patch (RFC 6902). Parts that are the same object are passed over.
import { isObject } from './values.js';

/** One operation of a JSON Patch. */
export type Change =
  | { readonly op: 'add' | 'replace'; readonly path: string; readonly value: unknown }
  | { readonly op: 'remove'; readonly path: string };

/** The operations that make one value of another. */
export function patchBetween(before: unknown, after: unknown): readonly Change[] {
  const changes: Change[] = [];
  compare(before, after, '', changes);
  return changes;
}

function compare(before: unknown, after: unknown, path: string, changes: Change[]): void {
  if (Object.is(before, after)) return;
  if (Array.isArray(before) && Array.isArray(after)) compareLists(before, after, path, changes);
  else if (isObject(before) && isObject(after)) compareParts(before, after, path, changes);
  else if (before !== after) changes.push({ op: 'replace', path, value: after });
}

type Parts = Readonly<Record<string, unknown>>;

function compareParts(before: Parts, after: Parts, path: string, changes: Change[]): void {
  for (const key of Object.keys(before))
    if (!Object.hasOwn(after, key)) changes.push({ op: 'remove', path: below(path, key) });
  for (const key of Object.keys(after)) {
    if (Object.hasOwn(before, key)) compare(before[key], after[key], below(path, key), changes);
    else changes.push({ op: 'add', path: below(path, key), value: after[key] });
  }
}

const below = (path: string, key: string): string =>
  `${path}/${key.replaceAll('~', '~0').replaceAll('/', '~1')}`;

type List = readonly unknown[];

/** The common beginning and end are passed over, so that taking out the first item is one operation. */
function compareLists(before: List, after: List, path: string, changes: Change[]): void {
  const least = Math.min(before.length, after.length);
  let start = 0;
  while (start < least && Object.is(before[start], after[start])) start += 1;
  let end = 0;
  while (
    end < least - start &&
    Object.is(before[before.length - 1 - end], after[after.length - 1 - end])
  )
    end += 1;
  const [lastBefore, lastAfter] = [before.length - end, after.length - end];
  if (start === lastBefore && start === lastAfter) return;
  const stays = new Set(after.slice(start, lastAfter));
  const was = new Set(before.slice(start, lastBefore));
  // What was put in its new place already: it is taken out where it stood.
  const placed = new Set<unknown>();
  let [from, to] = [start, start];
  while (from < lastBefore || to < lastAfter) {
    const [old, now] = [before[from], after[to]];
    if (from < lastBefore && to < lastAfter && Object.is(old, now)) {
      from += 1;
      to += 1;
    } else if (from < lastBefore && to < lastAfter && !stays.has(old) && !was.has(now)) {
      compare(old, now, `${path}/${to}`, changes);
      from += 1;
      to += 1;
    } else if (
      from < lastBefore &&
      (to >= lastAfter || !stays.has(old) || placed.has(old) || Object.is(before[from + 1], now))
    ) {
      changes.push({ op: 'remove', path: `${path}/${to}` });
      from += 1;
    } else {
      changes.push({ op: 'add', path: `${path}/${to}`, value: now });
      placed.add(now);
      to += 1;
    }
  }
}
