import type { AnyNode, CallExpression } from 'acorn';
import { nearest } from '../../../base/suggest.js';
import type { Argument, Expr } from '../../../model/expressions.js';
import { fits } from '../../../model/fit.js';
import { doneBy, type CalledFunction, type LanguageFunction } from '../../../model/functions.js';
import { typeText } from '../../../model/type-text.js';
import {
  isStructured,
  list,
  resolve,
  text,
  union,
  unknown,
  type Type,
} from '../../../model/types.js';
import { isOfLazy, receiverType } from './access.js';
import { functions } from './functions.js';
import { requireFit, scalarKind, soleKind, type Inference } from './inference.js';
import {
  listMethods,
  numberMethods,
  textMethods,
  type CallSite,
  type Signature,
} from './methods.js';
import { widen } from './widen.js';
import { derivedAsked, inferApplied, inferAsked, inferFits } from './schema-calls.js';
import type { Scope } from './scope.js';

/** A call: a method of a value, or a function of the language. */
export function inferCall(cx: Inference, node: CallExpression, scope: Scope): Expr {
  const callee = node.callee as AnyNode;
  if (callee.type === 'Identifier' && !scope.locals.has(callee.name)) {
    const declared = cx.declarations.functions.get(callee.name);
    if (declared !== undefined) return inferApplied(cx, node, declared, scope);
  }
  const asked = derivedAsked(cx, callee, scope);
  if (asked !== undefined) return inferAsked(cx, node, asked, scope);
  const name = functionName(callee, scope);
  if (name !== undefined) return inferFunction(cx, node, name, scope);
  if (callee.type === 'MemberExpression' && !callee.computed) return inferMethod(cx, node, scope);
  const span = cx.spanOf(callee);
  const called = callee.type === 'Identifier' ? callee.name : 'This';
  cx.problems.add('unknown-name', span, {
    name: `${called}()`,
    near: nearest(called, [...cx.declarations.functions.keys(), ...Object.keys(functions)]),
    textFits: false,
  });
  return { kind: 'undefined', span, type: unknown };
}

const namespaces = new Set(['Math', 'Number', 'Object', 'String', 'Array']);

function functionName(callee: AnyNode, scope: Scope): string | undefined {
  if (callee.type === 'Identifier') {
    return doneBy(callee.name) === undefined ? undefined : callee.name;
  }
  if (callee.type !== 'MemberExpression' || callee.computed) return undefined;
  const { object, property } = callee as { object: AnyNode; property: AnyNode };
  if (object.type !== 'Identifier' || !namespaces.has(object.name) || scope.locals.has(object.name))
    return undefined;
  return property.type === 'Identifier' ? `${object.name}.${property.name}` : undefined;
}

function inferFunction(cx: Inference, node: CallExpression, name: string, scope: Scope): Expr {
  const span = cx.spanOf(node);
  const signature = doneBy(name) === undefined ? undefined : functions[name as LanguageFunction];
  if (signature === undefined) {
    const near = nearest(name, Object.keys(functions));
    cx.problems.add('unknown-name', cx.spanOf(node.callee), {
      name: `${name}()`,
      near,
      textFits: false,
    });
    return { kind: 'undefined', span, type: unknown };
  }
  if (name === 'fits') return inferFits(cx, node, scope);
  if (doneBy(name) === 'environment' && !scope.draws)
    cx.problems.add('only-in-steps', cx.spanOf(node.callee), { name });
  const { args, type } = applySignature(cx, node, name, signature, unknown, scope);
  return { kind: 'call', name: name as CalledFunction, args, span, type };
}

