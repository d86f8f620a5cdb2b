import ts from 'typescript';

/** Which declarations are those of a store's modules, and how they are called. */
export class Members {
  readonly #files: ReadonlySet<ts.SourceFile>;
  readonly #checker: ts.TypeChecker;
  readonly #names = new Map<ts.Declaration, string>();
  readonly #isTypeOf = new Map<ts.Type, boolean>();
  #stores: ReadonlySet<ts.Symbol> | undefined;
  /** All names that something of these modules has: other identifiers need not be looked at. */
  readonly words: ReadonlySet<string>;

  constructor(files: readonly ts.SourceFile[], checker: ts.TypeChecker) {
    this.#files = new Set(files);
    this.#checker = checker;
    const words = new Set<string>(['default']);
    for (const file of files)
      ts.forEachChild(file, (node) => {
        collectWords(node, words);
      });
    this.words = words;
  }

  /** True if a declaration stands in these modules. */
  has(declaration: ts.Declaration): boolean {
    return this.#files.has(declaration.getSourceFile());
  }

  /** The declaration of a symbol that stands in these modules. */
  declarationIn(symbol: ts.Symbol | undefined): ts.Declaration | undefined {
    return symbol?.declarations?.find((one) => this.has(one));
  }

  /** The declaration of the store that values of a type are; `undefined` for data and for what is no store. */
  storeOf(type: ts.Type): ts.Declaration | undefined {
    this.#stores ??= this.#findStores();
    const all = type.isUnionOrIntersection() ? type.types : [type];
    for (const { symbol } of all as readonly { readonly symbol?: ts.Symbol }[])
      if (symbol !== undefined && this.#stores.has(symbol)) return this.declarationIn(symbol);
    return undefined;
  }

  /** What classes, objects and functions that make them are exported: the rest of the types is data. */
  #findStores(): ReadonlySet<ts.Symbol> {
    const found = new Set<ts.Symbol>();
    for (const symbol of this.#exported()) {
      if (symbol.flags & ts.SymbolFlags.Class) found.add(symbol);
      if ((symbol.flags & (ts.SymbolFlags.Variable | ts.SymbolFlags.Function)) === 0) continue;
      const type = this.#checker.getTypeOfSymbol(symbol);
      const [call] = type.getCallSignatures();
      const own = (call?.getReturnType() ?? type).symbol as ts.Symbol | undefined;
      if (own !== undefined && this.declarationIn(own) !== undefined) found.add(own);
    }
    return found;
  }

  /** What the modules export, by the names that they give it. */
  get exports(): readonly ts.Symbol[] {
    return [...this.#files].flatMap((file) => {
      const module = this.#checker.getSymbolAtLocation(file);
      return module === undefined ? [] : this.#checker.getExportsOfModule(module);
    });
  }

  /** What the exports stand for, through re-exports. */
  #exported(): readonly ts.Symbol[] {
    return this.exports.map((symbol) =>
      symbol.flags & ts.SymbolFlags.Alias ? this.#checker.getAliasedSymbol(symbol) : symbol,
    );
  }

  /** Whether values of a type are stores, or data of them, as these modules declare them; lists of such too. */
  isTypeOf(type: ts.Type): boolean {
    const known = this.#isTypeOf.get(type);
    if (known !== undefined) return known;
    // A type may hold itself, as JSON data does: then this answer counts.
    this.#isTypeOf.set(type, false);
    const isOne = this.#judgeType(type);
    this.#isTypeOf.set(type, isOne);
    return isOne;
  }

  #judgeType(type: ts.Type): boolean {
    if (type.isUnionOrIntersection()) return type.types.some((one) => this.isTypeOf(one));
    const symbols = [type.aliasSymbol, type.symbol as ts.Symbol | undefined];
    if (symbols.some((symbol) => this.declarationIn(symbol) !== undefined)) return true;
    return (
      this.#checker.isArrayType(type) &&
      this.#checker.getTypeArguments(type as ts.TypeReference).some((one) => this.isTypeOf(one))
    );
  }

  /** How a declaration is called: `Terminal.arrive`, `Car.plate`, `createTerminal`. */
  nameOf(declaration: ts.Declaration): string {
    const known = this.#names.get(declaration);
    if (known !== undefined) return known;
    const owner = ownerOf(declaration);
    const own = textOf(declaration);
    const name = owner === undefined ? own : `${this.nameOf(owner)}.${own}`;
    this.#names.set(declaration, name);
    return name;
  }

  /** The declarations that others can use, in the order of the text: what is exported, and its members. */
  public(): readonly ts.Declaration[] {
    const found = new Set<ts.Declaration>();
    for (const symbol of this.#exported()) {
      const declaration = this.declarationIn(symbol);
      if (declaration === undefined) continue;
      found.add(declaration);
      for (const member of membersOf(symbol, declaration, this.#checker)) {
        const own = this.declarationIn(member);
        if (own !== undefined && isPublic(own)) found.add(own);
      }
    }
    return [...found].sort((a, b) => a.pos - b.pos);
  }
}

