import type {
  BinaryExpression,
  ConditionalExpression,
  LogicalExpression,
  UnaryExpression,
} from 'acorn';
import type { BinaryOperator, Expr, UnaryOperator } from '../../../model/expressions.js';
import { typeText } from '../../../model/type-text.js';
import {
  boolean,
  computed,
  literal,
  isStructured,
  membersOf,
  text,
  union,
  unknown,
  without,
  type Type,
} from '../../../model/types.js';
import { requireFit, requirePresent, scalarKind, type Inference } from './inference.js';
import { assume, type Scope } from './scope.js';

export function inferUnary(cx: Inference, node: UnaryExpression, scope: Scope): Expr {
  const operator = node.operator as UnaryOperator;
  const operand = cx.infer(node.argument, scope);
  const span = cx.spanOf(node);
  if (operator === '!') requireCondition(cx, operand, "'!'");
  if (operator === '!') return { kind: 'unary', operator, operand, span, type: boolean };
  if (operand.kind === 'literal' && typeof operand.value === 'number' && operator === '-') {
    return { kind: 'literal', value: -operand.value, span, type: literal(-operand.value) };
  }
  requireNumber(cx, operand, operator);
  return { kind: 'unary', operator, operand, span, type: computed };
}

export function inferBinary(cx: Inference, node: BinaryExpression, scope: Scope): Expr {
  const left = cx.infer(node.left, scope);
  const right = cx.infer(node.right, scope);
  const operator = node.operator as BinaryOperator;
  return {
    kind: 'binary',
    operator,
    left,
    right,
    span: cx.spanOf(node),
    type: binaryType(cx, operator, left, right),
  };
}

function binaryType(cx: Inference, operator: BinaryOperator, left: Expr, right: Expr): Type {
  switch (operator) {
    case '===':
    case '!==':
      checkEquality(cx, operator, left, right);
      return boolean;
    case '<':
    case '<=':
    case '>':
    case '>=':
      checkOrder(cx, operator, left, right);
      return boolean;
    case '+':
      return plusType(cx, left, right);
    case '-':
    case '*':
    case '/':
    case '%':
    case '**':
      for (const side of [left, right]) requireNumber(cx, side, operator);
      return computed;
  }
}

function requireNumber(cx: Inference, side: Expr, operator: string): void {
  const type = requirePresent(cx, side, `'${operator}'`);
  const kind = scalarKind(type, cx.types);
  if (kind === 'number' || type.kind === 'unknown' || type.kind === 'never') return;
  if (kind === 'text') cx.problems.add('text-arithmetic', side.span, { operator });
  else {
    const got = typeText(type, cx.types);
    cx.problems.add('type-mismatch', side.span, { wanted: 'numbers', got, where: `'${operator}'` });
  }
}

function plusType(cx: Inference, left: Expr, right: Expr): Type {
  const types = [left, right].map((side) => requirePresent(cx, side, "'+'"));
  const kinds = types.map((type) => scalarKind(type, cx.types));
  if (types.some(({ kind }) => kind === 'unknown' || kind === 'never')) return unknown;
  if (kinds[0] === 'number' && kinds[1] === 'number') return computed;
  if (kinds[0] === 'text' && kinds[1] === 'text') return text;
  const [wrong, type] =
    kinds[0] === 'number' || kinds[0] === 'text' ? [right, types[1]] : [left, types[0]];
  if (kinds.includes('number') && kinds.includes('text')) {
    const textSide = kinds[0] === 'text' ? left : right;
    cx.problems.add('text-arithmetic', textSide.span, { operator: '+' });
  } else {
    const got = typeText(type ?? unknown, cx.types);
    cx.problems.add('type-mismatch', wrong.span, {
      wanted: 'two numbers or two texts',
      got,
      where: "'+'",
    });
  }
  return unknown;
}

function checkOrder(cx: Inference, operator: string, left: Expr, right: Expr): void {
  const types = [left, right].map((side) => requirePresent(cx, side, `'${operator}'`));
  if (types.some(({ kind }) => kind === 'unknown' || kind === 'never')) return;
  const [one, other] = types.map((type) => scalarKind(type, cx.types));
  if (one === other && (one === 'number' || one === 'text')) return;
  if (one === 'text' || other === 'text') {
    cx.problems.add('text-arithmetic', (one === 'text' ? left : right).span, { operator });
    return;
  }
  const wrong = one === 'number' ? right : left;
  const got = typeText(wrong.type, cx.types);
  cx.problems.add('type-mismatch', wrong.span, {
    wanted: 'two numbers or two texts',
    got,
    where: `'${operator}'`,
  });
}

function checkEquality(cx: Inference, operator: string, left: Expr, right: Expr): void {
  if (isStructured(left.type, cx.types) && isStructured(right.type, cx.types)) {
    const what = typeText(left.type, cx.types);
    cx.problems.add('identity-comparison', left.span, { operator, what });
    return;
  }
  const some = (type: Type, other: Type) =>
    membersOf(type, cx.types).some((member) =>
      membersOf(other, cx.types).some((known) => mayEqual(member, known)),
    );
  if (left.type.kind === 'unknown' || right.type.kind === 'unknown' || some(left.type, right.type))
    return;
  const names = { left: typeText(left.type, cx.types), right: typeText(right.type, cx.types) };
  cx.problems.add('never-equal', { ...left.span, end: right.span.end }, names);
}