function inferMethod(cx: Inference, node: CallExpression, scope: Scope): Expr {
  const callee = node.callee as AnyNode & { object: AnyNode; property: AnyNode; optional: boolean };
  const object = cx.infer(callee.object, scope);
  const name = callee.property.type === 'Identifier' ? callee.property.name : '';
  const known = receiverType(cx, callee, object, `'.${name}()'`);
  const isOpen = known.kind === 'unknown' && scope.isOpen === true;
  // Where nothing is known, a method says what it is a method of.
  const receiver = isOpen ? (Object.hasOwn(listMethods, name) ? list(unknown) : text) : known;
  const span = cx.spanOf(node);
  const done = (args: readonly Argument[], type: Type): Expr => ({
    kind: 'method',
    object,
    name,
    args,
    optional: callee.optional || isOfLazy(object),
    span,
    type,
  });
  if (receiver.kind === 'unknown') return done([], unknown);
  const items = soleKind(receiver, 'list', cx.types);
  if (items !== undefined && iteratorMethods.has(name) && !cx.isSpread(node)) {
    const wanted = `to be spread into a list: [...list.${name}()]`;
    cx.problems.add('wrong-arguments', span, { name, wanted });
    return done([], unknown);
  }
  if (items !== undefined && name === 'reduce')
    return inferReduce(cx, node, items.item, scope, done);
  const table = methodsOf(cx, receiver, items !== undefined);
  const signature = Object.hasOwn(table, name) ? table[name] : undefined;
  if (signature === undefined) {
    const of = typeText(receiver, cx.types);
    cx.problems.add('no-such-method', cx.spanOf(callee.property), {
      name,
      of: of.charAt(0).toUpperCase() + of.slice(1),
      near: nearest(name, Object.keys(table)),
    });
    return done([], unknown);
  }
  const { args, type } = applySignature(cx, node, name, signature, items?.item ?? unknown, scope);
  return done(args, keepsKey(name, items, type));
}

/** The methods that give an iterator, which is no value to be kept. */
const iteratorMethods = new Set(['keys', 'entries']);

/** A list that is a part of a keyed list is a keyed list. */
function keepsKey(name: string, items: (Type & { kind: 'list' }) | undefined, type: Type): Type {
  const part =
    name === 'filter' || name === 'slice' || name === 'toReversed' || name === 'toSorted';
  return part && items?.key !== undefined && type.kind === 'list'
    ? { ...type, key: items.key }
    : type;
}

function methodsOf(
  cx: Inference,
  receiver: Type,
  isList: boolean,
): Readonly<Record<string, Signature>> {
  if (isList) return listMethods;
  const kind = scalarKind(receiver, cx.types);
  return kind === 'text' ? textMethods : kind === 'number' ? numberMethods : {};
}

interface Applied {
  readonly args: readonly Argument[];
  readonly type: Type;
}

function applySignature(
  cx: Inference,
  node: CallExpression,
  name: string,
  signature: Signature,
  item: Type,
  scope: Scope,
): Applied {
  const given = node.arguments as readonly AnyNode[];
  const [least, most] = signature.takes;
  const spread = given.find(({ type }) => type === 'SpreadElement');
  if (spread !== undefined && signature.spreads !== true) {
    const wanted = `${signature.wanted}, each written as such`;
    cx.problems.add('wrong-arguments', cx.spanOf(spread), { name, wanted });
    return { args: [], type: unknown };
  }
  if (given.length < least || given.length > most) {
    cx.problems.add('wrong-arguments', cx.spanOf(node), { name, wanted: signature.wanted });
    return { args: [], type: unknown };
  }
  const call = new Call(cx, node, name, signature.wanted, scope);
  const type = signature.type(call, item);
  return { args: call.args, type: call.failed ? unknown : type };
}

class Call implements CallSite {
  readonly args: Argument[] = [];
  failed = false;

  constructor(
    readonly cx: Inference,
    readonly node: CallExpression,
    readonly name: string,
    readonly wanted: string,
    readonly scope: Scope,
  ) {}

  get types() {
    return this.cx.types;
  }

  get count(): number {
    return this.node.arguments.length;
  }

