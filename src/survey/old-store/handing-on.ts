import ts from 'typescript';
import type { Members } from './members.js';
import { patternSymbol, type Typing } from '../reading/typing.js';
import type { UnclearUse } from './unclear-uses.js';

/**
 * Follows stores and their data into parameters without a type, of functions and of components in all modules that are
 * the application's `own`. Gives the places where that cannot be done, by module.
 */
export function followHanding(
  typing: Typing,
  members: Members,
  modules: readonly ts.SourceFile[],
  own: ReadonlySet<ts.SourceFile>,
): ReadonlyMap<ts.SourceFile, readonly UnclearUse[]> {
  let unclear = new Map<ts.SourceFile, UnclearUse[]>();
  // Once more whenever something new was handed on: it may be handed further.
  for (let isNew = true; isNew;) {
    isNew = false;
    unclear = new Map();
    for (const module of modules) {
      const handing = new Handing(typing, members, own);
      handing.visit(module);
      if (handing.isNew) isNew = true;
      unclear.set(module, handing.unclear);
    }
  }
  return unclear;
}

class Handing {
  isNew = false;
  readonly unclear: UnclearUse[] = [];

  constructor(
    readonly typing: Typing,
    readonly members: Members,
    readonly modules: ReadonlySet<ts.SourceFile>,
  ) {}

  visit(node: ts.Node): void {
    if (ts.isCallExpression(node) || ts.isNewExpression(node)) this.#call(node);
    else if (ts.isJsxSelfClosingElement(node) || ts.isJsxOpeningElement(node)) this.#element(node);
    else if (ts.isBinaryExpression(node) && node.operatorToken.kind === ts.SyntaxKind.EqualsToken)
      this.#assignment(node.left, node.right);
    else if (
      ts.isVariableDeclaration(node) &&
      node.type !== undefined &&
      node.initializer !== undefined
    )
      this.#assignment(node, node.initializer);
    ts.forEachChild(node, (child) => {
      this.visit(child);
    });
  }

