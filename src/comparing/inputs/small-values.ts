import { escapePointer, type Json } from '../../base/json.js';
import { same } from '../../base/same.js';
import { membersOf, resolve, type Format, type Type, type TypeTable } from '../../model/types.js';
import type { Drawn } from './payloads.js';
import type { Pool } from './pool.js';

/** At most so many payloads stand for a type. */
const mostPayloads = 6;

/** At most so many values stand for one part of a payload. */
const mostValues = 4;

/** Types may contain themselves. */
const deepest = 4;

/** A few payloads that stand for all of a type: boundaries, and what stands in the state. The plainest comes first. */
export function smallPayloads(type: Type, pool: Pool, types: TypeTable): readonly Drawn[] {
  return valuesOf(type, '', { pool, types }, 0).slice(0, mostPayloads);
}

interface ValueSources {
  readonly pool: Pool;
  readonly types: TypeTable;
}

function valuesOf(type: Type, at: string, scope: ValueSources, depth: number): readonly Drawn[] {
  const open = resolve(type, scope.types);
  switch (open.kind) {
    case 'literal':
      return plain(open.value);
    case 'boolean':
      return plain(false, true);
    case 'string':
      return textsOf(open, at, scope.pool);
    case 'number':
      return numbersOf(open);
    case 'list': {
      const least = open.bounds?.minItems ?? 0;
      if (depth >= deepest) return plain(...(least === 0 ? [[]] : []));
      const items = valuesOf(open.item, `${at}/0`, scope, depth + 1).map(
        ({ payload, fill }): Drawn => ({ payload: [payload], fill }),
      );
      return least === 0 ? [...plain([]), ...items] : items;
    }
    case 'map': {
      if (depth >= deepest) return plain({});
      const name = scope.pool.names[0] ?? 'pier';
      const entries = valuesOf(open.value, `${at}/${escapePointer(name)}`, scope, depth + 1);
      return [
        ...plain({}),
        ...entries
          .slice(0, 1)
          .map(({ payload, fill }): Drawn => ({ payload: { [name]: payload }, fill })),
      ];
    }
    case 'record':
      return recordsOf(open, at, scope, depth);
    case 'union': {
      const members = membersOf(open, scope.types).map((member) =>
        depth >= deepest && member.kind !== 'null' ? [] : valuesOf(member, at, scope, depth + 1),
      );
      return inTurn(members);
    }
    case 'null':
    case 'absent':
    case 'tuple':
    case 'named':
    case 'never':
    case 'unknown':
      return plain(null);
  }
}

function plain(...values: readonly Json[]): readonly Drawn[] {
  return values.map((payload) => ({ payload, fill: {} }));
}

/** One of each list, then the next of each. */
function inTurn(lists: readonly (readonly Drawn[])[]): readonly Drawn[] {
  const longest = Math.max(0, ...lists.map(({ length }) => length));
  return Array.from({ length: longest }, (_, i) =>
    lists.flatMap((list) => list.slice(i, i + 1)),
  ).flat();
}

/** All properties at their plainest, then one after the other at its other values; optional ones are absent, then there. */
function recordsOf(
  { fields }: Type & { kind: 'record' },
  at: string,
  scope: ValueSources,
  depth: number,
): readonly Drawn[] {
  const each = fields.map(({ name, type, optional }) => ({
    name,
    optional,
    values:
      depth >= deepest && optional
        ? []
        : valuesOf(type, `${at}/${escapePointer(name)}`, scope, depth + 1).slice(0, mostValues),
  }));
  const build = (special: number, choice: number): Drawn => {
    const payload: Record<string, Json> = {};
    const fill: Record<string, string> = {};
    for (const [i, { name, optional, values }] of each.entries()) {
      const value = values[i === special ? choice : 0];
      if (value === undefined || (optional && i !== special)) continue;
      payload[name] = value.payload;
      Object.assign(fill, value.fill);
    }
    return { payload, fill };
  };
  const others = each.map(({ optional, values }, i) =>
    values.slice(optional ? 0 : 1).map((_, n) => build(i, optional ? n : n + 1)),
  );
  return [build(-1, 0), ...inTurn(others)];
}

/** Keys that stand in the state, the first and the last; then a text that stands nowhere, and the shortest. */
function textsOf(
  { bounds: { minLength = 0, maxLength = Infinity, format } }: Type & { kind: 'string' },
  at: string,
  { keys: all, meant }: Pool,
): readonly Drawn[] {
  const own = meant?.get(at) ?? [];
  const keys = own.length > 0 ? own : all;
  if (format !== undefined) return plain(texts[format]);
  const ends = keys.length > 1 ? [keys[0], keys[keys.length - 1]] : keys;
  const there = ends.flatMap((key) =>
    key === undefined ? [] : [{ payload: key.value, fill: { [at]: key.pointer } }],
  );
  const fits = ({ payload }: Drawn) => {
    const { length } = [...(payload as string)];
    return length >= minLength && length <= maxLength;
  };
  // Blanks and small letters show whether a text is trimmed and set in capitals where it should be.
  const others = plain(
    ` ${'a'.repeat(Math.max(1, minLength - 1))}`,
    '',
    'B',
    ' ',
    'a'.repeat(minLength),
  );
  return [...there, ...others].filter(fits).slice(0, mostValues);
}

const texts: Readonly<Record<Format, string>> = {
  date: '2026-11-23',
  'date-time': '2026-11-23T10:45:00Z',
  uuid: '8c2f1d3e-7a1b-4c5d-9e0f-112233445566',
  email: 'mate@skerry.example',
  uri: 'https://skerry.example/deck',
};

/** Both ends of the range, or what is near 0 where it has none, and one number between. */
function numbersOf({
  integer,
  bounds: { minimum, maximum, exclusiveMinimum, exclusiveMaximum, multipleOf },
}: Type & { kind: 'number' }): readonly Drawn[] {
  const step = multipleOf ?? (integer ? 1 : 0.5);
  const low = minimum ?? (exclusiveMinimum === undefined ? undefined : exclusiveMinimum + step);
  const high = maximum ?? (exclusiveMaximum === undefined ? undefined : exclusiveMaximum - step);
  const from = low ?? Math.min(0, high ?? 0);
  const to = high ?? from + 3 * step;
  const between = from + Math.floor((to - from) / 2 / step) * step;
  const numbers = [from, to, between, from + step].filter((n) => n >= from && n <= to);
  return plain(...numbers.filter((n, i) => !numbers.slice(0, i).some((other) => same(other, n))));
}
