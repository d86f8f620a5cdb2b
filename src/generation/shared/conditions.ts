// Conditions turned round, as a person would write them.
import type { Expr } from '../../model/expressions.js';
import { code, type Code } from '../build/code.js';
import { printExpr, type Reading } from './print-expression.js';

type Comparison = Expr & { readonly kind: 'binary' };

/** A condition turned round, without parentheses where that is plain. */
export function negated(expr: Expr, reading: Reading): Code {
  if (expr.kind === 'unary' && expr.operator === '!') return printExpr(expr.operand, reading);
  if (expr.kind === 'binary') {
    const turned = equalityTurned(expr) ?? orderTurned(expr);
    if (turned !== undefined) return printExpr(turned, reading);
    if (isEmptyTest(expr)) return code`${printExpr(expr.left, reading)} === 0`;
  }
  const printed = printExpr(expr, reading);
  return tight.has(expr.kind) ? code`!${printed}` : code`!(${printed})`;
}

/** Expressions that need no parentheses after `!`. */
const tight: ReadonlySet<Expr['kind']> = new Set([
  'local',
  'member',
  'method',
  'call',
  'field',
  'derived',
  'ask',
]);

function equalityTurned(expr: Comparison): Expr | undefined {
  if (expr.operator === '===') return { ...expr, operator: '!==' };
  return expr.operator === '!==' ? { ...expr, operator: '===' } : undefined;
}

const opposites: Readonly<Partial<Record<string, '<' | '<=' | '>' | '>='>>> = {
  '<': '>=',
  '<=': '>',
  '>': '<=',
  '>=': '<',
};

/** A comparison of numbers the other way round; not where one may be NaN, which is neither less nor more. */
function orderTurned(expr: Comparison): Expr | undefined {
  const operator = opposites[expr.operator];
  const isNumber = ({ type }: Expr) =>
    (type.kind === 'number' && type.finite) ||
    (type.kind === 'literal' && typeof type.value === 'number');
  return operator !== undefined && isNumber(expr.left) && isNumber(expr.right)
    ? { ...expr, operator }
    : undefined;
}

/** `list.length > 0`: a list of no length is meant by the opposite. */
function isEmptyTest({ operator, left, right }: Comparison): boolean {
  const isLength = left.kind === 'member' && left.name === 'length' && !left.optional;
  return operator === '>' && isLength && right.kind === 'literal' && right.value === 0;
}
