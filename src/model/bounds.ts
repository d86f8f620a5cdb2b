import { isObject, pointerParts, type Json } from '../base/json.js';
import { membersOf, type Type, type TypeTable } from './types.js';

/** A bound that a type sets on a value besides its kind. */
export interface Bound {
  /** Where, within a value of the type: names of properties, `[]` for any item of a list, `{}` for any entry. */
  readonly parts: readonly string[];
  /** As in JSON Schema; `whole` for whole numbers, and `key` for items of which no two have one key. */
  readonly what: BoundKind;
  /** The limit: the least number, the longest text; none for a bound that is kept or not. */
  readonly value?: number;
}

export type BoundKind =
  | 'whole'
  | 'minimum'
  | 'maximum'
  | 'exclusiveMinimum'
  | 'exclusiveMaximum'
  | 'multipleOf'
  | 'minLength'
  | 'maxLength'
  | 'format'
  | 'minItems'
  | 'maxItems'
  | 'uniqueItems'
  | 'key';

/** The depth to which bounds are looked for: types may contain themselves. */
const deepest = 6;

/** The bounds within a type, outermost first, each once. */
export function boundsIn(
  type: Type,
  types: TypeTable,
  parts: readonly string[] = [],
): readonly Bound[] {
  if (parts.length > deepest) return [];
  const found = membersOf(type, types).flatMap((member) => [
    ...ownBounds(member).map((bound) => ({ ...bound, parts })),
    ...partsOf(member).flatMap(([name, part]) => boundsIn(part, types, [...parts, name])),
  ]);
  return [...new Map(found.map((one) => [`${placeOf(one)} ${one.what}`, one])).values()];
}

/** A place as it is shown: `.lengthM`, `[].plate`. */
export const placeOf = ({ parts }: Pick<Bound, 'parts'>): string =>
  parts.map((part) => (part === '[]' || part === '{}' ? part : `.${part}`)).join('');

/** The bound that a value does not keep, if it is one that keeps it from fitting; `at` is the JSON Pointer within the value. */
export function boundMissed(
  value: unknown,
  type: Type,
  types: TypeTable,
  at: string,
): Bound | undefined {
  const [parts, below]: [string[], unknown[]] = [[], [value]];
  let members = membersOf(type, types);
  let around: readonly Type[] = [];
  for (const name of pointerParts(at)) {
    const all = members.flatMap(partsOf);
    const key = Array.isArray(below.at(-1)) ? '[]' : name;
    const inner = all.filter(([own]) => own === key);
    parts.push(inner.length > 0 ? key : '{}');
    around = members;
    members = (inner.length > 0 ? inner : all.filter(([own]) => own === '{}')).flatMap(([, part]) =>
      membersOf(part, types),
    );
    below.push((below.at(-1) as Readonly<Record<string, unknown>> | undefined)?.[name]);
  }
  const part = below.at(-1);
  const bounds = members.flatMap(ownBounds);
  const missed = bounds.find((bound) => !isKept(part, bound));
  if (missed !== undefined) return { ...missed, parts };
  // It is the second with its key that does not fit.
  const list = below.at(-2);
  const isSecond = around.some(
    (member) => member.kind === 'list' && isSecondIn(list, part, member.key),
  );
  return isSecond ? { parts: parts.slice(0, -1), what: 'key' } : undefined;
}

/** The types of what stands at a place within values of a type. */
export function typesAt(type: Type, parts: readonly string[], types: TypeTable): readonly Type[] {
  let found = membersOf(type, types);
  for (const part of parts)
    found = found.flatMap((member) =>
      partsOf(member)
        .filter(([name]) => name === part)
        .flatMap(([, inner]) => membersOf(inner, types)),
    );
  return found;
}

/** True if all values of a type, which is no union and has no name, keep a bound that is about the value itself. */
export function implies(type: Type, bound: Bound): boolean {
  const { what, value = 0 } = bound;
  if (type.kind === 'unknown') return false;
  if (type.kind === 'literal') return isKept(type.value, bound);
  const kind =
    what === 'whole' || what === 'multipleOf' || what.endsWith('imum')
      ? 'number'
      : what === 'format' || what.endsWith('Length')
        ? 'string'
        : 'list';
  if (type.kind !== kind) return true;
  return ownBounds(type).some((own) => {
    if (own.what !== what) return false;
    if (own.value === undefined || what === 'multipleOf') return own.value === bound.value;
    return what.includes('ax') ? own.value <= value : own.value >= value;
  });
}

function isSecondIn(list: unknown, item: unknown, key: string | undefined): boolean {
  if (key === undefined || !Array.isArray(list) || !isObject(item)) return false;
  return list.some((other) => other !== item && isObject(other) && other[key] === item[key]);
}

