import ts from 'typescript';
import type { Style } from '../../base/styles.js';
import { outermost } from '../reading/kind-of-use.js';
import type { Typing } from '../reading/typing.js';
import { isSetUp } from './set-up.js';
import type { Slip } from './slip.js';

/** A value that is read once where it has to be followed. */
export const copiedOut = (node: ts.Node, name: string): Slip => ({
  kind: 'copied-out',
  node,
  message: `'${name}' is copied here once, and does not follow the store.`,
  hint: 'Read it where it is drawn: useReading, injectReading, or a watcher.',
});

/** True if the value of a member is copied into a variable or a property, in the way in which stores of a style are read. */
export function isCopied(
  member: ts.PropertyAccessExpression,
  style: Style | undefined,
  typing: Typing,
): boolean {
  const value = valueOf(member, style, typing);
  return value !== undefined && isInitial(outermost(value)) && isSetUp(value);
}

/** The expression that gives the value of a member of now: `stores.deck.queue.get()`. */
function valueOf(
  member: ts.PropertyAccessExpression,
  style: Style | undefined,
  typing: Typing,
): ts.Node | undefined {
  const outer = outermost(member);
  const parent = ts.isPropertyAccessExpression(outer.parent) ? outer.parent : undefined;
  const read = parent?.expression === outer ? parent : undefined;
  switch (style) {
    case 'proxy':
      return outer;
    case 'reducer':
      return isOfSnapshot(member, typing) ? outer : undefined;
    case 'atom':
      return read?.name.text === 'get' ? read.parent : undefined;
    case 'observable':
      return read?.name.text === 'latest' ? read : undefined;
    case undefined:
      return undefined;
  }
}

/** True if something is read of `store.snapshot()`, or of a variable that was given that. */
function isOfSnapshot(node: ts.Expression, typing: Typing): boolean {
  let root = node;
  while (ts.isPropertyAccessExpression(root) || ts.isNonNullExpression(root))
    root = root.expression;
  if (ts.isCallExpression(root)) return isSnapshot(root);
  if (!ts.isIdentifier(root)) return false;
  const [declaration] = typing.symbolOf(root)?.declarations ?? [];
  if (declaration === undefined || !ts.isVariableDeclaration(declaration)) return false;
  const { initializer } = declaration;
  return initializer !== undefined && ts.isCallExpression(initializer) && isSnapshot(initializer);
}

const isSnapshot = ({ expression }: ts.CallExpression): boolean =>
  /(^|\.)snapshot$/.test(expression.getText());

/** True if an expression is what a variable or a property begins with. */
const isInitial = (node: ts.Node): boolean =>
  (ts.isVariableDeclaration(node.parent) || ts.isPropertyDeclaration(node.parent)) &&
  node.parent.initializer === node;
