import ts from 'typescript';
import { expressionOf, kindOfUse, outermost } from './kind-of-use.js';
import type { UseKind } from './survey-result.js';
import type { Members } from './members.js';
import type { Typing } from './typing.js';

/** A place that uses something of a store's modules. */
export interface Use {
  readonly node: ts.Node;
  readonly declaration: ts.Declaration;
  readonly kind: UseKind;
}

/** A place where a store is used, and nobody can tell what of it. */
export interface UnclearUse {
  readonly node: ts.Node;
  readonly reason: string;
}

export interface UsesOfModule {
  readonly uses: readonly Use[];
  readonly unclear: readonly UnclearUse[];
  /** What is used besides, or may be: objects whose members are used, members whose names are made at run time. */
  readonly alsoUsed: readonly ts.Declaration[];
  /** Names that are imported from the store's modules, with the place. */
  readonly imported: readonly ts.Identifier[];
}

/** Finds what a module uses of a store's modules. */
export class UseFinder {
  readonly #typing: Typing;
  readonly #members: Members;
  readonly #named: RegExp;
  #uses: Use[] = [];
  #unclear: UnclearUse[] = [];
  #alsoUsed: ts.Declaration[] = [];
  #imported: ts.Identifier[] = [];
  /** Names by which this module knows exports of the store's modules. */
  #aliases = new Set<string>();

  constructor(typing: Typing, members: Members) {
    this.#typing = typing;
    this.#members = members;
    const words = [...members.words].filter((word) => word !== 'default' && /^[\w$]+$/.test(word));
    // Where names of members stand: after a dot, in a pattern, in a text. `: number` is a type.
    this.#named = new RegExp(`[.{,(['"\`]\\s*(?:${words.join('|').replaceAll('$', '\\$')})\\b`);
  }

  /** Whether a module can use anything of the store: it imports a store, or has a name that members have. */
  concerns(module: ts.SourceFile): boolean {
    if (!/\.tsx?$/.test(module.fileName)) return true;
    if (this.#named.test(module.text)) return true;
    this.#start();
    for (const statement of module.statements)
      if (ts.isImportDeclaration(statement)) this.#import(statement);
    return this.#imported.length > 0;
  }

  #start(): void {
    this.#uses = [];
    this.#unclear = [];
    this.#alsoUsed = [];
    this.#imported = [];
    this.#aliases = new Set();
  }

  find(module: ts.SourceFile): UsesOfModule {
    this.#start();
    this.#visit(module);
    return {
      uses: this.#uses,
      unclear: this.#unclear,
      alsoUsed: this.#alsoUsed,
      imported: this.#imported,
    };
  }

