import { escapePointer, isObject } from '../base/json.js';
import { constantOf } from '../model/tags.js';
import {
  membersOf,
  type ListType,
  type RecordType,
  type Type,
  type TypeTable,
} from '../model/types.js';

/**
 * Where a value that does not fit a type does not: the JSON Pointer of the first part, `at` being that of the value. A
 * node comes before its parts, list items go by index, properties in schema order, then unknown ones, entries in key
 * order; last come a second item with a key, and a list itself if it has equal items that it must not. `fits` says whether a part fits a type.
 */
export function misfitIn(
  value: unknown,
  type: Type,
  at: string,
  types: TypeTable,
  fits: (value: unknown, type: Type) => boolean,
): string | undefined {
  if (fits(value, type)) return undefined;
  const inside = (part: unknown, wanted: Type, name: string | number) =>
    misfitIn(part, wanted, `${at}/${escapePointer(name)}`, types, fits);
  const member = memberMeant(value, membersOf(type, types));
  if (member?.kind === 'list' && Array.isArray(value) && isLongEnough(value, member)) {
    for (const [i, item] of value.entries()) {
      const found = inside(item, member.item, i);
      if (found !== undefined) return found;
    }
    const second = value.findIndex((item, i) =>
      value.slice(0, i).some((other) => hasSameKey(item, other, member.key)),
    );
    return second < 0 ? at : `${at}/${second}`;
  }
  if (!isObject(value)) return at;
  if (member?.kind === 'map') {
    for (const [key, entry] of Object.entries(value)) {
      if (key === '__proto__') return `${at}/${key}`;
      const found = inside(entry, member.value, key);
      if (found !== undefined) return found;
    }
  }
  if (member?.kind === 'record') {
    for (const { name, type: wanted, optional } of member.fields) {
      if (!Object.hasOwn(value, name)) {
        if (optional) continue;
        return `${at}/${escapePointer(name)}`;
      }
      const found = inside(value[name], wanted, name);
      if (found !== undefined) return found;
    }
    const known = new Set(member.fields.map(({ name }) => name));
    const extra = Object.keys(value).find((name) => !known.has(name));
    if (extra !== undefined) return `${at}/${escapePointer(extra)}`;
  }
  return at;
}

/** The one member of a union that a value is meant to be, by its kind and by constant properties. */
function memberMeant(value: unknown, members: readonly Type[]): Type | undefined {
  const candidates = members.filter(
    (member) =>
      (Array.isArray(value) && member.kind === 'list') ||
      (isObject(value) &&
        (member.kind === 'map' || (member.kind === 'record' && hasConstants(value, member)))),
  );
  return candidates.length === 1 ? candidates[0] : undefined;
}

function hasConstants(value: Readonly<Record<string, unknown>>, record: RecordType): boolean {
  return record.fields.every(({ name }) => {
    const constant = constantOf(record, name);
    return constant === undefined || value[name] === constant;
  });
}

function isLongEnough(items: readonly unknown[], { bounds = {} }: ListType): boolean {
  return items.length >= (bounds.minItems ?? 0) && items.length <= (bounds.maxItems ?? Infinity);
}

function hasSameKey(one: unknown, other: unknown, key: string | undefined): boolean {
  return key !== undefined && isObject(one) && isObject(other) && one[key] === other[key];
}
