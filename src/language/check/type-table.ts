import { typeScriptReservedTypes } from 'reserved-identifiers';
import { heightsOf } from '../../base/heights.js';
import type { Problems } from '../problems/problem.js';
import type { Span } from '../../base/source.js';
import { namesIn, unknown, type NamedType, type Type, type TypeTable } from '../../model/types.js';
import { entriesOf, type Located } from '../syntax/located.js';
import { longestChain } from '../syntax/depth.js';
import { whyNoName } from './names.js';
import { scalars, TypeReader } from './read-types.js';
import { aboutType } from './type-notes.js';

/** What TypeScript means by a name where a type stands. */
const typeScriptTypes: ReadonlySet<string> = new Set([
  ...typeScriptReservedTypes(),
  ...['asserts', 'infer', 'intrinsic', 'is', 'keyof', 'readonly', 'unique'],
]);

/** Why a text cannot be the name of a type; `undefined` if it can. */
function whyNoType(name: string): string | undefined {
  if (scalars.has(name) || name === 'array') return 'it is a type of JSON Schema';
  if (typeScriptTypes.has(name)) return 'TypeScript has a meaning for it where a type stands';
  return whyNoName(name);
}

/** Reads the `types` of a file, and reports the ones that contain themselves. */
export function readTypes(
  node: Located | undefined,
  problems: Problems,
): { types: TypeTable; reader: TypeReader } {
  const first = new Map<string, Span>();
  const entries = entriesOf(node).filter(({ key, keySpan }) => {
    const taken = first.get(key);
    if (taken !== undefined) {
      const related = [{ message: 'first defined here', span: taken }];
      problems.add('name-taken', keySpan, { name: key, by: 'a type' }, related);
      return false;
    }
    first.set(key, keySpan);
    const why = whyNoType(key);
    if (why !== undefined) problems.add('bad-name', keySpan, { name: key, why });
    return why === undefined;
  });
  const reader = new TypeReader(new Set(entries.map(({ key }) => key)), problems);
  const types = new Map<string, NamedType>();
  for (const { key, keySpan, value } of entries) {
    const about = aboutType(value);
    const type = reader.read(value, false, true);
    const secret = isSecret(value, problems) && ({ secret: true } as const);
    types.set(key, { name: key, type, about, ...secret, span: keySpan });
  }
  refuseLongChains(types, problems);
  for (const type of types.values()) {
    const ring = ringFrom(type.name, type.type, types, [type.name]);
    if (ring !== undefined) {
      problems.add('circular-type', type.span, { ring });
      types.set(type.name, { ...type, type: unknown });
    }
  }
  return { types, reader };
}

/** True if a type under a name is secret. */
function isSecret(node: Located, problems: Problems): boolean {
  const entry = entriesOf(node).find(({ key }) => key === 'secret');
  if (entry === undefined) return false;
  const value = entry.value?.kind === 'scalar' ? entry.value.value : undefined;
  if (typeof value !== 'boolean')
    problems.add('bad-type', entry.keySpan, {
      detail: "'secret' is true or false.",
      hint: undefined,
    });
  return value === true;
}

/** Reports types that lead from one to the next too often, the longest way once, and ends these ways. */
function refuseLongChains(types: Map<string, NamedType>, problems: Problems): void {
  const heights = heightsOf(
    new Map([...types.values()].map(({ name, type }) => [name, namesIn(type)])),
  );
  const longest = [...types.values()].filter(({ name }) => (heights.get(name) ?? 0) > longestChain);
  const most = Math.max(...longest.map(({ name }) => heights.get(name) ?? 0));
  for (const type of longest) {
    if (heights.get(type.name) === most) {
      const detail = `The type '${type.name}' leads through ${most - 1} others; at most ${longestChain} are allowed.`;
      problems.add('wrong-structure', type.span, { detail });
    }
    types.set(type.name, { ...type, type: unknown });
  }
}

/** The way from a type to itself through parts that must be there, if there is one. */
function ringFrom(
  start: string,
  type: Type,
  types: TypeTable,
  way: readonly string[],
): readonly string[] | undefined {
  if (type.kind === 'named') {
    if (type.name === start) return [...way, start];
    if (way.includes(type.name)) return undefined;
    const next = types.get(type.name);
    return next === undefined ? undefined : ringFrom(start, next.type, types, [...way, type.name]);
  }
  if (type.kind === 'union') {
    for (const member of type.members) {
      const ring = member.kind === 'named' ? ringFrom(start, member, types, way) : undefined;
      if (ring !== undefined && passesNoRecord(way, types)) return ring;
    }
    return undefined;
  }
  if (type.kind !== 'record') return undefined;
  for (const field of type.fields) {
    const ring = field.optional ? undefined : ringFrom(start, field.type, types, way);
    if (ring !== undefined) return ring;
  }
  return undefined;
}

/** True if a way through named types leads from name to name without an object on it. */
function passesNoRecord(way: readonly string[], types: TypeTable): boolean {
  return way.every((name) => types.get(name)?.type.kind !== 'record');
}