  #next(): AnyNode {
    return this.node.arguments[this.args.length] as AnyNode;
  }

  list(): Type & { kind: 'list' } {
    const expr = this.cx.infer(this.#next(), this.scope);
    this.args.push(expr);
    const wanted = list(unknown);
    if (!requireFit(this.cx, expr, wanted, `'${this.name}'`)) this.failed = true;
    return soleKind(expr.type, 'list', this.types) ?? { kind: 'list', item: unknown };
  }

  each(wanted: Type): Type {
    const next = this.#next();
    if (next.type !== 'SpreadElement') return this.value(wanted);
    const value = this.cx.infer(next.argument, this.scope);
    this.args.push({ kind: 'spread', value });
    if (!requireFit(this.cx, value, list(wanted), `'...' in '${this.name}'`)) this.failed = true;
    return soleKind(value.type, 'list', this.types)?.item ?? unknown;
  }

  any(): Type {
    const expr = this.cx.infer(this.#next(), this.scope);
    this.args.push(expr);
    return resolve(expr.type, this.types);
  }

  value(wanted: Type): Type {
    const expr = this.cx.infer(this.#next(), this.scope);
    this.args.push(expr);
    if (!requireFit(this.cx, expr, wanted, `'${this.name}'`)) this.failed = true;
    return resolve(expr.type, this.types);
  }

  ordered(of: Type): void {
    const kind = scalarKind(of, this.types);
    if (kind === 'number' || kind === 'text' || of.kind === 'unknown') return;
    const span = this.cx.spanOf(this.node.arguments[this.args.length - 1] as AnyNode);
    const got = typeText(of, this.types);
    const where = `The order of '${this.name}'`;
    if (of.kind === 'never') this.cx.problems.add('never-here', span, {});
    else this.cx.problems.add('type-mismatch', span, { wanted: 'a number or text', got, where });
    this.failed = true;
  }

  arrow(params: readonly Type[], wanted?: Type, draws = this.scope.draws): Type {
    const arrow = this.cx.arrow(this.#next(), params, { ...this.scope, draws });
    if (arrow === undefined) {
      this.cx.problems.add('wrong-arguments', this.cx.spanOf(this.#next()), {
        name: this.name,
        wanted: this.wanted,
      });
      this.failed = true;
      return unknown;
    }
    this.args.push(arrow);
    if (wanted !== undefined)
      requireFit(this.cx, arrow.body, wanted, `The function given to '${this.name}'`);
    return arrow.body.type;
  }

  digits(least: number, most: number): void {
    const expr = this.cx.infer(this.#next(), this.scope);
    this.args.push(expr);
    const { value } = expr as { value?: unknown };
    if (
      expr.kind === 'literal' &&
      Number.isInteger(value) &&
      (value as number) >= least &&
      (value as number) <= most
    )
      return;
    const wanted = `a whole number from ${least} to ${most}, written as such`;
    this.cx.problems.add('wrong-arguments', expr.span, { name: this.name, wanted });
    this.failed = true;
  }

  refuse(what: 'identity' | 'unsorted', of: Type): boolean {
    const fits =
      what === 'identity' ? !isStructured(of, this.types) : scalarKind(of, this.types) === 'text';
    if (fits || of.kind === 'unknown') return false;
    const span = this.cx.spanOf(this.node);
    this.failed = true;
    if (what === 'identity') {
      const params = { operator: this.name, what: typeText(of, this.types) };
      this.cx.problems.add('identity-comparison', span, params);
    } else {
      const wanted = 'a function of two items: (a, b) => a - b; without one it sorts as text';
      this.cx.problems.add('wrong-arguments', span, { name: this.name, wanted });
    }
    return true;
  }
}

/** `reduce`: the type of what is carried along grows from the first value until it holds what the arrow gives. */
function inferReduce(
  cx: Inference,
  node: CallExpression,
  item: Type,
  scope: Scope,
  done: (args: readonly Argument[], type: Type) => Expr,
): Expr {
  const [step, start] = node.arguments as readonly (AnyNode | undefined)[];
  if (step === undefined || start === undefined || node.arguments.length > 2) {
    const wanted = 'a function (total, item) and a value to start from';
    cx.problems.add('wrong-arguments', cx.spanOf(node), { name: 'reduce', wanted });
    return done([], unknown);
  }
  const first = cx.infer(start, scope);
  let carried = first.type;
  for (let round = 0; round < 3; round++) {
    const tried = cx.quietly().arrow(step, [carried, item], scope);
    const given = tried?.body.type ?? unknown;
    const grown = union([carried, given]);
    if (grown.kind === 'unknown' || fits(given, carried, cx.types, 'shape')) break;
    carried = round === 0 ? grown : widen(grown, cx.types);
  }
  const arrow = cx.arrow(step, [widenNumbers(carried, cx), item], scope);
  if (arrow === undefined) {
    cx.problems.add('wrong-arguments', cx.spanOf(step), {
      name: 'reduce',
      wanted: 'a function (total, item)',
    });
    return done([], unknown);
  }
  return done([arrow, first], widenNumbers(carried, cx));
}

function widenNumbers(type: Type, cx: Inference): Type {
  return scalarKind(type, cx.types) === 'number' ? widen(type, cx.types) : type;
}