  /** The type of what is handed on, if it is a store or data of one. */
  #typeOfStore(expression: ts.Expression): ts.Type | undefined {
    if (!isReference(expression)) return undefined;
    const type = this.typing.typeOf(expression);
    return this.members.isTypeOf(type) && type.getCallSignatures().length === 0 ? type : undefined;
  }

  #call(call: ts.CallExpression | ts.NewExpression): void {
    const given = call.arguments ?? [];
    this.#items(call, given);
    if (!given.some(isReference)) return;
    const signature = this.typing.checker.getResolvedSignature(call);
    const declaration = signature?.declaration;
    for (const [i, argument] of given.entries()) {
      if (!isReference(argument)) continue;
      const parameter = parameterAt(signature, i);
      const type =
        parameter === undefined
          ? undefined
          : this.typing.checker.getTypeOfSymbolAtLocation(parameter, call);
      if (type !== undefined && !takesAnything(type)) continue;
      const own = this.#typeOfStore(argument);
      if (own === undefined) continue;
      const to = `'${nameOfCall(call)}'`;
      const declared = declaration?.parameters[i];
      // What the language itself offers uses no member by its name.
      if (declaration !== undefined && this.typing.isOfLanguage(declaration)) continue;
      if (declared !== undefined && ts.isParameter(declared))
        this.#hand(declared, own, argument, to);
      else this.#report(argument, to);
    }
  }

  /** `cars.map((car) => ...)`, where only handing on tells what `cars` are. */
  #items(call: ts.CallExpression | ts.NewExpression, given: readonly ts.Expression[]): void {
    const { expression } = call;
    const [callback] = given;
    if (!isJavaScript(call.getSourceFile())) return;
    if (callback === undefined || !ts.isPropertyAccessExpression(expression)) return;
    if (!ts.isArrowFunction(callback) && !ts.isFunctionExpression(callback)) return;
    const { checker } = this.typing;
    if (!this.typing.isUntyped(checker.getTypeAtLocation(expression.expression))) return;
    const list = this.typing.typeOf(expression.expression);
    const item = checker.isArrayType(list) ? list.getNumberIndexType() : undefined;
    const count = itemsOf[expression.name.text];
    if (item === undefined || count === undefined) return;
    for (const at of count) {
      const parameter = callback.parameters[at];
      const symbol =
        parameter === undefined || parameter.type !== undefined
          ? undefined
          : ts.isIdentifier(parameter.name)
            ? checker.getSymbolAtLocation(parameter.name)
            : patternSymbol(parameter);
      if (symbol !== undefined && this.typing.hand(symbol, item)) this.isNew = true;
    }
  }

  /** A component is given attributes: properties of its first parameter. */
  #element(element: ts.JsxSelfClosingElement | ts.JsxOpeningElement): void {
    for (const attribute of element.attributes.properties) {
      if (!ts.isJsxAttribute(attribute)) continue;
      const { initializer } = attribute;
      if (initializer === undefined || !ts.isJsxExpression(initializer)) continue;
      const { expression } = initializer;
      if (expression === undefined) continue;
      const own = this.#typeOfStore(expression);
      if (own === undefined) continue;
      const expected = this.typing.checker.getContextualType(expression);
      if (expected !== undefined && !takesAnything(expected)) continue;
      const to = `<${element.tagName.getText()}>`;
      const name = attribute.name.getText();
      const [parameter] = this.#componentOf(element.tagName)?.parameters ?? [];
      const pattern = parameter?.name;
      const part =
        pattern !== undefined && ts.isObjectBindingPattern(pattern)
          ? pattern.elements.find((one) => (one.propertyName ?? one.name).getText() === name)
          : undefined;
      const symbol =
        part && ts.isIdentifier(part.name)
          ? this.typing.checker.getSymbolAtLocation(part.name)
          : undefined;
      if (symbol === undefined) this.#report(expression, to);
      else if (this.typing.hand(symbol, own)) this.isNew = true;
    }
  }

  #componentOf(tag: ts.JsxTagNameExpression): ts.SignatureDeclaration | undefined {
    if (!ts.isIdentifier(tag)) return undefined;
    const found = this.typing.symbolOf(tag)?.declarations?.[0];
    if (found === undefined || !this.modules.has(found.getSourceFile())) return undefined;
    if (ts.isFunctionDeclaration(found)) return found;
    const made = ts.isVariableDeclaration(found) ? found.initializer : undefined;
    return made !== undefined && (ts.isArrowFunction(made) || ts.isFunctionExpression(made))
      ? made
      : undefined;
  }

  #hand(
    parameter: ts.ParameterDeclaration,
    type: ts.Type,
    argument: ts.Expression,
    to: string,
  ): void {
    const isOurs = this.modules.has(parameter.getSourceFile());
    if (!isOurs || parameter.type !== undefined || parameter.dotDotDotToken !== undefined) {
      this.#report(argument, to);
      return;
    }
    const symbol = ts.isIdentifier(parameter.name)
      ? this.typing.checker.getSymbolAtLocation(parameter.name)
      : patternSymbol(parameter);
    if (symbol !== undefined && this.typing.hand(symbol, type)) this.isNew = true;
  }

  /** A store is put where nobody knows its type. */
  #assignment(target: ts.Expression | ts.VariableDeclaration, value: ts.Expression): void {
    if (!isReference(value)) return;
    const type = this.typing.checker.getTypeAtLocation(target);
    if (!takesAnything(type) || this.#typeOfStore(value) === undefined) return;
    const name = ts.isVariableDeclaration(target) ? target.name : target;
    this.#report(value, `'${name.getText()}'`);
  }

  #report(node: ts.Node, to: string): void {
    this.unclear.push({
      node,
      reason: `'${node.getText()}' is handed to ${to}, which does not say what it takes`,
    });
  }
}

/** Only there do parameters have no types. */
const isJavaScript = ({ fileName }: ts.SourceFile): boolean =>
  !/\.[cm]?tsx?$/.test(fileName) || /\.(vue|svelte)\.tsx?$/.test(fileName);

/** Methods of lists, with the parameters of their callbacks that are items. */
const itemsOf: Readonly<Record<string, readonly number[]>> = {
  map: [0],
  filter: [0],
  forEach: [0],
  find: [0],
  findIndex: [0],
  findLast: [0],
  some: [0],
  every: [0],
  flatMap: [0],
  sort: [0, 1],
  toSorted: [0, 1],
  reduce: [1],
};

/** True if an expression names something, in place of making it. */
const isReference = (node: ts.Expression): boolean =>
  ts.isIdentifier(node) ||
  ts.isPropertyAccessExpression(node) ||
  ts.isCallExpression(node) ||
  (ts.isNonNullExpression(node) && isReference(node.expression));

/** True if a type says nothing of what fits it. */
function takesAnything(type: ts.Type): boolean {
  if (type.flags & (ts.TypeFlags.Any | ts.TypeFlags.Unknown | ts.TypeFlags.NonPrimitive))
    return true;
  const isEmpty =
    (type.flags & ts.TypeFlags.Object) !== 0 &&
    type.getProperties().length === 0 &&
    type.getCallSignatures().length === 0 &&
    type.getStringIndexType() === undefined;
  return isEmpty;
}

function parameterAt(signature: ts.Signature | undefined, i: number): ts.Symbol | undefined {
  const parameters = signature?.parameters ?? [];
  return parameters[i] ?? parameters.at(-1);
}

const nameOfCall = (call: ts.CallExpression | ts.NewExpression): string =>
  call.expression.getText().replace(/\s+/g, ' ').slice(0, 60);
