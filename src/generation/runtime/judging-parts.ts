// Lists, records and dictionaries. A value comes before its parts, items go by their places, properties in the order of
// the type; unknown ones, and items that are there twice, come last.
import { here, Misfit } from './judging.js';
import { shallow, withoutAbsent } from './taking-in.js';
import type { ListBounds, ListType, MapType, RecordType, ValueType } from './value-types.js';
import { isObject, same } from './values.js';

export function fieldsOf(
  fields: Readonly<Record<string, ValueType>>,
  optional: readonly string[] = [],
): RecordType {
  const parts = Object.entries(fields);
  const judge = (value: unknown, isGiven: boolean): unknown => {
    const record = isGiven ? shallow(value) : value;
    if (!isObject(record)) return here;
    let known = 0;
    for (const [name, type] of parts) {
      const part = record[name];
      // Data has no functions: what every object inherits is one.
      if (part === undefined || typeof part === 'function') {
        if (!optional.includes(name)) return here.within(name);
        continue;
      }
      known += 1;
      const judged = type.judge(part, isGiven);
      if (judged instanceof Misfit) return judged.within(name);
      if (judged !== part) record[name] = judged;
    }
    const names = Object.keys(record);
    if (names.length === known) return record;
    const isOdd = (name: string): boolean =>
      Object.hasOwn(fields, name)
        ? typeof record[name] === 'function'
        : !isGiven || record[name] !== undefined;
    const odd = names.find(isOdd);
    if (odd !== undefined) return here.within(odd);
    return isGiven ? withoutAbsent(record) : record;
  };
  return { fields, optional, judge };
}

export const mapOf = (type: ValueType): MapType => ({
  map: type,
  judge: (value, isGiven) => {
    const map = isGiven ? shallow(value) : value;
    if (!isObject(map)) return here;
    let isPartial = false;
    for (const key of Object.keys(map)) {
      const part = map[key];
      if (isGiven && part === undefined) {
        isPartial = true;
        continue;
      }
      const judged = key === '__proto__' ? here : type.judge(part, isGiven);
      if (judged instanceof Misfit) return judged.within(key);
      if (judged !== part) map[key] = judged;
    }
    return isPartial ? withoutAbsent(map) : map;
  },
});

/** Lists that came in and were judged, with the type of their items. */
const judgedLists = new WeakMap<object, ValueType>();

export function listOf(item: ValueType, bounds: ListBounds = {}): ListType {
  const { by, minItems = 0, maxItems = Infinity, uniqueItems = false } = bounds;
  const isLong = (items: readonly unknown[]): boolean =>
    items.length >= minItems && items.length <= maxItems;
  const hasEqual = (items: readonly unknown[]): boolean =>
    uniqueItems && items.some((one, i) => items.slice(0, i).some((other) => same(one, other)));
  return {
    list: item,
    by,
    judge: (value, isGiven) => {
      if (!Array.isArray(value) || !isLong(value)) return here;
      const items: unknown[] = isGiven ? [] : value;
      // A loop: list methods pass over holes, which are no JSON data.
      for (let i = 0; i < value.length; i++) {
        const judged = item.judge(value[i], isGiven);
        if (judged instanceof Misfit) return judged.within(i);
        if (isGiven) items.push(judged);
      }
      const second = secondWithKey(items, by);
      if (second >= 0) return here.within(second);
      if (hasEqual(items)) return here;
      if (isGiven) judgedLists.set(items, item);
      return items;
    },
    wasJudged: (items) => judgedLists.get(items) === item,
    fitsWhole: (items, fresh) => isLong(items) && !hasEqual(items) && hasOwnKeys(items, by, fresh),
  };
}

/** The place of the first item whose key another has before it; -1 if there is none. */
function secondWithKey(items: readonly unknown[], by: string | undefined): number {
  if (by === undefined) return -1;
  const seen = new Set<unknown>();
  for (let i = 0; i < items.length; i++) {
    const key = (items[i] as Readonly<Record<string, unknown>>)[by];
    if (seen.has(key)) return i;
    seen.add(key);
  }
  return -1;
}

/** True if no two items have one key, if those that are not at the fresh places have different ones. */
function hasOwnKeys(
  items: readonly unknown[],
  by: string | undefined,
  fresh: readonly number[] | undefined,
): boolean {
  if (by === undefined) return true;
  if (fresh === undefined || fresh.length > 4) return secondWithKey(items, by) < 0;
  const keyed = items as readonly Readonly<Record<string, unknown>>[];
  return fresh.every((place) => {
    const key = keyed[place]?.[by];
    for (let i = 0; i < keyed.length; i++) if (i !== place && keyed[i]?.[by] === key) return false;
    return true;
  });
}