  #visit(node: ts.Node): void {
    if (ts.isImportDeclaration(node) || ts.isExportDeclaration(node)) this.#import(node);
    else {
      if (ts.isIdentifier(node) || ts.isStringLiteralLike(node)) this.#name(node);
      else if (ts.isElementAccessExpression(node)) this.#element(node);
      else if (ts.isClassDeclaration(node)) this.#template(node);
      else if (ts.isAsExpression(node) || ts.isTypeAssertionExpression(node)) this.#cast(node);
      ts.forEachChild(node, (child) => {
        this.#visit(child);
      });
    }
  }

  #import(statement: ts.ImportDeclaration | ts.ExportDeclaration): void {
    const names = ts.isImportDeclaration(statement)
      ? importedNames(statement.importClause)
      : statement.exportClause !== undefined && ts.isNamedExports(statement.exportClause)
        ? statement.exportClause.elements.map(({ name }) => name as ts.Identifier)
        : [];
    for (const name of names) {
      const symbol = this.#typing.checker.getSymbolAtLocation(name);
      const meant =
        symbol !== undefined && symbol.flags & ts.SymbolFlags.Alias
          ? this.#typing.checker.getAliasedSymbol(symbol)
          : symbol;
      const isOld = this.#members.declarationIn(meant) !== undefined;
      if (isOld) this.#aliases.add(name.text);
      if (ts.isImportDeclaration(statement) && (isOld || this.#isStore(meant)))
        this.#imported.push(name);
    }
  }

  /** Whether a name stands for a store that another module has made. */
  #isStore(symbol: ts.Symbol | undefined): boolean {
    if (symbol === undefined || (symbol.flags & ts.SymbolFlags.Value) === 0) return false;
    const { checker } = this.#typing;
    return this.#members.storeOf(checker.getTypeOfSymbol(symbol), checker) !== undefined;
  }

  #name(node: ts.Identifier | ts.StringLiteralLike): void {
    if (ts.isIdentifier(node) && this.#whole(node)) return;
    if (!this.#members.words.has(node.text) && !this.#aliases.has(node.text)) return;
    if (ts.isStringLiteralLike(node) && !isNameText(node)) return;
    const declaration = this.#declarationOf(node);
    if (declaration === undefined) return;
    if (this.#isContainer(declaration)) this.#alsoUsed.push(declaration);
    else {
      const isOwn = (next: ts.Identifier) => this.#declarationOf(next) !== undefined;
      // Of `lanes.metres` the last member is what is used.
      const next = nextName(node);
      const inner = next === undefined ? undefined : this.#declarationOf(next);
      if (inner !== undefined && isWithin(inner, declaration)) return;
      if (this.#isTakenApart(node, declaration)) return;
      this.#uses.push({ node, declaration, kind: kindOfUse(node, isOwn) });
    }
  }

  /** Whether only members of an object are taken out: `{ lanes: { metres } }`. */
  #isTakenApart(node: ts.Node, declaration: ts.Declaration): boolean {
    const { parent } = node;
    if (!ts.isBindingElement(parent) || parent.propertyName !== node) return false;
    if (!ts.isObjectBindingPattern(parent.name)) return false;
    return parent.name.elements.every((element) => {
      const member = this.#members.declarationIn(this.#typing.memberOfPattern(element));
      return member !== undefined && isWithin(member, declaration);
    });
  }

  #declarationOf(node: ts.Identifier | ts.StringLiteralLike): ts.Declaration | undefined {
    if (
      ts.isBinaryExpression(node.parent) &&
      node.parent.operatorToken.kind === ts.SyntaxKind.InKeyword
    )
      return this.#members.declarationIn(
        this.#typing.typeOf(node.parent.right).getProperty(node.text),
      );
    if (ts.isLiteralTypeNode(node.parent)) return this.#picked(node, node.parent);
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

  /** Whether a declaration is an object of which others use the members. */
  #isContainer(declaration: ts.Declaration): boolean {
    if (
      !ts.isVariableDeclaration(declaration) &&
      !ts.isExportAssignment(declaration) &&
      !ts.isSourceFile(declaration)
    )
      return false;
    const symbol = (declaration as { symbol?: ts.Symbol }).symbol;
    if (symbol === undefined || ts.isSourceFile(declaration)) return true;
    const type = this.#typing.checker.getTypeOfSymbol(symbol);
    return (
      type.getCallSignatures().length === 0 &&
      this.#members.isTypeOf(type, this.#typing.checker) &&
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
    const declaration = this.#members.storeOf(type, this.#typing.checker);
    if (declaration === undefined) return false;
    this.#uses.push({ node, declaration, kind: isQuery ? 'type' : 'whole' });
    if (!isQuery) this.#alsoUsed.push(...this.#takenOf(expression, type));
    return true;
  }

  /** The members that are used where a store is handed on as something else: by a type with the same names, by a spread. */
  #takenOf(expression: ts.Expression, type: ts.Type): readonly ts.Declaration[] {
    const { checker } = this.#typing;
    const { parent } = expression;
    const expected = checker.getContextualType(
      ts.isJsxSpreadAttribute(parent) ? parent.parent : expression,
    );
    if (expected !== undefined && this.#members.storeOf(expected, checker) !== undefined) return [];
    const known = expected?.getProperties() ?? [];
    const isSpread = ts.isSpreadAssignment(parent) || ts.isJsxSpreadAttribute(parent);
    const names = isSpread && known.length === 0 ? type.getProperties() : known;
    return names.flatMap(({ name }) => {
      const declaration = this.#members.declarationIn(type.getProperty(name));
      return declaration === undefined ? [] : [declaration];
    });
  }

  /** A member whose name is made at run time. */
  #element(node: ts.ElementAccessExpression): void {
    const { argumentExpression: name } = node;
    if (ts.isStringLiteralLike(name) || ts.isNumericLiteral(name)) return;
    const type = this.#typing.typeOf(node.expression);
    if (
      this.#typing.isUntyped(type) ||
      !this.#members.isTypeOf(type, this.#typing.checker) ||
      this.#typing.checker.isArrayType(type)
    )
      return;
    if (type.getStringIndexType() !== undefined || type.getNumberIndexType() !== undefined) return;
    const given = this.#typing.typeOf(name);
    if (given.isStringLiteral()) {
      const declaration = this.#members.declarationIn(type.getProperty(given.value));
      if (declaration !== undefined)
        this.#uses.push({ node: name, declaration, kind: kindOfUse(name, () => false) });
      return;
    }
    for (const one of given.isUnion() ? given.types : []) {
      const text = one.isStringLiteral() ? one.value : '';
      const declaration = this.#members.declarationIn(type.getProperty(text));
      if (declaration !== undefined) this.#alsoUsed.push(declaration);
    }
    this.#unclear.push({ node, reason: `the name '${name.getText()}' is made at run time` });
  }

  /** A class with a template in a decorator: what that takes of a store is not read. */
  #template(node: ts.ClassDeclaration): void {
    const template = (ts.getDecorators(node) ?? [])
      .flatMap(({ expression }) => (ts.isCallExpression(expression) ? expression.arguments : []))
      .filter((given) => ts.isObjectLiteralExpression(given))
      .flatMap(({ properties }) => [...properties])
      .find(({ name }) => name !== undefined && /^template(Url)?$/.test(name.getText()));
    if (template === undefined) return;
    const holds = node.members.some(
      (member) =>
        ts.isPropertyDeclaration(member) &&
        this.#members.isTypeOf(
          this.#typing.checker.getTypeAtLocation(member),
          this.#typing.checker,
        ),
    );
    if (holds)
      this.#unclear.push({
        node: template,
        reason: `the template of '${node.name?.text ?? 'this component'}' is not read, and the class gives it something of the store`,
      });
  }

  /** `terminal as any`: what is done with it then is not known. */
  #cast(node: ts.AsExpression | ts.TypeAssertion): void {
    const target = this.#typing.checker.getTypeFromTypeNode(node.type);
    if (!this.#typing.isUntyped(target)) return;
    const type = this.#typing.checker.getTypeAtLocation(node.expression);
    if (!this.#members.isTypeOf(type, this.#typing.checker)) return;
    this.#unclear.push({ node, reason: `'${node.getText()}' takes its type away` });
  }
}

/** Whether an expression is handed on as it is, in place of being asked for a member. */
function isHandedOn(node: ts.Node): boolean {
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

/** Whether a text stands where a name could: `terminal['cars']`, `{ 'cars': queue } = terminal`. */
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