function mayEqual(a: Type, b: Type): boolean {
  const scalar = (type: Type) => (type.kind === 'literal' ? typeof type.value : type.kind);
  if (a.kind === 'unknown' || b.kind === 'unknown') return true;
  if (a.kind === 'literal' && b.kind === 'literal') return a.value === b.value;
  return scalar(a) === scalar(b);
}

export function inferLogical(cx: Inference, node: LogicalExpression, scope: Scope): Expr {
  const operator = node.operator;
  const left = cx.infer(node.left, scope);
  if (operator !== '??') requireCondition(cx, left, `'${operator}'`);
  const inner = operator === '??' ? scope : assume(scope, left, operator === '&&', cx.types);
  const right = cx.infer(node.right, inner);
  const type =
    operator === '??'
      ? coalescedType(cx, left, right)
      : shortCircuitType(cx, operator, left, right);
  return { kind: 'logical', operator, left, right, span: cx.spanOf(node), type };
}

function coalescedType(cx: Inference, left: Expr, right: Expr): Type {
  return union([
    without(left.type, cx.types, ({ kind }) => kind === 'absent' || kind === 'null'),
    right.type,
  ]);
}

function shortCircuitType(cx: Inference, operator: '&&' | '||', left: Expr, right: Expr): Type {
  if (
    scalarKind(left.type, cx.types) === 'boolean' &&
    scalarKind(right.type, cx.types) === 'boolean'
  )
    return boolean;
  const dropped = (member: Type) =>
    operator === '||'
      ? member.kind === 'null' ||
        member.kind === 'absent' ||
        (member.kind === 'literal' && !member.value)
      : member.kind === 'record' ||
        member.kind === 'list' ||
        member.kind === 'tuple' ||
        member.kind === 'map' ||
        (member.kind === 'literal' && !!member.value);
  return union([without(left.type, cx.types, dropped), right.type]);
}

export function inferConditional(cx: Inference, node: ConditionalExpression, scope: Scope): Expr {
  const test = cx.infer(node.test, scope);
  requireCondition(cx, test, 'A condition');
  warnOfForegone(cx, test, scope);
  const then = cx.infer(node.consequent, assume(scope, test, true, cx.types));
  const otherwise = cx.infer(node.alternate, assume(scope, test, false, cx.types));
  const type = union([then.type, otherwise.type]);
  return { kind: 'conditional', test, then, else: otherwise, span: cx.spanOf(node), type };
}

/** Warns of a condition that can turn out one way only: the types and the conditions before it leave nothing to ask. */
export function warnOfForegone(
  cx: Pick<Inference, 'types' | 'problems'>,
  test: Expr,
  scope: Scope,
): void {
  const foregone = foregoneOf(cx, test, scope);
  if (foregone === undefined) return;
  const { source, start, end } = test.span;
  const what = `'${source.text.slice(start, end)}'`;
  cx.problems.add(foregone ? 'always-true' : 'always-false', test.span, { what });
}

/** The only way in which a condition can turn out; `undefined` if there are two. */
function foregoneOf(cx: Pick<Inference, 'types'>, test: Expr, scope: Scope): boolean | undefined {
  const members = membersOf(test.type, cx.types);
  const [only] = members;
  if (members.length === 1 && only?.kind === 'literal') return Boolean(only.value);
  for (const way of [true, false]) {
    const before = scope.narrowed;
    const after = assume(scope, test, way, cx.types).narrowed;
    for (const [key, type] of after)
      if (type.kind === 'never' && before.get(key)?.kind !== 'never') return !way;
  }
  return withinBounds(test);
}

/** What a comparison of a number with one that is written as such gives, if the bounds of the type decide it. */
function withinBounds(test: Expr): boolean | undefined {
  if (test.kind !== 'binary' || test.right.kind !== 'literal') return undefined;
  const { left, right } = test;
  const limit = right.value;
  if (left.type.kind !== 'number' || typeof limit !== 'number' || !left.type.finite)
    return undefined;
  const { minimum, maximum, exclusiveMinimum, exclusiveMaximum } = left.type.bounds;
  const least = Math.max(minimum ?? -Infinity, exclusiveMinimum ?? -Infinity);
  const most = Math.min(maximum ?? Infinity, exclusiveMaximum ?? Infinity);
  const isAbove = least > limit || (least === limit && exclusiveMinimum === limit);
  const isBelow = most < limit || (most === limit && exclusiveMaximum === limit);
  switch (test.operator) {
    case '>':
      return isAbove ? true : most <= limit ? false : undefined;
    case '>=':
      return least >= limit ? true : isBelow ? false : undefined;
    case '<':
      return isBelow ? true : least >= limit ? false : undefined;
    case '<=':
      return most <= limit ? true : isAbove ? false : undefined;
    case '+':
    case '-':
    case '*':
    case '/':
    case '%':
    case '**':
    case '===':
    case '!==':
      return undefined;
  }
}

const conditionKinds: readonly Type['kind'][] = [
  'boolean',
  'null',
  'absent',
  'record',
  'list',
  'tuple',
  'map',
  'unknown',
];

/**
 * A condition is true or false, or asks whether an object is there: text and numbers hide what '' and 0 mean. An
 * object or list that is written there is always there.
 */
export function requireCondition(
  cx: Pick<Inference, 'types' | 'problems'>,
  test: Expr,
  where: string,
): void {
  const fine = (member: Type) =>
    conditionKinds.includes(member.kind) ||
    (member.kind === 'literal' && typeof member.value === 'boolean');
  const isWritten = test.kind === 'object' || test.kind === 'list';
  if (isWritten || !membersOf(test.type, cx.types).every(fine))
    requireFit(cx, test, boolean, where);
}
