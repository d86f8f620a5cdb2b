import ts from 'typescript';
import { expressionOf, kindOfUse, outermost } from '../reading/kind-of-use.js';
import type { Typing } from '../reading/typing.js';
import type { UseKind } from '../survey-result.js';
import type { Members } from './members.js';
import { typeTakenAway, unreadTemplate, type UnclearUse } from './unclear-uses.js';
import { isHandedOn, membersTaken } from './whole-store.js';

/** A place that uses something of a store's modules. */
export interface Use {
  readonly node: ts.Node;
  readonly declaration: ts.Declaration;
  readonly kind: UseKind;
}

/** What a module uses of a store's modules. */
export interface UsesOfModule {
  readonly uses: readonly Use[];
  readonly unclear: readonly UnclearUse[];
  /** What is used besides, or may be: objects whose members are used, members whose names are made at run time. */
  readonly alsoUsed: readonly ts.Declaration[];
  /** Names that are imported from the store's modules, with the place. */
  readonly imported: readonly ts.Identifier[];
}

/** What a module uses. */
export const usesOf = (module: ts.SourceFile, typing: Typing, members: Members): UsesOfModule =>
  new Finder(typing, members).find(module);

/**
 * Gives whether a module can use anything of the store: it imports a store, or has a name that members have, where
 * names of members stand. Other modules need not be looked at.
 */
export function relevance(typing: Typing, members: Members): (module: ts.SourceFile) => boolean {
  const words = [...members.words].filter((word) => word !== 'default' && /^[\w$]+$/.test(word));
  // After a dot, in a pattern, in a text. `: number` is a type.
  const named = new RegExp(`[.{,(['"\`]\\s*(?:${words.join('|').replaceAll('$', '\\$')})\\b`);
  return (module) =>
    !/\.tsx?$/.test(module.fileName) ||
    named.test(module.text) ||
    new Finder(typing, members).importsStore(module);
}

/** Looks through one module. */
class Finder {
  readonly #typing: Typing;
  readonly #members: Members;
  readonly #uses: Use[] = [];
  readonly #unclear: UnclearUse[] = [];
  readonly #alsoUsed: ts.Declaration[] = [];
  readonly #imported: ts.Identifier[] = [];
  /** Names by which this module knows exports of the store's modules. */
  readonly #aliases = new Set<string>();

  constructor(typing: Typing, members: Members) {
    this.#typing = typing;
    this.#members = members;
  }

  find(module: ts.SourceFile): UsesOfModule {
    this.#visit(module);
    return {
      uses: this.#uses,
      unclear: this.#unclear,
      alsoUsed: this.#alsoUsed,
      imported: this.#imported,
    };
  }

  importsStore(module: ts.SourceFile): boolean {
    for (const statement of module.statements)
      if (ts.isImportDeclaration(statement)) this.#import(statement);
    return this.#imported.length > 0;
  }

