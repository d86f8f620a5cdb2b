import ts from 'typescript';
import type { Typing } from '../reading/typing.js';
import type { Members } from './members.js';

/** A place where a store is used, or may be, and nobody can say what of it. */
export interface UnclearUse {
  readonly node: ts.Node;
  readonly reason: string;
}

/** `terminal as any`: what is done with it then is not known. */
export function typeTakenAway(
  node: ts.AsExpression | ts.TypeAssertion,
  typing: Typing,
  members: Members,
): UnclearUse | undefined {
  if (!typing.isUntyped(typing.checker.getTypeFromTypeNode(node.type))) return undefined;
  if (!members.isTypeOf(typing.checker.getTypeAtLocation(node.expression))) return undefined;
  return { node, reason: `'${node.getText()}' takes its type away` };
}

/** A class with a template in a decorator: what that takes of a store is not read. */
export function unreadTemplate(
  node: ts.ClassDeclaration,
  typing: Typing,
  members: Members,
): UnclearUse | undefined {
  const template = (ts.getDecorators(node) ?? [])
    .flatMap(({ expression }) => (ts.isCallExpression(expression) ? expression.arguments : []))
    .filter((given) => ts.isObjectLiteralExpression(given))
    .flatMap(({ properties }) => [...properties])
    .find(({ name }) => name !== undefined && /^template(Url)?$/.test(name.getText()));
  const holds = node.members.some(
    (member) =>
      ts.isPropertyDeclaration(member) &&
      members.isTypeOf(typing.checker.getTypeAtLocation(member)),
  );
  if (template === undefined || !holds) return undefined;
  const name = node.name?.text ?? 'this component';
  return {
    node: template,
    reason: `the template of '${name}' is not read, and the class gives it something of the store`,
  };
}

/** Imports that lead nowhere: nobody knows what is used of them. `missing` are the names of modules that were not found. */
export function importsOfNothing(
  module: ts.SourceFile,
  missing: ReadonlySet<string>,
): readonly UnclearUse[] {
  if (missing.size === 0) return [];
  const found: UnclearUse[] = [];
  const visit = (node: ts.Node): void => {
    if (ts.isStringLiteralLike(node) && missing.has(node.text) && isImported(node))
      found.push({ node, reason: `the module '${node.text}' is not found` });
    ts.forEachChild(node, visit);
  };
  visit(module);
  return found;
}

/** True if a text is the name of a module that is imported. */
function isImported({ parent }: ts.Node): boolean {
  if (ts.isImportDeclaration(parent) || ts.isExportDeclaration(parent)) return true;
  if (ts.isExternalModuleReference(parent)) return true;
  if (!ts.isCallExpression(parent)) return false;
  const { expression } = parent;
  return (
    expression.kind === ts.SyntaxKind.ImportKeyword ||
    (ts.isIdentifier(expression) && expression.text === 'require')
  );
}
