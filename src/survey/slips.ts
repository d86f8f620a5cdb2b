import ts from 'typescript';
import { nearest } from '../base/suggest.js';
import { kindOfUse, outermost } from './kind-of-use.js';
import type { NewStores } from './new-stores.js';
import { isSetUp } from './set-up.js';
import type { SlipKind } from './survey-result.js';
import type { Typing } from './typing.js';

export interface Slip {
  readonly kind: SlipKind;
  readonly node: ts.Node;
  readonly message: string;
  readonly hint: string;
}

/** Where a module uses the new stores: the members, and what is wrong there. */
export interface NewUses {
  readonly members: readonly { readonly node: ts.Node; readonly name: string }[];
  readonly slips: readonly Slip[];
}

/** From variable to variable a store is followed so far. */
const mostSteps = 10;

/** Finds what a module uses of the new stores, and slips of those who port. */
export class NewUseFinder {
  readonly #typing: Typing;
  readonly #stores: NewStores;
  #members: { node: ts.Node; name: string }[] = [];
  #slips: Slip[] = [];

  constructor(typing: Typing, stores: NewStores) {
    this.#typing = typing;
    this.#stores = stores;
  }

  find(module: ts.SourceFile): NewUses {
    this.#members = [];
    this.#slips = [];
    this.#visit(module);
    return { members: this.#members, slips: this.#slips };
  }

  #visit(node: ts.Node): void {
    if (ts.isPropertyAccessExpression(node)) this.#property(node);
    else if (ts.isBindingElement(node)) this.#element(node);
    else if (ts.isStringLiteralLike(node)) this.#typeText(node);
    if (ts.isCallExpression(node)) this.#call(node);
    if (!ts.isImportDeclaration(node))
      ts.forEachChild(node, (child) => {
        this.#visit(child);
      });
  }

