import {
  membersOf,
  sameType,
  type ListBounds,
  type ListType,
  type NumberBounds,
  type RecordType,
  type StringBounds,
  type Type,
  type TypeTable,
} from './types.js';

/**
 * How sure it must be that a value of one type fits another: `shape` leaves bounds, whole numbers and NaN
 * to a check at run time, `proof` leaves nothing.
 */
export type Certainty = 'shape' | 'proof';

/** True if every value of type `from` fits type `to`. */
export function fits(from: Type, to: Type, types: TypeTable, certainty: Certainty): boolean {
  if (from.kind === 'unknown' || to.kind === 'unknown') return certainty === 'shape';
  if (from.kind === 'named' && to.kind === 'named' && from.name === to.name) return true;
  const wanted = membersOf(to, types);
  return membersOf(from, types).every((part) => fitsSome(part, wanted, types, certainty));
}

function fitsSome(
  from: Type,
  wanted: readonly Type[],
  types: TypeTable,
  certainty: Certainty,
): boolean {
  if (wanted.some((to) => fitsMember(from, to, types, certainty))) return true;
  if (from.kind !== 'boolean') return false;
  const both = [true, false].map((value): Type => ({ kind: 'literal', value }));
  return both.every((value) => wanted.some((to) => fitsMember(value, to, types, certainty)));
}

/** True if a list of so many items, each of which fits, surely fits a list type as a whole. */
function isSurely(length: number, { key, bounds = {} }: ListType): boolean {
  const isTold = key === undefined && bounds.uniqueItems === undefined;
  return (
    (isTold || length < 2) &&
    length >= (bounds.minItems ?? 0) &&
    length <= (bounds.maxItems ?? Infinity)
  );
}

/** The pairs of types whose fit is being looked at, outermost first. */
const lookedAt: (readonly [Type, Type])[] = [];

/** Types that contain themselves fit if nothing else speaks against it than that they are being looked at. */
function fitsMember(from: Type, to: Type, types: TypeTable, certainty: Certainty): boolean {
  if (lookedAt.some(([one, other]) => one === from && other === to)) return true;
  lookedAt.push([from, to]);
  try {
    return fitsKind(from, to, types, certainty);
  } finally {
    lookedAt.pop();
  }
}

function fitsKind(from: Type, to: Type, types: TypeTable, certainty: Certainty): boolean {
  const sure = certainty === 'proof';
  switch (from.kind) {
    case 'string':
      return to.kind === 'string' && (!sure || impliesString(from.bounds, to.bounds));
    case 'number':
      if (to.kind !== 'number') return false;
      return (
        !sure ||
        (from.finite && (from.integer || !to.integer) && impliesNumber(from.bounds, to.bounds))
      );
    case 'literal':
      if (to.kind === 'literal') return from.value === to.value;
      if (typeof from.value === 'boolean') return to.kind === 'boolean';
      if (typeof from.value === 'string')
        return to.kind === 'string' && (!sure || fitsString(from.value, to.bounds));
      return to.kind === 'number' && (!sure || fitsNumber(from.value, to.integer, to.bounds));
    case 'list':
      if (to.kind !== 'list') return false;
      return (
        fits(from.item, to.item, types, certainty) &&
        (!sure ||
          ((to.key === undefined || from.key === to.key) && impliesList(from.bounds, to.bounds)))
      );
    case 'tuple': {
      const { items } = from;
      if (to.kind === 'tuple')
        return (
          items.length === to.items.length &&
          items.every((item, i) => fits(item, to.items[i] as Type, types, certainty))
        );
      if (to.kind !== 'list' || (sure && !isSurely(items.length, to))) return false;
      return items.every((item) => fits(item, to.item, types, certainty));
    }
    case 'map':
      return to.kind === 'map' && fits(from.value, to.value, types, certainty);
    case 'record':
      if (to.kind === 'map') {
        return from.fields.every(
          (field) =>
            !field.optional &&
            field.name !== '__proto__' &&
            fits(field.type, to.value, types, certainty),
        );
      }
      return to.kind === 'record' && fitsRecord(from, to, types, certainty);
    case 'boolean':
    case 'null':
    case 'absent':
    case 'union':
    case 'named':
    case 'never':
    case 'unknown':
      return from.kind === to.kind;
  }
}

