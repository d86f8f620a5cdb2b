import ts from 'typescript';
import type { Members } from './members.js';
import type { Typing } from '../reading/typing.js';

/**
 * What can be deleted of the old store: members that no module uses any more, and no member that is still used. `used` are
 * the declarations that modules use.
 */
export function deletable(
  typing: Typing,
  members: Members,
  files: readonly ts.SourceFile[],
  used: ReadonlySet<ts.Declaration>,
): readonly ts.Declaration[] {
  const all = members.public();
  const wanted = new Set(all);
  const needed = new Set<ts.Declaration>();
  const waiting: ts.Node[] = [...used];
  // What stands at the top of a module runs in any case.
  for (const file of files)
    for (const statement of file.statements)
      if (ts.isExpressionStatement(statement)) waiting.push(statement);
  for (let node = waiting.pop(); node !== undefined; node = waiting.pop()) {
    if (wanted.has(node as ts.Declaration)) {
      if (needed.has(node as ts.Declaration)) continue;
      needed.add(node as ts.Declaration);
    }
    for (const found of namedIn(node, typing, members, wanted))
      if (!needed.has(found)) waiting.push(found);
    const owner = ownerAmong(node, wanted);
    if (owner !== undefined && !needed.has(owner)) waiting.push(owner);
  }
  return all.filter((one) => !needed.has(one));
}

/** What the body of a declaration names; the members of a class are looked at one by one. */
function namedIn(
  node: ts.Node,
  typing: Typing,
  members: Members,
  wanted: ReadonlySet<ts.Declaration>,
): readonly ts.Declaration[] {
  const found: ts.Declaration[] = [];
  const visit = (at: ts.Node): void => {
    if (at !== node && wanted.has(at as ts.Declaration)) return;
    if (ts.isIdentifier(at)) {
      const declaration = members.declarationIn(typing.symbolOf(at));
      if (declaration !== undefined && declaration !== node) {
        if (wanted.has(declaration)) found.push(declaration);
        else if (!isAround(declaration, node)) helpers.add(declaration);
      }
    }
    ts.forEachChild(at, visit);
  };
  const helpers = new Set<ts.Declaration>();
  visit(node);
  // Functions that nobody else can use count with who uses them.
  const seen = new Set<ts.Declaration>();
  for (const helper of helpers) {
    if (seen.has(helper)) continue;
    seen.add(helper);
    visit(helper);
  }
  return found;
}

function isAround(outer: ts.Node, inner: ts.Node): boolean {
  let at: ts.Node | undefined = inner;
  while (at !== undefined && at !== outer) at = at.parent;
  return at === outer;
}

function ownerAmong(
  node: ts.Node,
  wanted: ReadonlySet<ts.Declaration>,
): ts.Declaration | undefined {
  let at: ts.Node | undefined = node.parent;
  while (at !== undefined) {
    if (wanted.has(at as ts.Declaration)) return at as ts.Declaration;
    at = at.parent;
  }
  return undefined;
}

/** A name in a module that nothing there uses any more. */
export interface LeftBehind {
  readonly node: ts.Node;
  readonly name: string;
  readonly what: 'import' | 'variable';
}

/**
 * Imports of the old store, and variables, that a module no longer needs. `template` is the text of a component, whose tags
 * are names too; empty for other modules.
 */
export function leftBehind(
  module: ts.SourceFile,
  template: string,
  imported: readonly ts.Identifier[],
  hasNew: boolean,
): readonly LeftBehind[] {
  const counts = new Map<string, number>();
  const variables: ts.Identifier[] = [];
  const visit = (node: ts.Node): void => {
    if (ts.isIdentifier(node)) counts.set(node.text, (counts.get(node.text) ?? 0) + 1);
    if (hasNew && ts.isVariableDeclaration(node)) collect(node.name, variables);
    ts.forEachChild(node, visit);
  };
  visit(module);
  const isAlone = ({ text }: ts.Identifier) => counts.get(text) === 1 && !isTag(template, text);
  return [
    ...imported.filter(isAlone).map((node) => ({ node, name: node.text, what: 'import' as const })),
    ...variables
      .filter((node) => isAlone(node) && !isExported(node) && !node.text.startsWith('_'))
      .map((node) => ({ node, name: node.text, what: 'variable' as const })),
  ];
}

/** True if a component is used by its name: `<Row>` or `<car-row>`. */
function isTag(template: string, name: string): boolean {
  const kebab = name.replace(/(?<=.)([A-Z])/g, '-$1').toLowerCase();
  return new RegExp(
    `<(?:${name.replaceAll('$', '\\$')}|${kebab.replaceAll('$', '\\$')})[\\s/>.]`,
    'i',
  ).test(template);
}

function collect(name: ts.BindingName, found: ts.Identifier[]): void {
  if (ts.isIdentifier(name)) found.push(name);
  else
    for (const element of name.elements)
      if (ts.isBindingElement(element)) collect(element.name, found);
}

function isExported(node: ts.Node): boolean {
  let at: ts.Node | undefined = node;
  while (at !== undefined && !ts.isVariableStatement(at)) at = at.parent;
  return (
    at !== undefined &&
    at.modifiers?.some(({ kind }) => kind === ts.SyntaxKind.ExportKeyword) === true
  );
}
