import type { AnyNode, MemberExpression } from 'acorn';
import { nearest } from '../../../base/suggest.js';
import type { Expr } from '../../../model/expressions.js';
import { typeText } from '../../../model/type-text.js';
import {
  absent,
  integer,
  membersOf,
  number,
  text,
  union,
  unknown,
  without,
  type Type,
} from '../../../model/types.js';
import { requireFit, requirePresent, scalarKind, soleKind, type Inference } from './inference.js';
import { inferStoreMember, inferTaskReading, narrowed } from './names.js';
import type { Scope } from './scope.js';

/** `a.b`, `a?.b`, `a[i]`, `a?.[i]`. */
export function inferAccess(cx: Inference, node: MemberExpression, scope: Scope): Expr {
  const other = inferTaskReading(cx, node, scope) ?? inferStoreMember(cx, node, scope);
  if (other !== undefined) return other;
  const object = cx.infer(node.object, scope);
  return node.computed
    ? inferIndex(cx, node, object, scope)
    : narrowed(inferMember(cx, node, object), scope);
}

/** The type of what stands before a `.`: missing values are a problem, unless `?.` cuts the chain short there. */
export function receiverType(
  cx: Inference,
  node: { readonly optional: boolean },
  object: Expr,
  where: string,
): Type {
  if (!node.optional) return requirePresent(cx, object, where);
  const type = without(object.type, cx.types, isMissing);
  if (type.kind !== 'never') return type;
  cx.problems.add('never-here', object.span, {});
  return unknown;
}

function isMissing({ kind }: Type): boolean {
  return kind === 'absent' || kind === 'null';
}

/** A whole chain `a?.b.c`: absent where a `?.` in it cuts it short. */
export function inferChain(cx: Inference, expr: Expr, scope: Scope): Expr {
  return mayBeCut(expr, cx) ? narrowed({ ...expr, type: union([expr.type, absent]) }, scope) : expr;
}

function mayBeCut(expr: Expr, cx: Inference): boolean {
  if (isOfLazy(expr)) return true;
  if (expr.kind !== 'member' && expr.kind !== 'index' && expr.kind !== 'method') return false;
  return (
    (expr.optional && membersOf(expr.object.type, cx.types).some(isMissing)) ||
    mayBeCut(expr.object, cx)
  );
}

/** True if it is what a lazy store gives, which may not be there. */
export function isOfLazy(expr: Expr): boolean {
  return (
    ['field', 'derived', 'ask', 'task'].includes(expr.kind) &&
    'optional' in expr &&
    expr.optional === true
  );
}

function inferMember(cx: Inference, node: MemberExpression, object: Expr): Expr {
  const property = node.property as AnyNode;
  const name = property.type === 'Identifier' ? property.name : '';
  const type = memberType(cx, receiverType(cx, node, object, `'.${name}'`), name, property);
  return {
    kind: 'member',
    object,
    name,
    // A chain is cut short where it begins.
    optional: node.optional || isOfLazy(object),
    narrowed: false,
    span: cx.spanOf(node),
    type,
  };
}

/** A property that a pattern names. */
export function partNamed(cx: Inference, object: Expr, name: string, node: AnyNode): Expr {
  const type = memberType(cx, requirePresent(cx, object, 'a pattern'), name, node);
  return {
    kind: 'member',
    object,
    name,
    optional: false,
    narrowed: false,
    span: cx.spanOf(node),
    type,
  };
}

/** An item that a pattern names. */
export function partAt(cx: Inference, object: Expr, index: Expr, node: AnyNode): Expr {
  const base = { kind: 'index', object, index, optional: false, span: cx.spanOf(node) } as const;
  return indexOf(cx, requirePresent(cx, object, 'a pattern'), base);
}

function memberType(cx: Inference, type: Type, name: string, property: AnyNode): Type {
  if (type.kind === 'unknown' || type.kind === 'never') return unknown;
  const isText = scalarKind(type, cx.types) === 'text';
  if (name === 'length' && (isText || soleKind(type, 'list', cx.types) !== undefined))
    return integer;
  const fields = membersOf(type, cx.types).map((member) =>
    member.kind === 'record' ? member.fields.find((field) => field.name === name) : undefined,
  );
  if (fields.length > 0 && fields.every((field) => field !== undefined)) {
    return union(fields.map(({ type: own, optional }) => (optional ? union([own, absent]) : own)));
  }
  const known = membersOf(type, cx.types).flatMap((member) =>
    member.kind === 'record' ? member.fields : [],
  );
  const near = nearest(name, [
    ...known.map((field) => field.name),
    ...(known.length === 0 ? ['length'] : []),
  ]);
  const of = capital(typeText(type, cx.types));
  if (soleKind(type, 'map', cx.types) !== undefined) {
    cx.problems.add('type-mismatch', cx.spanOf(property), {
      wanted: `a key in brackets: ['${name}']`,
      got: `'.${name}'`,
      where: of,
    });
  } else cx.problems.add('no-such-property', cx.spanOf(property), { name, of, near });
  return unknown;
}

function capital(words: string): string {
  return words.charAt(0).toUpperCase() + words.slice(1);
}

/** The type of an item of a list whose items have types of their own, at a position that is written as such. */
function tupleItem(type: Type, index: Expr, cx: Inference): Type | undefined {
  const tuple = soleKind(type, 'tuple', cx.types);
  return index.kind === 'literal' && typeof index.value === 'number'
    ? tuple?.items[index.value]
    : undefined;
}

function inferIndex(cx: Inference, node: MemberExpression, object: Expr, scope: Scope): Expr {
  const type = receiverType(cx, node, object, "'[...]'");
  const index = cx.infer(node.property, scope);
  const optional = node.optional || isOfLazy(object);
  return indexOf(cx, type, { kind: 'index', object, index, optional, span: cx.spanOf(node) });
}

type IndexBase = Omit<Expr & { kind: 'index' }, 'of' | 'type'>;

function indexOf(cx: Inference, type: Type, base: IndexBase): Expr {
  const { object, index } = base;
  const item = tupleItem(type, index, cx);
  if (item !== undefined) return { ...base, of: 'list', type: item };
  const list = soleKind(type, 'list', cx.types);
  if (list !== undefined) {
    requireFit(cx, index, number, 'A position in a list');
    return { ...base, of: 'list', type: union([list.item, absent]) };
  }
  const map = soleKind(type, 'map', cx.types);
  if (map !== undefined) {
    requireFit(cx, index, text, 'A key of a dictionary');
    return { ...base, of: 'map', type: union([map.value, absent]) };
  }
  if (scalarKind(type, cx.types) === 'text') {
    requireFit(cx, index, number, 'A position in a text');
    return { ...base, of: 'text', type: union([text, absent]) };
  }
  if (type.kind !== 'unknown') {
    const got = typeText(type, cx.types);
    cx.problems.add('type-mismatch', object.span, {
      wanted: 'a list, a dictionary or text',
      got,
      where: "'[...]'",
    });
  }
  return { ...base, of: 'list', type: unknown };
}