function fitsRecord(
  from: RecordType,
  to: RecordType,
  types: TypeTable,
  certainty: Certainty,
): boolean {
  const given = new Map(from.fields.map((field) => [field.name, field]));
  const known = new Set(to.fields.map(({ name }) => name));
  if (from.fields.some(({ name }) => !known.has(name))) return false;
  return to.fields.every(({ name, type, optional }) => {
    const field = given.get(name);
    if (field === undefined) return optional;
    return (optional || !field.optional) && fits(field.type, type, types, certainty);
  });
}

function fitsString(value: string, { minLength, maxLength, format }: StringBounds): boolean {
  if (format !== undefined) return false;
  const length = [...value].length;
  return length >= (minLength ?? 0) && length <= (maxLength ?? Infinity);
}

function fitsNumber(value: number, integer: boolean, bounds: NumberBounds): boolean {
  if (!Number.isFinite(value) || (integer && !Number.isInteger(value))) return false;
  const times = value / (bounds.multipleOf ?? 1);
  // Beyond that Ajv's own arithmetic has the last word.
  if (bounds.multipleOf !== undefined && !(Number.isInteger(times) && Math.abs(times) < 1e21))
    return false;
  if (value < (bounds.minimum ?? -Infinity) || value > (bounds.maximum ?? Infinity)) return false;
  return (
    value > (bounds.exclusiveMinimum ?? -Infinity) && value < (bounds.exclusiveMaximum ?? Infinity)
  );
}

function impliesString(from: StringBounds, to: StringBounds): boolean {
  return (
    (to.format === undefined || from.format === to.format) &&
    (from.minLength ?? 0) >= (to.minLength ?? 0) &&
    (from.maxLength ?? Infinity) <= (to.maxLength ?? Infinity)
  );
}

function impliesList(from: ListBounds = {}, to: ListBounds = {}): boolean {
  return (
    (from.minItems ?? 0) >= (to.minItems ?? 0) &&
    (from.maxItems ?? Infinity) <= (to.maxItems ?? Infinity) &&
    (from.uniqueItems === true || to.uniqueItems === undefined)
  );
}

function impliesNumber(from: NumberBounds, to: NumberBounds): boolean {
  if (to.multipleOf !== undefined && to.multipleOf !== from.multipleOf) return false;
  const above = Math.max(from.minimum ?? -Infinity, from.exclusiveMinimum ?? -Infinity);
  const below = Math.min(from.maximum ?? Infinity, from.exclusiveMaximum ?? Infinity);
  return (
    above >= (to.minimum ?? -Infinity) &&
    below <= (to.maximum ?? Infinity) &&
    (to.exclusiveMinimum === undefined ||
      (from.exclusiveMinimum ?? -Infinity) >= to.exclusiveMinimum ||
      (from.minimum ?? -Infinity) > to.exclusiveMinimum) &&
    (to.exclusiveMaximum === undefined ||
      (from.exclusiveMaximum ?? Infinity) <= to.exclusiveMaximum ||
      (from.maximum ?? Infinity) < to.exclusiveMaximum)
  );
}

/** The properties that are alike in all values of a type, if all are objects. */
export function recordOf(type: Type, types: TypeTable): RecordType | undefined {
  const members = membersOf(type, types);
  const [first, ...others] = members.filter((member) => member.kind === 'record');
  if (first === undefined || others.length + 1 < members.length) return undefined;
  if (others.length === 0) return first;
  const fields = first.fields.filter((field) =>
    others.every((other) =>
      other.fields.some(
        (same) =>
          same.name === field.name &&
          same.optional === field.optional &&
          sameType(same.type, field.type),
      ),
    ),
  );
  return { kind: 'record', fields };
}
