import type { AnyNode } from 'acorn';
import type { Problems } from '../../problems/problem.js';
import type { Span } from '../../../base/source.js';
import type { Arrow, Expr } from '../../../model/expressions.js';
import { fits } from '../../../model/fit.js';
import { missingText, typeText } from '../../../model/type-text.js';
import {
  membersOf,
  union,
  unknown,
  without,
  type RecordType,
  type Type,
  type TypeTable,
} from '../../../model/types.js';
import type { Declarations } from '../declarations.js';
import type { Scope } from './scope.js';

/** The types of what is inferred when it is first asked for. */
export interface Results {
  derivedType(store: string, name: string, span: Span): Type;
  functionType(name: string, span: Span): Type;
}

/** What the parts of inference share: one per expression text. */
export interface Inference {
  readonly declarations: Declarations;
  readonly types: TypeTable;
  readonly problems: Problems;
  /** True if a text value would fit where this expression stands. */
  readonly textFits: boolean;
  infer(node: AnyNode, scope: Scope): Expr;
  arrow(node: AnyNode, params: readonly Type[], scope: Scope): Arrow | undefined;
  /** True if this call stands right behind a `...` in a list: iterators can be there. */
  isSpread(node: AnyNode): boolean;
  spanOf(node: AnyNode): Span;
  readonly results: Results;
  /** The same with problems going elsewhere: to try something. */
  quietly(): Inference;
}

/** Reports a value whose type does not fit; false if it does not. `where` is a noun phrase: "'append'". */
export function requireFit(
  { types, problems }: Pick<Inference, 'types' | 'problems'>,
  value: { readonly type: Type; readonly span: Span },
  wanted: Type,
  where: string,
): boolean {
  if (fits(value.type, wanted, types, 'shape')) return true;
  const missing = missingText(value.type, types);
  const present = without(value.type, types, ({ kind }) => kind === 'absent' || kind === 'null');
  const wantsNull = membersOf(wanted, types).some(({ kind }) => kind === 'null');
  const absentOnly = wantsNull
    ? without(value.type, types, ({ kind }) => kind === 'absent')
    : present;
  if (
    missing !== undefined &&
    present.kind !== 'never' &&
    fits(absentOnly, wanted, types, 'shape')
  ) {
    const what = 'This value';
    problems.add('maybe-missing', value.span, {
      what,
      missing: wantsNull ? 'absent' : missing,
      where,
    });
  } else {
    const got = typeText(value.type, types);
    problems.add('type-mismatch', value.span, { wanted: typeText(wanted, types), got, where });
  }
  return false;
}

/** The type without `absent` and `null`, with a problem if it had them: for a value that must be there. */
export function requirePresent(cx: Inference, value: Expr, where: string): Type {
  const missing = missingText(value.type, cx.types);
  if (value.type.kind === 'never') {
    cx.problems.add('never-here', value.span, {});
    return unknown;
  }
  if (missing === undefined) return value.type;
  const present = without(value.type, cx.types, ({ kind }) => kind === 'absent' || kind === 'null');
  cx.problems.add('maybe-missing', value.span, { what: 'This value', missing, where });
  return present.kind === 'never' ? unknown : present;
}

/** The one member of a type of a kind, unions of it opened and joined: the list behind `list | list`. */
export function soleKind<K extends Type['kind']>(
  type: Type,
  kind: K,
  types: TypeTable,
): (Type & { kind: K }) | undefined {
  const members =
    kind === 'list' ? membersOf(type, types).map(listOfTuple) : membersOf(type, types);
  const [first] = members;
  if (first === undefined || members.some((member) => member.kind !== kind)) return undefined;
  if (members.length === 1) return first as Type & { kind: K };
  if (kind === 'record')
    return mergedRecord(members as readonly RecordType[]) as unknown as Type & { kind: K };
  if (kind === 'list') {
    const items = members.map((member) => (member as Type & { kind: 'list' }).item);
    return { kind: 'list', item: union(items) } as unknown as Type & { kind: K };
  }
  return undefined;
}

function listOfTuple(type: Type): Type {
  return type.kind === 'tuple' ? { kind: 'list', item: union(type.items) } : type;
}

/** The record that holds what any of several may hold: a property that one lacks is optional. */
function mergedRecord(records: readonly RecordType[]): RecordType {
  const names = new Set(records.flatMap(({ fields }) => fields.map(({ name }) => name)));
  const fields = [...names].map((name) => {
    const found = records.flatMap((record) => record.fields.filter((field) => field.name === name));
    const optional = found.length < records.length || found.some((field) => field.optional);
    return { name, type: union(found.map(({ type }) => type)), optional };
  });
  return { kind: 'record', fields };
}

/** What kind of scalar a type is made of: 'text', 'number', 'boolean', or none of them. */
export function scalarKind(
  type: Type,
  types: TypeTable,
): 'text' | 'number' | 'boolean' | undefined {
  const kinds = new Set(
    membersOf(type, types).map((member) =>
      member.kind === 'literal' ? typeof member.value : member.kind,
    ),
  );
  if (kinds.size !== 1) return undefined;
  if (kinds.has('string')) return 'text';
  if (kinds.has('number')) return 'number';
  return kinds.has('boolean') ? 'boolean' : undefined;
}
