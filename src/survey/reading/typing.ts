import ts from 'typescript';

/** What an expression is, and which member a name stands for: by the compiler, and where that does not know by what was handed on. */
export class Typing {
  readonly checker: ts.TypeChecker;
  /** Parameters without a type, with the type of what they are given. */
  readonly #handed = new Map<ts.Symbol, ts.Type>();
  /** Expressions whose types are being found. */
  readonly #asked = new Set<ts.Expression>();
  readonly #program: ts.Program;

  constructor(program: ts.Program) {
    this.#program = program;
    this.checker = program.getTypeChecker();
  }

  /** Notes that a parameter without a type is given something; whether that is new. */
  hand(parameter: ts.Symbol, type: ts.Type): boolean {
    if (this.#handed.has(parameter)) return false;
    this.#handed.set(parameter, type);
    return true;
  }

  /** True if a declaration is one of the language or the platform. */
  isOfLanguage(declaration: ts.Node): boolean {
    return this.#program.isSourceFileDefaultLibrary(declaration.getSourceFile());
  }

  isUntyped(type: ts.Type): boolean {
    return (type.flags & (ts.TypeFlags.Any | ts.TypeFlags.Unknown)) !== 0;
  }

  /** The type of an expression; without `null` and `undefined`. */
  typeOf(expression: ts.Expression): ts.Type {
    const type = this.checker.getNonNullableType(this.checker.getTypeAtLocation(expression));
    if (!this.isUntyped(type)) return type;
    // `var x = x.y` asks for itself.
    if (this.#asked.has(expression)) return type;
    this.#asked.add(expression);
    const handed = this.#handedType(expression);
    this.#asked.delete(expression);
    return handed ?? type;
  }

  #handedType(expression: ts.Expression): ts.Type | undefined {
    if (ts.isParenthesizedExpression(expression) || ts.isNonNullExpression(expression))
      return this.#handedType(expression.expression);
    if (ts.isIdentifier(expression)) {
      const symbol = this.checker.getSymbolAtLocation(expression);
      if (symbol === undefined) return undefined;
      return this.#handed.get(symbol) ?? this.#ofVariable(symbol);
    }
    if (ts.isPropertyAccessExpression(expression)) {
      const member = this.typeOf(expression.expression).getProperty(expression.name.text);
      return member === undefined ? undefined : this.checker.getTypeOfSymbol(member);
    }
    if (ts.isElementAccessExpression(expression)) {
      const of = this.typeOf(expression.expression);
      return of.getNumberIndexType() ?? of.getStringIndexType();
    }
    if (ts.isCallExpression(expression)) {
      const required = this.#required(expression);
      if (required !== undefined) return required;
      return this.typeOf(expression.expression).getCallSignatures()[0]?.getReturnType();
    }
    return undefined;
  }

  /** The type of a variable whose value is known by what was handed on. */
  #ofVariable(symbol: ts.Symbol): ts.Type | undefined {
    const [declaration] = symbol.declarations ?? [];
    if (declaration === undefined) return undefined;
    if (
      ts.isVariableDeclaration(declaration) &&
      declaration.type === undefined &&
      declaration.initializer !== undefined
    )
      return this.typeOf(declaration.initializer);
    if (ts.isBindingElement(declaration)) {
      const member = this.memberOfPattern(declaration);
      return member === undefined ? undefined : this.checker.getTypeOfSymbol(member);
    }
    return undefined;
  }

