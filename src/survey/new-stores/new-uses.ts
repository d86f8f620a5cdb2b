import ts from 'typescript';
import { kindOfUse } from '../reading/kind-of-use.js';
import type { Typing } from '../reading/typing.js';
import { copiedOut, isCopied } from './copied-out.js';
import type { NewMember, NewStores } from './new-stores.js';
import { isSetUp } from './set-up.js';
import { unknownName, type Slip } from './slip.js';
import { wrongPayload } from './wrong-payload.js';

/** Where a module uses the new stores: places with the names of members, and what is wrong. */
export interface NewUses {
  readonly members: readonly { readonly node: ts.Node; readonly name: string }[];
  readonly slips: readonly Slip[];
}

/** What a module uses of the new stores. */
export const newUsesOf = (module: ts.SourceFile, typing: Typing, stores: NewStores): NewUses =>
  new Finder(typing, stores).find(module);

/** From variable to variable a store is followed so far. */
const mostSteps = 10;

/** Looks through one module. */
class Finder {
  readonly #typing: Typing;
  readonly #stores: NewStores;
  readonly #members: { node: ts.Node; name: string }[] = [];
  readonly #slips: Slip[] = [];

  constructor(typing: Typing, stores: NewStores) {
    this.#typing = typing;
    this.#stores = stores;
  }

  find(module: ts.SourceFile): NewUses {
    this.#visit(module);
    return { members: this.#members, slips: this.#slips };
  }

  #visit(node: ts.Node): void {
    if (ts.isPropertyAccessExpression(node)) this.#property(node);
    else if (ts.isBindingElement(node)) this.#element(node);
    else if (ts.isStringLiteralLike(node)) this.#actionText(node);
    else if (ts.isCallExpression(node)) this.#call(node);
    if (!ts.isImportDeclaration(node))
      ts.forEachChild(node, (child) => {
        this.#visit(child);
      });
  }