  #slip(kind: SlipKind, node: ts.Node, message: string, hint: string): void {
    this.#slips.push({ kind, node, message, hint });
  }

  #property(node: ts.PropertyAccessExpression): void {
    const name = node.name;
    if (!ts.isIdentifier(name)) return;
    const store = this.#storeIn(node.expression);
    const symbol = this.#typing.symbolOf(name);
    const member = this.#stores.memberOf(symbol);
    if (member !== undefined) {
      this.#members.push({ node: name, name: member.name });
      if (member.kind === 'action') return;
      const isOwn = () => false;
      if (kindOfUse(name, isOwn) === 'write')
        this.#slip(
          'changed-outside',
          name,
          `'${member.name}' is changed outside of an action.`,
          'Send an action that does it.',
        );
      this.#copied(node, member.name);
    } else if (store !== undefined && symbol === undefined) this.#unknown(name, store);
    else this.#data(name, symbol);
  }

  /** A property of data, as the schema's types have it: `car.lengthM`. */
  #data(name: ts.Identifier, symbol: ts.Symbol | undefined): void {
    const of = this.#stores.typeOfData(symbol);
    if (of !== undefined) this.#members.push({ node: name, name: `${of}.${name.text}` });
  }

  /** The store that an expression stands for. */
  #storeIn(expression: ts.Expression, steps = 0): string | undefined {
    // `var x = x.y` leads to itself.
    if (steps > mostSteps) return undefined;
    const name = ts.isPropertyAccessExpression(expression) ? expression.name : expression;
    if (!ts.isIdentifier(name)) return undefined;
    const symbol = this.#typing.symbolOf(name);
    const direct = this.#stores.storeOf(symbol);
    if (direct !== undefined) return direct;
    // `const { deck } = stores`: the variable stands for the store.
    const [declaration] = symbol?.declarations ?? [];
    if (declaration !== undefined && ts.isBindingElement(declaration))
      return this.#stores.storeOf(this.#typing.memberOfPattern(declaration));
    if (
      declaration !== undefined &&
      ts.isVariableDeclaration(declaration) &&
      declaration.initializer !== undefined
    )
      return ts.isPropertyAccessExpression(declaration.initializer)
        ? this.#storeIn(declaration.initializer, steps + 1)
        : undefined;
    return undefined;
  }

  /** `const { queue } = stores.deck`. */
  #element(node: ts.BindingElement): void {
    const name = node.propertyName ?? node.name;
    if (!ts.isIdentifier(name) || node.dotDotDotToken !== undefined) return;
    const symbol = this.#typing.memberOfPattern(node);
    const member = this.#stores.memberOf(symbol);
    if (member !== undefined) {
      this.#members.push({ node: name, name: member.name });
      if (member.kind !== 'action' && this.#stores.style === 'proxy' && isSetUp(node))
        this.#tellCopied(name, member.name);
      return;
    }
    this.#data(name, symbol);
    const { parent } = node.parent;
    if (
      symbol !== undefined ||
      !ts.isVariableDeclaration(parent) ||
      parent.initializer === undefined
    )
      return;
    const store = this.#storeIn(parent.initializer);
    if (store !== undefined) this.#unknown(name, store);
  }

  #unknown(name: ts.Identifier, store: string): void {
    const known = [...(this.#stores.stores.get(store)?.keys() ?? [])];
    if (known.length === 0) return;
    const meant = nearest(name.text, known);
    this.#slip(
      'unknown-name',
      name,
      `There is no '${name.text}' in '${store}'.`,
      meant === undefined ? `There are: ${known.join(', ')}.` : `Did you mean '${meant}'?`,
    );
  }

  /** `dispatch({ type: 'deck.bord' })`. */
  #typeText(node: ts.StringLiteralLike): void {
    const { parent } = node;
    if (!ts.isPropertyAssignment(parent) || parent.name.getText() !== 'type') return;
    const [, store = '', action = ''] = /^([A-Za-z_$][\w$]*)\.([\w$.]+)$/.exec(node.text) ?? [];
    const own = this.#stores.stores.get(store);
    if (own === undefined || this.#stores.style !== 'reducer') return;
    const call = parent.parent.parent;
    if (!ts.isCallExpression(call) || !/dispatch$/i.test(call.expression.getText())) return;
    const [name = ''] = action.split('.');
    if (own.get(name) === 'action') {
      this.#members.push({ node, name: `${store}.${name}` });
      return;
    }
    const actions = [...own].filter(([, kind]) => kind === 'action').map(([one]) => one);
    const meant = nearest(name, actions);
    this.#slip(
      'unknown-name',
      node,
      `There is no action '${node.text}'.`,
      meant === undefined
        ? `There are: ${actions.join(', ')}.`
        : `Did you mean '${store}.${meant}'?`,
    );
  }

  #call(node: ts.CallExpression): void {
    const { expression } = node;
    const name = ts.isPropertyAccessExpression(expression) ? expression.name : expression;
    if (!ts.isIdentifier(name)) return;
    const symbol = this.#typing.symbolOf(name);
    const member = this.#stores.memberOf(symbol) ?? this.#memberOfVariable(symbol);
    if (member?.kind === 'action') this.#payload(node, member.name);
    const [declaration] = symbol?.declarations ?? [];
    if (declaration === undefined || !this.#stores.has(declaration)) return;
    if (['watch', 'whenChanged', 'subscribe'].includes(name.text)) this.#watcher(node, name.text);
  }

  #memberOfVariable(symbol: ts.Symbol | undefined) {
    const [declaration] = symbol?.declarations ?? [];
    return declaration !== undefined && ts.isBindingElement(declaration)
      ? this.#stores.memberOf(this.#typing.memberOfPattern(declaration))
      : undefined;
  }

  /** What an action is given, where the compiler does not complain: in JavaScript. */
  #payload(call: ts.CallExpression, name: string): void {
    const { checker } = this.#typing;
    const [signature] = checker.getTypeAtLocation(call.expression).getCallSignatures();
    const [given] = call.arguments;
    if (signature === undefined) return;
    const payload = payloadIn(signature, checker);
    if (payload === undefined) {
      if (given !== undefined)
        this.#slip('wrong-payload', given, `'${name}' takes no payload.`, 'Leave it out.');
      return;
    }
    const wanted = payload.type;
    const typeText = checker.typeToString(wanted, call, ts.TypeFormatFlags.NoTruncation);
    if (given === undefined) {
      if (!payload.isOptional)
        this.#slip(
          'wrong-payload',
          call,
          `'${name}' is called without its payload.`,
          `It takes ${typeText}.`,
        );
      return;
    }
    const type = checker.getTypeAtLocation(given);
    if (checker.isTypeAssignableTo(type, wanted)) return;
    // A text that is made of several is no single one for the compiler.
    if (checker.isTypeAssignableTo(checker.getBaseTypeOfLiteralType(type), wanted)) return;
    this.#slip(
      'wrong-payload',
      given,
      `'${name}' is given ${checker.typeToString(checker.getBaseTypeOfLiteralType(type), call)}.`,
      `It takes ${typeText}.`,
    );
  }

  /** A value that is read once where it has to be followed. */
  #copied(node: ts.PropertyAccessExpression, name: string): void {
    const outer = outermost(node);
    const { style } = this.#stores;
    if (style === 'proxy') {
      if (isInitial(outer) && isSetUp(outer)) this.#tellCopied(node.name, name);
    } else if (style === 'atom' || style === 'observable') {
      const read = ts.isPropertyAccessExpression(outer.parent) ? outer.parent : undefined;
      if (read?.expression !== outer || !['get', 'latest'].includes(read.name.text)) return;
      const whole = read.name.text === 'get' ? read.parent : read;
      if (isInitial(outermost(whole)) && isSetUp(whole)) this.#tellCopied(node.name, name);
    } else if (style === 'reducer' && isInitial(outer) && isSetUp(outer) && this.#isSnapshot(node))
      this.#tellCopied(node.name, name);
  }

  /** Whether something is read of `store.snapshot()`, or of a variable that was given that. */
  #isSnapshot(node: ts.Expression): boolean {
    let root = node;
    while (ts.isPropertyAccessExpression(root) || ts.isNonNullExpression(root))
      root = root.expression;
    if (ts.isCallExpression(root)) return /(^|\.)snapshot$/.test(root.expression.getText());
    if (!ts.isIdentifier(root)) return false;
    const [declaration] = this.#typing.symbolOf(root)?.declarations ?? [];
    return (
      declaration !== undefined &&
      ts.isVariableDeclaration(declaration) &&
      declaration.initializer !== undefined &&
      ts.isCallExpression(declaration.initializer) &&
      this.#isSnapshot(declaration.initializer)
    );
  }

  #tellCopied(node: ts.Node, name: string): void {
    this.#slip(
      'copied-out',
      node,
      `'${name}' is copied here once, and does not follow the store.`,
      'Read it where it is drawn: useReading, injectReading, or a watcher.',
    );
  }

  /** A watcher that nobody can stop, in something that is made again and again. */
  #watcher(call: ts.CallExpression, name: string): void {
    const { parent } = call;
    if (!ts.isExpressionStatement(parent) || !isSetUp(parent) || isTopLevel(parent)) return;
    this.#slip(
      'never-stopped',
      call,
      `What '${name}' gives is thrown away: this watcher is never stopped.`,
      'Keep it, and stop the watcher when the component goes away.',
    );
  }
}