  /** What `require('./old-store')` gives. */
  #required(call: ts.CallExpression): ts.Type | undefined {
    const [given] = call.arguments;
    if (!ts.isIdentifier(call.expression) || call.expression.text !== 'require') return undefined;
    if (given === undefined || !ts.isStringLiteralLike(given)) return undefined;
    const { fileName } = call.getSourceFile();
    const options = this.#program.getCompilerOptions();
    const { resolvedModule } = ts.resolveModuleName(given.text, fileName, options, ts.sys);
    const file = resolvedModule && this.#program.getSourceFile(resolvedModule.resolvedFileName);
    const module = file && this.checker.getSymbolAtLocation(file);
    return module && this.checker.getTypeOfSymbol(module);
  }

  /** The member that an element of `const { cars } = terminal` takes out. */
  memberOfPattern(element: ts.BindingElement): ts.Symbol | undefined {
    if (element.dotDotDotToken !== undefined || !ts.isObjectBindingPattern(element.parent))
      return undefined;
    const name = element.propertyName ?? element.name;
    const text = ts.isIdentifier(name) || ts.isStringLiteralLike(name) ? name.text : undefined;
    if (text === undefined) return undefined;
    const type = this.typeOfPattern(element.parent);
    return type === undefined ? undefined : this.checker.getPropertyOfType(type, text);
  }

  /** What is taken apart by a pattern. */
  typeOfPattern(pattern: ts.BindingPattern): ts.Type | undefined {
    const whole = this.checker.getNonNullableType(this.checker.getTypeAtLocation(pattern));
    const { parent } = pattern;
    if (
      ts.isVariableDeclaration(parent) &&
      parent.initializer !== undefined &&
      parent.type === undefined
    )
      return this.typeOf(parent.initializer);
    if (ts.isBindingElement(parent)) {
      const member = this.memberOfPattern(parent);
      if (member !== undefined)
        return this.checker.getNonNullableType(this.checker.getTypeOfSymbol(member));
    }
    if (this.isUntyped(whole) || ts.isParameter(parent)) {
      const symbol = ts.isParameter(parent) ? patternSymbol(parent) : undefined;
      const handed = symbol === undefined ? undefined : this.#handed.get(symbol);
      if (handed !== undefined) return handed;
    }
    return whole;
  }

  /** The type of what a variable or an export stands for. */
  typeOfDeclaration(declaration: ts.VariableDeclaration | ts.ExportAssignment): ts.Type {
    const { symbol } = declaration as { readonly symbol?: ts.Symbol };
    return symbol === undefined ? this.checker.getAnyType() : this.checker.getTypeOfSymbol(symbol);
  }

  /** The symbol that a name stands for, through imports. */
  symbolOf(name: ts.Identifier | ts.StringLiteralLike): ts.Symbol | undefined {
    const { parent } = name;
    if (ts.isBindingElement(parent) && (parent.propertyName ?? parent.name) === name)
      return this.memberOfPattern(parent) ?? undefined;
    if (ts.isShorthandPropertyAssignment(parent))
      return isAssigned(parent.parent)
        ? this.#memberAssigned(parent.parent, parent.name.text)
        : this.#unaliased(this.checker.getShorthandAssignmentValueSymbol(parent));
    if (ts.isPropertyAssignment(parent) && parent.name === name && isAssigned(parent.parent))
      return this.#memberAssigned(parent.parent, name.text);
    const found = this.#unaliased(this.checker.getSymbolAtLocation(name));
    if (found !== undefined) return found;
    if (ts.isPropertyAccessExpression(parent) && parent.name === name)
      return this.checker.getPropertyOfType(this.typeOf(parent.expression), name.text);
    if (ts.isElementAccessExpression(parent) && parent.argumentExpression === name)
      return this.checker.getPropertyOfType(this.typeOf(parent.expression), name.text);
    return undefined;
  }

  #memberAssigned(pattern: ts.ObjectLiteralExpression, name: string): ts.Symbol | undefined {
    const { parent } = pattern;
    if (!ts.isBinaryExpression(parent)) return undefined;
    return this.checker.getPropertyOfType(this.typeOf(parent.right), name);
  }

  #unaliased(symbol: ts.Symbol | undefined): ts.Symbol | undefined {
    return symbol !== undefined && symbol.flags & ts.SymbolFlags.Alias
      ? this.checker.getAliasedSymbol(symbol)
      : symbol;
  }
}

/** True if an object literal is what is assigned to: `({ cars } = terminal)`. */
const isAssigned = (literal: ts.ObjectLiteralExpression): boolean =>
  ts.isBinaryExpression(literal.parent) &&
  literal.parent.left === literal &&
  literal.parent.operatorToken.kind === ts.SyntaxKind.EqualsToken;

/** The compiler has no symbol for a parameter that is a pattern: its own stands for it. */
export const patternSymbol = (parameter: ts.ParameterDeclaration): ts.Symbol | undefined =>
  (parameter as { symbol?: ts.Symbol }).symbol;