  #property(node: ts.PropertyAccessExpression): void {
    const { name } = node;
    if (!ts.isIdentifier(name)) return;
    const symbol = this.#typing.symbolOf(name);
    const member = this.#stores.memberOf(symbol);
    if (member === undefined) {
      this.#noMember(name, symbol, node.expression);
      return;
    }
    this.#members.push({ node: name, name: member.name });
    if (member.kind === 'action') return;
    if (kindOfUse(name, () => false) === 'write')
      this.#slips.push({
        kind: 'changed-outside',
        node: name,
        message: `'${member.name}' is changed outside of an action.`,
        hint: 'Send an action that does it.',
      });
    if (isCopied(node, this.#stores.style, this.#typing))
      this.#slips.push(copiedOut(name, member.name));
  }

  /** `const { queue } = stores.deck`. */
  #element(node: ts.BindingElement): void {
    const name = node.propertyName ?? node.name;
    if (!ts.isIdentifier(name) || node.dotDotDotToken !== undefined) return;
    const symbol = this.#typing.memberOfPattern(node);
    const member = this.#stores.memberOf(symbol);
    const { parent } = node.parent;
    if (member === undefined) {
      const of = ts.isVariableDeclaration(parent) ? parent.initializer : undefined;
      this.#noMember(name, symbol, of);
      return;
    }
    this.#members.push({ node: name, name: member.name });
    if (member.kind !== 'action' && this.#stores.style === 'proxy' && isSetUp(node))
      this.#slips.push(copiedOut(name, member.name));
  }

  /** A name that is none of a member: it may be that of data (`car.lengthM`), or one that a store lacks. */
  #noMember(
    name: ts.Identifier,
    symbol: ts.Symbol | undefined,
    of: ts.Expression | undefined,
  ): void {
    if (this.#stores.isData(symbol)) this.#members.push({ node: name, name: name.text });
    if (symbol !== undefined || of === undefined) return;
    const store = this.#storeIn(of);
    const known = [...(this.#stores.stores.get(store ?? '')?.keys() ?? [])];
    if (store === undefined || known.length === 0) return;
    const message = `There is no '${name.text}' in '${store}'.`;
    this.#slips.push(unknownName(name, message, name.text, known));
  }

  /** The store that an expression stands for. */
  #storeIn(expression: ts.Expression, steps = 0): string | undefined {
    const name = ts.isPropertyAccessExpression(expression) ? expression.name : expression;
    // `var x = x.y` leads to itself.
    if (!ts.isIdentifier(name) || steps > mostSteps) return undefined;
    const symbol = this.#typing.symbolOf(name);
    const direct = this.#stores.storeOf(symbol);
    const [declaration] = symbol?.declarations ?? [];
    if (direct !== undefined || declaration === undefined) return direct;
    // `const { deck } = stores`: the variable stands for the store.
    if (ts.isBindingElement(declaration))
      return this.#stores.storeOf(this.#typing.memberOfPattern(declaration));
    if (!ts.isVariableDeclaration(declaration)) return undefined;
    const { initializer } = declaration;
    return initializer !== undefined && ts.isPropertyAccessExpression(initializer)
      ? this.#storeIn(initializer, steps + 1)
      : undefined;
  }

  /** `dispatch({ type: 'deck.bord' })`. */
  #actionText(node: ts.StringLiteralLike): void {
    const { parent } = node;
    if (!ts.isPropertyAssignment(parent) || parent.name.getText() !== 'type') return;
    const [store = '', name = ''] = node.text.split('.');
    const own = this.#stores.stores.get(store);
    if (own === undefined || name === '' || !this.#stores.isDispatched) return;
    const call = parent.parent.parent;
    if (!ts.isCallExpression(call) || !/dispatch$/i.test(call.expression.getText())) return;
    if (own.get(name) === 'action') {
      this.#members.push({ node, name: `${store}.${name}` });
      return;
    }
    const actions = [...own].filter(([, kind]) => kind === 'action');
    const known = actions.map(([one]) => `${store}.${one}`);
    const message = `There is no action '${node.text}'.`;
    this.#slips.push(unknownName(node, message, `${store}.${name}`, known));
  }

  #call(node: ts.CallExpression): void {
    const { expression } = node;
    const name = ts.isPropertyAccessExpression(expression) ? expression.name : expression;
    if (!ts.isIdentifier(name)) return;
    const symbol = this.#typing.symbolOf(name);
    const member = this.#stores.memberOf(symbol) ?? this.#memberOfVariable(symbol);
    const slip =
      member?.kind === 'action' ? wrongPayload(node, member.name, this.#typing.checker) : undefined;
    if (slip !== undefined) this.#slips.push(slip);
    const [declaration] = symbol?.declarations ?? [];
    const isOurs = declaration !== undefined && this.#stores.has(declaration);
    if (isOurs && ['watch', 'whenChanged', 'subscribe'].includes(name.text))
      this.#watcher(node, name.text);
  }

  #memberOfVariable(symbol: ts.Symbol | undefined): NewMember | undefined {
    const [declaration] = symbol?.declarations ?? [];
    return declaration !== undefined && ts.isBindingElement(declaration)
      ? this.#stores.memberOf(this.#typing.memberOfPattern(declaration))
      : undefined;
  }

  /** A watcher that nobody can stop, in something that is made again and again. */
  #watcher(call: ts.CallExpression, name: string): void {
    const { parent } = call;
    if (!ts.isExpressionStatement(parent) || !isSetUp(parent) || isTopLevel(parent)) return;
    this.#slips.push({
      kind: 'never-stopped',
      node: call,
      message: `What '${name}' gives is thrown away: this watcher is never stopped.`,
      hint: 'Keep it, and stop the watcher when the component goes away.',
    });
  }
}

/** True if a statement runs once for the whole page; the script of a component runs for each. */
const isTopLevel = ({ parent }: ts.Node): boolean =>
  ts.isSourceFile(parent) && !/\.(vue|svelte)\.tsx?$/.test(parent.fileName);