function partsOf(type: Type): readonly (readonly [string, Type])[] {
  if (type.kind === 'list') return [['[]', type.item]];
  if (type.kind === 'map') return [['{}', type.value]];
  if (type.kind !== 'record') return [];
  return type.fields.map((field) => [field.name, field.type] as const);
}

function ownBounds(type: Type): readonly Omit<Bound, 'parts'>[] {
  switch (type.kind) {
    case 'number':
      return [...(type.integer ? [{ what: 'whole' as const }] : []), ...numbersOf(type.bounds)];
    case 'string': {
      const { format, ...lengths } = type.bounds;
      return [
        ...numbersOf(lengths),
        ...(format === undefined ? [] : [{ what: 'format' as const }]),
      ];
    }
    case 'list': {
      const { uniqueItems, ...counts } = type.bounds ?? {};
      return [
        ...numbersOf(counts),
        ...(uniqueItems === true ? [{ what: 'uniqueItems' as const }] : []),
        ...(type.key === undefined ? [] : [{ what: 'key' as const }]),
      ];
    }
    case 'boolean':
    case 'map':
    case 'null':
    case 'absent':
    case 'literal':
    case 'tuple':
    case 'record':
    case 'union':
    case 'named':
    case 'never':
    case 'unknown':
      return [];
  }
}

/** Those that are numbers. What everything keeps, such as a length of at least 0, is none. */
function numbersOf(bounds: object): readonly Omit<Bound, 'parts'>[] {
  return Object.entries(bounds as Readonly<Record<string, number>>).flatMap(([what, value]) =>
    what.startsWith('minL') || what.startsWith('minI')
      ? value > 0
        ? [{ what: what as BoundKind, value }]
        : []
      : [{ what: what as BoundKind, value }],
  );
}

/** True if a value keeps a bound, as far as the bound is about values of its kind; formats, keys and equal items are not looked at. */
function isKept(part: unknown, { what, value = 0 }: Omit<Bound, 'parts'>): boolean {
  if (typeof part === 'number') {
    if (what === 'whole') return Number.isInteger(part);
    if (what === 'minimum') return part >= value;
    if (what === 'maximum') return part <= value;
    if (what === 'exclusiveMinimum') return part > value;
    if (what === 'exclusiveMaximum') return part < value;
    return what !== 'multipleOf' || Number.isInteger(part / value);
  }
  if (typeof part === 'string') {
    const { length } = [...part];
    if (what === 'minLength') return length >= value;
    if (what === 'maxLength') return length <= value;
    return what !== 'format';
  }
  if (!Array.isArray(part)) return true;
  if (what === 'minItems') return part.length >= value;
  if (what === 'maxItems') return part.length <= value;
  return what !== 'uniqueItems';
}

/** A value that fits, with a part that does not keep a bound; `undefined` if there is nothing at the bound's place. */
export function besideBound(
  value: Json,
  bound: Bound,
  [name, ...rest]: readonly string[] = bound.parts,
): Json | undefined {
  if (name === undefined) return brokenPart(value, bound);
  if (typeof value !== 'object' || value === null) return undefined;
  const key = name === '[]' || name === '{}' ? Object.keys(value)[0] : name;
  const part = key === undefined ? undefined : (value as Record<string, Json>)[key];
  const inner = part === undefined ? undefined : besideBound(part, bound, rest);
  if (key === undefined || inner === undefined) return undefined;
  return Array.isArray(value) ? value.with(Number(key), inner) : { ...value, [key]: inner };
}

/** A value that breaks a bound, made of one that keeps it. */
function brokenPart(part: Json, { what, value = 0 }: Bound): Json | undefined {
  const text = (length: number) => 'q'.repeat(Math.max(0, length));
  switch (what) {
    case 'whole':
      return 0.5;
    case 'minimum':
      return value - 1;
    case 'maximum':
      return value + 1;
    case 'exclusiveMinimum':
    case 'exclusiveMaximum':
      return value;
    case 'multipleOf':
      return value * 1.5;
    case 'minLength':
      return text(value - 1);
    case 'maxLength':
      return text(value + 1);
    case 'format':
      return 'quay';
    case 'minItems':
      return Array.isArray(part) ? part.slice(0, value - 1) : undefined;
    case 'maxItems':
    case 'uniqueItems':
    case 'key': {
      if (!Array.isArray(part) || part.length === 0) return undefined;
      const wanted = what === 'maxItems' ? value + 1 : part.length + 1;
      return Array.from({ length: wanted }, (_, i) => part[i % part.length] as Json);
    }
  }
}