  #visit(node: ts.Node): void {
    if (ts.isImportDeclaration(node) || ts.isExportDeclaration(node)) this.#import(node);
    else {
      if (ts.isIdentifier(node) || ts.isStringLiteralLike(node)) this.#name(node);
      else if (ts.isElementAccessExpression(node)) this.#element(node);
      else if (ts.isClassDeclaration(node))
        this.#addUnclear(unreadTemplate(node, this.#typing, this.#members));
      else if (ts.isAsExpression(node) || ts.isTypeAssertionExpression(node))
        this.#addUnclear(typeTakenAway(node, this.#typing, this.#members));
      ts.forEachChild(node, (child) => {
        this.#visit(child);
      });
    }
  }

  #addUnclear(found: UnclearUse | undefined): void {
    if (found !== undefined) this.#unclear.push(found);
  }

  #import(statement: ts.ImportDeclaration | ts.ExportDeclaration): void {
    const names = ts.isImportDeclaration(statement)
      ? importedNames(statement.importClause)
      : statement.exportClause !== undefined && ts.isNamedExports(statement.exportClause)
        ? statement.exportClause.elements.map(({ name }) => name as ts.Identifier)
        : [];
    for (const name of names) {
      const symbol = this.#typing.symbolOf(name);
      const isOld = this.#members.declarationIn(symbol) !== undefined;
      if (isOld) this.#aliases.add(name.text);
      if (ts.isImportDeclaration(statement) && (isOld || this.#isStore(symbol)))
        this.#imported.push(name);
    }
  }

  /** True if a name stands for a store that another module has made. */
  #isStore(symbol: ts.Symbol | undefined): boolean {
    if (symbol === undefined || (symbol.flags & ts.SymbolFlags.Value) === 0) return false;
    return this.#members.storeOf(this.#typing.checker.getTypeOfSymbol(symbol)) !== undefined;
  }

  #name(node: ts.Identifier | ts.StringLiteralLike): void {
    if (ts.isIdentifier(node) && this.#whole(node)) return;
    if (!this.#members.words.has(node.text) && !this.#aliases.has(node.text)) return;
    if (ts.isStringLiteralLike(node) && !isNameText(node)) return;
    const declaration = this.#declarationOf(node);
    if (declaration === undefined) return;
    if (this.#isContainer(declaration)) this.#alsoUsed.push(declaration);
    else if (!this.#isOnTheWay(node, declaration)) {
      const isMember = (next: ts.Identifier) => this.#declarationOf(next) !== undefined;
      this.#uses.push({ node, declaration, kind: kindOfUse(node, isMember) });
    }
  }

  /** True if only something within an object is used: `metres` of `terminal.lanes.metres`, and of `{ lanes: { metres } }`. */
  #isOnTheWay(node: ts.Node, declaration: ts.Declaration): boolean {
    const next = nextName(node);
    const inner = next === undefined ? undefined : this.#declarationOf(next);
    if (inner !== undefined && isWithin(inner, declaration)) return true;
    const { parent } = node;
    if (!ts.isBindingElement(parent) || parent.propertyName !== node) return false;
    if (!ts.isObjectBindingPattern(parent.name)) return false;
    return parent.name.elements.every((element) => {
      const member = this.#members.declarationIn(this.#typing.memberOfPattern(element));
      return member !== undefined && isWithin(member, declaration);
    });
  }

  #declarationOf(node: ts.Identifier | ts.StringLiteralLike): ts.Declaration | undefined {
    const { parent } = node;
    if (ts.isBinaryExpression(parent) && parent.operatorToken.kind === ts.SyntaxKind.InKeyword)
      return this.#members.declarationIn(this.#typing.typeOf(parent.right).getProperty(node.text));
    if (ts.isLiteralTypeNode(parent)) return this.#picked(node, parent);
    return this.#members.declarationIn(this.#typing.symbolOf(node));
  }

  /** `Pick<Car, 'plate'>` names a member, and `Car['plate']` does. */
  #picked(
    node: ts.Identifier | ts.StringLiteralLike,
    literal: ts.LiteralTypeNode,
  ): ts.Declaration | undefined {
    const outer = ts.isUnionTypeNode(literal.parent) ? literal.parent : literal;
    const { parent } = outer;
    const of = ts.isIndexedAccessTypeNode(parent)
      ? parent.objectType
      : ts.isTypeReferenceNode(parent) && ['Pick', 'Omit'].includes(parent.typeName.getText())
        ? parent.typeArguments?.[0]
        : undefined;
    if (of === undefined || of === outer) return undefined;
    const type = this.#typing.checker.getTypeFromTypeNode(of);
    return this.#members.declarationIn(this.#typing.checker.getPropertyOfType(type, node.text));
  }

  /** True if a declaration is an object of which others use the members. */
  #isContainer(declaration: ts.Declaration): boolean {
    if (ts.isSourceFile(declaration)) return true;
    if (!ts.isVariableDeclaration(declaration) && !ts.isExportAssignment(declaration)) return false;
    const type = this.#typing.typeOfDeclaration(declaration);
    return (
      type.getCallSignatures().length === 0 &&
      this.#members.isTypeOf(type) &&
      !this.#typing.checker.isArrayType(type)
    );
  }

  /** A store that is handed on, spread or asked for its type: whether a name stands for that. */
  #whole(node: ts.Identifier): boolean {
    const isQuery = ts.isTypeQueryNode(node.parent);
    const use = outermost(expressionOf(node));
    if (!isQuery && !isHandedOn(use)) return false;
    const expression = isQuery ? node : (use as ts.Expression);
    const type = this.#typing.typeOf(expression);
    const declaration = this.#members.storeOf(type);
    if (declaration === undefined) return false;
    this.#uses.push({ node, declaration, kind: isQuery ? 'type' : 'whole' });
    if (!isQuery)
      this.#alsoUsed.push(...membersTaken(expression, type, this.#typing, this.#members));
    return true;
  }

  /** A member whose name is made at run time. */
  #element(node: ts.ElementAccessExpression): void {
    const { argumentExpression: name } = node;
    if (ts.isStringLiteralLike(name) || ts.isNumericLiteral(name)) return;
    const type = this.#typing.typeOf(node.expression);
    if (this.#typing.isUntyped(type) || !this.#members.isTypeOf(type)) return;
    if (this.#typing.checker.isArrayType(type)) return;
    if (type.getStringIndexType() !== undefined || type.getNumberIndexType() !== undefined) return;
    const member = (of: ts.Type) =>
      of.isStringLiteral() ? this.#members.declarationIn(type.getProperty(of.value)) : undefined;
    const given = this.#typing.typeOf(name);
    if (given.isStringLiteral()) {
      const declaration = member(given);
      if (declaration !== undefined)
        this.#uses.push({ node: name, declaration, kind: kindOfUse(name, () => false) });
      return;
    }
    for (const one of given.isUnion() ? given.types : []) {
      const declaration = member(one);
      if (declaration !== undefined) this.#alsoUsed.push(declaration);
    }
    this.#addUnclear({ node, reason: `the name '${name.getText()}' is made at run time` });
  }
}

function importedNames(clause: ts.ImportClause | undefined): readonly ts.Identifier[] {
  if (clause === undefined) return [];
  const { name, namedBindings } = clause;
  const named =
    namedBindings === undefined
      ? []
      : ts.isNamespaceImport(namedBindings)
        ? [namedBindings.name]
        : namedBindings.elements.map((one) => one.name);
  return [...(name === undefined ? [] : [name]), ...named];
}

/** True if a text stands where a name could: `terminal['cars']`, `{ 'cars': queue } = terminal`. */
function isNameText({ parent }: ts.Node): boolean {
  return (
    ts.isElementAccessExpression(parent) ||
    ts.isBindingElement(parent) ||
    ts.isLiteralTypeNode(parent) ||
    (ts.isBinaryExpression(parent) && parent.operatorToken.kind === ts.SyntaxKind.InKeyword)
  );
}

/** The name that follows one in a chain: `metres` in `terminal.lanes.metres` for `lanes`. */
function nextName(name: ts.Node): ts.Identifier | undefined {
  const node = outermost(expressionOf(name));
  return ts.isPropertyAccessExpression(node.parent) && node.parent.expression === node
    ? (node.parent.name as ts.Identifier)
    : undefined;
}

function isWithin(inner: ts.Node, outer: ts.Node): boolean {
  let node: ts.Node | undefined = inner.parent;
  while (node !== undefined && node !== outer) node = node.parent;
  return node === outer;
}
