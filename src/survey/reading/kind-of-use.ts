import ts from 'typescript';
import type { UseKind } from '../survey-result.js';

/** Methods that change a list, a map or a set in place. */
const changing = new Set([
  'push',
  'pop',
  'shift',
  'unshift',
  'splice',
  'sort',
  'reverse',
  'fill',
  'copyWithin',
  'set',
  'add',
  'delete',
  'clear',
]);

/** The expression that a name is the end of: `terminal.cars` for `cars`. */
export function expressionOf(name: ts.Node): ts.Node {
  const { parent } = name;
  if (ts.isPropertyAccessExpression(parent) && parent.name === name) return parent;
  if (ts.isElementAccessExpression(parent) && parent.argumentExpression === name) return parent;
  if (ts.isQualifiedName(parent) && parent.right === name) return expressionOf(parent);
  return name;
}

/** An expression with what only says more of its type, or puts it in brackets. */
export function outermost(node: ts.Node): ts.Node {
  let outer = node;
  while (
    ts.isParenthesizedExpression(outer.parent) ||
    ts.isNonNullExpression(outer.parent) ||
    ts.isAsExpression(outer.parent) ||
    ts.isSatisfiesExpression(outer.parent)
  )
    outer = outer.parent;
  return outer;
}

/** True if a name is part of a type. */
const isTypeParent = ({ parent }: ts.Node): boolean =>
  ts.isLiteralTypeNode(parent) ||
  ts.isTypeReferenceNode(parent) ||
  ts.isTypeQueryNode(parent) ||
  ts.isQualifiedName(parent) ||
  ts.isIndexedAccessTypeNode(parent) ||
  (ts.isExpressionWithTypeArguments(parent) &&
    ts.isHeritageClause(parent.parent) &&
    parent.parent.token === ts.SyntaxKind.ImplementsKeyword);

/**
 * What a place does with the member that a name stands for. `isOwn` says whether a later name of the same chain is itself
 * that of a member: then a change belongs to that.
 */
export function kindOfUse(name: ts.Node, isOwn: (next: ts.Identifier) => boolean): UseKind {
  if (isTypeParent(name)) return 'type';
  let node = outermost(expressionOf(name));
  if (ts.isCallExpression(node.parent) && node.parent.expression === node) return 'call';
  if (ts.isNewExpression(node.parent) && node.parent.expression === node) return 'call';
  if (ts.isTaggedTemplateExpression(node.parent) && node.parent.tag === node) return 'call';
  for (;;) {
    if (isTarget(node)) return 'write';
    const { parent } = node;
    if (ts.isPropertyAccessExpression(parent) && parent.expression === node) {
      if (isOwn(parent.name as ts.Identifier)) return 'read';
      const outer = outermost(parent);
      const isCall = ts.isCallExpression(outer.parent) && outer.parent.expression === outer;
      if (isCall) return changing.has(parent.name.text) ? 'write' : 'read';
      node = outer;
    } else if (ts.isElementAccessExpression(parent) && parent.expression === node)
      node = outermost(parent);
    else return 'read';
  }
}

/** True if an expression is what is assigned to, counted up or deleted. */
function isTarget(node: ts.Node): boolean {
  const { parent } = node;
  if (ts.isBinaryExpression(parent) && parent.left === node)
    return (
      parent.operatorToken.kind >= ts.SyntaxKind.FirstAssignment &&
      parent.operatorToken.kind <= ts.SyntaxKind.LastAssignment
    );
  if (ts.isPrefixUnaryExpression(parent) || ts.isPostfixUnaryExpression(parent))
    return (
      parent.operator === ts.SyntaxKind.PlusPlusToken ||
      parent.operator === ts.SyntaxKind.MinusMinusToken
    );
  if (ts.isDeleteExpression(parent)) return true;
  if ((ts.isForOfStatement(parent) || ts.isForInStatement(parent)) && parent.initializer === node)
    return true;
  if (ts.isArrayLiteralExpression(parent) || ts.isSpreadElement(parent)) return isTarget(parent);
  if (ts.isPropertyAssignment(parent) && parent.initializer === node)
    return isTarget(parent.parent);
  return false;
}
