import type { Json } from '../../base/json.js';
import type { Random } from '../../base/random.js';
import { walkExpr, type Expr } from '../../model/expressions.js';
import type { OlderVersion } from '../../model/saved.js';
import { membersOf, type Type, type TypeTable } from '../../model/types.js';

/** The properties that an earlier version of saved data had, as the expressions that read it tell. */
export interface OldProperties {
  readonly own: readonly string[];
  /** Those of its parts. */
  readonly within: readonly string[];
  /** What a property most likely was: that it becomes what has this type. */
  readonly kinds: ReadonlyMap<string, 'string' | 'number'>;
}

/** The chance that a property is of another kind than it most likely was. */
const shareOfOthers = 0.2;

/** A value of a property of old data. */
export function oldValue(name: string, { kinds }: OldProperties, random: Random): Json {
  const kind = kinds.get(name);
  if (kind === undefined || random.chance(shareOfOthers))
    return random.pick([random.below(20), 0, '', 'tide', '3', '12abc', 0.5, -1, null, true]);
  if (kind === 'string') return random.pick(['tide', 'a', '', '3', ' b', 'constructor']);
  return random.pick([0, 0, 1, random.below(20), 7.5, '3', '7.5', '12abc', null]);
}

/** What the expressions of an earlier version read of `old`. */
export function oldProperties(
  older: Pick<OlderVersion, 'fields'> | undefined,
  fields: readonly { readonly name: string; readonly type: Type }[],
  types: TypeTable,
): OldProperties {
  const [own, within] = [new Set<string>(), new Set<string>()];
  const kinds = new Map<string, 'string' | 'number'>();
  const noteKind = (value: Expr, type: Type | undefined): void => {
    const kind = type && kindOf(type, types);
    if (kind === undefined) return;
    walkExpr(value, (node) => {
      if (node.kind === 'member') kinds.set(node.name, kind);
    });
  };
  for (const { field, value } of older?.fields ?? []) {
    noteKind(value, fields.find(({ name }) => name === field)?.type);
    walkExpr(value, (node) => {
      if (node.kind === 'object')
        for (const part of node.parts)
          if (part.kind === 'property') noteKind(part.value, typeNamed(part.name, types));
      if (node.kind !== 'member') return;
      const isOfOld = node.object.kind === 'local' && node.object.name === 'old';
      (isOfOld ? own : within).add(node.name);
    });
  }
  return { own: [...own], within: [...within], kinds };
}

function kindOf(type: Type, types: TypeTable): 'string' | 'number' | undefined {
  const [only, ...others] = membersOf(type, types).filter(({ kind }) => kind !== 'null');
  if (only === undefined || others.length > 0) return undefined;
  return only.kind === 'string' || only.kind === 'number' ? only.kind : undefined;
}

/** The type of a field of that name, of any type of the schema. */
function typeNamed(name: string, types: TypeTable): Type | undefined {
  for (const { type } of types.values())
    for (const member of membersOf(type, types))
      if (member.kind === 'record') {
        const field = member.fields.find((one) => one.name === name);
        if (field !== undefined) return field.type;
      }
  return undefined;
}