/** What an action takes: its only parameter, or the only one of `...given: [payload: Lane]`. */
function payloadIn(
  signature: ts.Signature,
  checker: ts.TypeChecker,
): { readonly type: ts.Type; readonly isOptional: boolean } | undefined {
  const [parameter] = signature.parameters;
  if (parameter === undefined) return undefined;
  const type = checker.getTypeOfSymbol(parameter);
  const declaration = parameter.valueDeclaration;
  const isParameter = declaration !== undefined && ts.isParameter(declaration);
  if (!checker.isTupleType(type))
    return { type, isOptional: isParameter && checker.isOptionalParameter(declaration) };
  const tuple = type as ts.TupleTypeReference;
  const [first] = checker.getTypeArguments(tuple);
  return first && { type: first, isOptional: tuple.target.minLength === 0 };
}

/** Whether an expression is what a variable or a property begins with. */
const isInitial = (node: ts.Node): boolean =>
  (ts.isVariableDeclaration(node.parent) && node.parent.initializer === node) ||
  (ts.isPropertyDeclaration(node.parent) && node.parent.initializer === node);

const isTopLevel = (node: ts.Node): boolean =>
  ts.isSourceFile(node.parent) && !/\.(vue|svelte)\.tsx?$/.test(node.parent.fileName);
