import ts from 'typescript';
import type { Typing } from '../reading/typing.js';
import type { Members } from './members.js';

/** True if an expression is handed on as it is, in place of being asked for a member. */
export function isHandedOn(node: ts.Node): boolean {
  const { parent } = node;
  if (ts.isCallExpression(parent) || ts.isNewExpression(parent)) return parent.expression !== node;
  return (
    ts.isSpreadAssignment(parent) ||
    ts.isSpreadElement(parent) ||
    ts.isJsxSpreadAttribute(parent) ||
    ts.isJsxExpression(parent) ||
    ts.isShorthandPropertyAssignment(parent) ||
    (ts.isPropertyAssignment(parent) && parent.initializer === node) ||
    ts.isArrayLiteralExpression(parent)
  );
}

/**
 * The members that are used where a store is handed on as something else: by a type with the same names, by a spread. `type`
 * is that of the store.
 */
export function membersTaken(
  expression: ts.Expression,
  type: ts.Type,
  { checker }: Typing,
  members: Members,
): readonly ts.Declaration[] {
  const { parent } = expression;
  const isAttribute = ts.isJsxSpreadAttribute(parent);
  const expected = checker.getContextualType(isAttribute ? parent.parent : expression);
  if (expected !== undefined && members.storeOf(expected) !== undefined) return [];
  const known = expected?.getProperties() ?? [];
  const isSpread = isAttribute || ts.isSpreadAssignment(parent);
  const names = isSpread && known.length === 0 ? type.getProperties() : known;
  return names.flatMap(({ name }) => members.declarationIn(type.getProperty(name)) ?? []);
}
