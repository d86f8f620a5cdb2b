// How a transaction ends: what it changed is judged, and what is equal to before stays the same object.
import { Misfit } from './judging.js';
import type { ListType, StoreChecks, ValueType } from './value-types.js';
import { refuse } from './transaction.js';
import { freeze, isObject, same } from './values.js';

type States = Readonly<Record<string, unknown>>;

/** The state of all stores after a transaction; refused if something in it does not fit. */
export function settledStates<S extends object>(
  before: S,
  after: S,
  checks: Readonly<Record<string, StoreChecks>>,
  guard: boolean,
): S;
export function settledStates(
  before: States,
  after: States,
  checks: Readonly<Record<string, StoreChecks>>,
  guard: boolean,
): States {
  if (before === after) return before;
  let [isChanged, states] = [false, after];
  for (const store of Object.keys(before)) {
    const [old, now] = [before[store], after[store]];
    if (old === now) continue;
    const own = settledStore(old, now, checks[store]?.state, `/${store}`, guard);
    if (own !== old) isChanged = true;
    if (own !== now) states = { ...states, [store]: own };
  }
  if (!isChanged) return before;
  return guard ? Object.freeze(states) : states;
}

function settledStore(
  before: unknown,
  after: unknown,
  type: ValueType | undefined,
  at: string,
  guard: boolean,
): unknown {
  const fields = type !== undefined && 'fields' in type ? type.fields : undefined;
  const hasFields =
    isObject(before) && isObject(after) && (type === undefined || fields !== undefined);
  if (!hasFields) return settled(before, after, type, at, guard);
  let [isChanged, kept] = [false, after];
  for (const field of Object.keys(before)) {
    const [old, now] = [before[field], after[field]];
    if (old === now) continue;
    const own = settled(old, now, fields?.[field], `${at}/${field}`, guard);
    if (own !== old) isChanged = true;
    if (own !== now) kept = { ...kept, [field]: own };
  }
  if (!isChanged) return before;
  return guard ? Object.freeze(kept) : kept;
}

/** What a value becomes. `type` is what it must be, or nothing is judged; `at` is its JSON Pointer. */
export function settled<T>(
  before: T,
  after: T,
  type: ValueType | undefined,
  at: string,
  guard: boolean,
): T;
export function settled(
  before: unknown,
  after: unknown,
  type: ValueType | undefined,
  at: string,
  guard: boolean,
): unknown {
  if (before === after) return before;
  const value =
    Array.isArray(before) && Array.isArray(after)
      ? settledList(before, after, listType(type), guard)
      : isObject(before) && isObject(after)
        ? settledParts(before, after, type, guard)
        : settledWhole(before, after, type, guard);
  if (value instanceof Misfit) refuse('does not fit', `${at}${value.at}`);
  return value;
}

function settledWhole(
  before: unknown,
  after: unknown,
  type: ValueType | undefined,
  guard: boolean,
): unknown {
  if (same(before, after)) return before;
  return judged(after, type, guard);
}

/** What is new, if it fits. */
function judged(value: unknown, type: ValueType | undefined, guard: boolean): unknown {
  const fitting = type === undefined ? value : type.judge(value, false);
  return guard && !(fitting instanceof Misfit) ? freeze(fitting) : fitting;
}

type Properties = Readonly<Record<string, unknown>>;

function settledParts(
  before: Properties,
  after: Properties,
  type: ValueType | undefined,
  guard: boolean,
): unknown {
  const keys = Object.keys(after);
  let isEqual = keys.length === Object.keys(before).length;
  let parts = after;
  for (const key of keys) {
    const now = after[key];
    if (!Object.hasOwn(before, key)) isEqual = false;
    else if (same(before[key], now)) {
      if (!Object.is(before[key], now)) parts = { ...parts, [key]: before[key] };
    } else isEqual = false;
  }
  if (isEqual) return before;
  return judged(parts, type, guard);
}

function listType(type: ValueType | undefined): ValueType | undefined {
  if (type !== undefined && 'later' in type) return listType(type.later());
  return type !== undefined && 'maybe' in type ? listType(type.maybe) : type;
}

/**
 * Only items that are new are judged: what has only moved was judged when it came. One long walk, since what has moved,
 * what is equal and what is new depend on one another.
 */
function settledList(
  before: readonly unknown[],
  after: readonly unknown[],
  type: ValueType | undefined,
  guard: boolean,
): unknown {
  if (type !== undefined && !isListType(type)) return settledWhole(before, after, type, guard);
  const key = type?.by;
  const isJudged = type === undefined || type.wasJudged(after);
  const least = Math.min(before.length, after.length);
  let start = 0;
  while (start < least && Object.is(before[start], after[start])) start += 1;
  if (start === before.length && start === after.length) return before;
  let end = 0;
  while (
    end < least - start &&
    Object.is(before[before.length - 1 - end], after[after.length - 1 - end])
  )
    end += 1;
  const lastBefore = before.length - end;
  let items = after;
  let isEqual = before.length === after.length;
  let next = start;
  let others: ReadonlySet<unknown> | undefined;
  let hasMoved = false;
  const fresh: number[] = [];
  for (let i = start; i < after.length - end; i++) {
    const item = after[i];
    if (next < lastBefore && Object.is(before[next], item)) {
      if (next !== i) isEqual = false;
      next += 1;
      continue;
    }
    if (i < before.length && same(before[i], item)) {
      if (items === after) items = [...after];
      (items as unknown[])[i] = before[i];
      if (next === i && next < lastBefore) next += 1;
      else hasMoved = true;
      continue;
    }
    isEqual = false;
    const hasOldKey = key !== undefined && next < lastBefore && hasSameKey(before[next], item, key);
    if (hasOldKey) next += 1;
    else if (others === undefined) {
      // Some before it may have been taken out; else it is new, or comes from somewhere else.
      const place = before.indexOf(item, next);
      if (place >= 0 && place < lastBefore) {
        next = place + 1;
        continue;
      }
      others = new Set(before.slice(start, lastBefore));
    }
    if (others?.has(item) === true) {
      hasMoved = true;
      continue;
    }
    if (!isJudged && type.list.judge(item, false) instanceof Misfit)
      return type.judge(after, false);
    if (!hasOldKey) fresh.push(i);
    if (guard) freeze(items[i]);
  }
  if (isEqual) return before;
  if (type?.fitsWhole(items, hasMoved ? undefined : fresh) === false)
    return type.judge(after, false);
  return guard ? Object.freeze(items) : items;
}

function isListType(type: ValueType): type is ListType {
  return 'list' in type;
}

function hasSameKey(one: unknown, other: unknown, key: string): boolean {
  return isObject(one) && isObject(other) && one[key] === other[key];
}