/** The members of what is exported: of a class or an interface, of an object, of what a function returns. */
function membersOf(
  symbol: ts.Symbol,
  declaration: ts.Declaration,
  checker: ts.TypeChecker,
): readonly ts.Symbol[] {
  const isType =
    symbol.flags & (ts.SymbolFlags.Class | ts.SymbolFlags.Interface | ts.SymbolFlags.TypeAlias);
  if (isType) return checker.getDeclaredTypeOfSymbol(symbol).getProperties();
  const type = checker.getTypeOfSymbolAtLocation(symbol, declaration);
  const [call] = type.getCallSignatures();
  return [...type.getProperties(), ...(call?.getReturnType().getProperties() ?? [])];
}

const isPublic = (declaration: ts.Declaration): boolean =>
  (ts.getCombinedModifierFlags(declaration) &
    (ts.ModifierFlags.Private | ts.ModifierFlags.Protected)) ===
    0 && !(ts.getNameOfDeclaration(declaration)?.kind === ts.SyntaxKind.PrivateIdentifier);

/** The names that others can use: of members, and of what stands at the top of a module. */
function collectWords(node: ts.Node, words: Set<string>): void {
  const declaration = node as ts.Declaration;
  const isNamed =
    (isMember(declaration) &&
      !ts.isPropertyAccessExpression(node) &&
      !ts.isBinaryExpression(node)) ||
    isSetInConstructor(node) ||
    (ts.isSourceFile(node.parent) && ts.isDeclarationStatement(node)) ||
    (ts.isVariableDeclaration(node) && ts.isSourceFile(node.parent.parent.parent)) ||
    ts.isExportSpecifier(node);
  if (isNamed)
    words.add(
      textOf(isSetInConstructor(node) ? (node.left as unknown as ts.Declaration) : declaration),
    );
  ts.forEachChild(node, (child) => {
    collectWords(child, words);
  });
}

/** `this.cars = []`: in JavaScript this declares a member. */
const isSetInConstructor = (node: ts.Node): node is ts.BinaryExpression =>
  ts.isBinaryExpression(node) &&
  node.operatorToken.kind === ts.SyntaxKind.EqualsToken &&
  ts.isPropertyAccessExpression(node.left);

/** The last part of a declaration's name. */
export function textOf(declaration: ts.Declaration): string {
  const name = ts.getNameOfDeclaration(declaration);
  if (name === undefined) return 'default';
  if (ts.isPropertyAccessExpression(name)) return name.name.text;
  return ts.isIdentifier(name) || ts.isStringLiteralLike(name) || ts.isPrivateIdentifier(name)
    ? name.text
    : name.getText();
}

/** The declaration whose member one is: the class of a method, the variable of an object, the function that returns it. */
export function ownerOf(declaration: ts.Declaration): ts.Declaration | undefined {
  if (!isMember(declaration)) return undefined;
  let node: ts.Node | undefined = declaration.parent;
  while (node !== undefined && !ts.isSourceFile(node)) {
    if (
      ts.isClassLike(node) ||
      ts.isInterfaceDeclaration(node) ||
      ts.isTypeAliasDeclaration(node) ||
      ts.isVariableDeclaration(node) ||
      ts.isFunctionDeclaration(node) ||
      ts.isExportAssignment(node) ||
      ts.isPropertyAssignment(node) ||
      ts.isPropertyDeclaration(node) ||
      ts.isPropertySignature(node) ||
      (ts.isBinaryExpression(node) && ts.isPropertyAccessExpression(node.left))
    )
      return node;
    node = node.parent;
  }
  return undefined;
}

const isMember = (declaration: ts.Declaration): boolean =>
  ts.isClassElement(declaration) ||
  ts.isTypeElement(declaration) ||
  ts.isObjectLiteralElement(declaration) ||
  (ts.isParameter(declaration) &&
    ts.isParameterPropertyDeclaration(declaration, declaration.parent)) ||
  ts.isBinaryExpression(declaration) ||
  ts.isPropertyAccessExpression(declaration);
