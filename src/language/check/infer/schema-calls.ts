import type { AnyNode, CallExpression, MemberExpression } from 'acorn';
import { nearest } from '../../../base/suggest.js';
import type { Parameter } from '../../../model/application.js';
import type { Expr } from '../../../model/expressions.js';
import { boolean, unknown } from '../../../model/types.js';
import type { DerivedDeclaration, FunctionDeclaration } from '../declarations.js';
import { requireFit, type Inference } from './inference.js';
import { isLazy } from './names.js';
import type { Scope } from './scope.js';

interface AskedDerived {
  readonly store: string;
  readonly derived: DerivedDeclaration;
}

/** The derived value with parameters that is called: `waitingIn` of the same store, or `deck.waitingIn`. */
export function derivedAsked(
  cx: Inference,
  callee: AnyNode,
  scope: Scope,
): AskedDerived | undefined {
  if (callee.type === 'Identifier' && !scope.locals.has(callee.name)) {
    const derived = scope.store.derived.get(callee.name);
    const isAsked = derived !== undefined && derived.params.length > 0;
    return isAsked ? { store: scope.store.name, derived } : undefined;
  }
  if (callee.type !== 'MemberExpression' || callee.computed) return undefined;
  const { object, property } = callee as { object: AnyNode; property: AnyNode };
  if (object.type !== 'Identifier' || property.type !== 'Identifier') return undefined;
  if (scope.locals.has(object.name)) return undefined;
  const store = cx.declarations.stores.get(object.name);
  const derived = store?.derived.get(property.name);
  if (store === undefined || store === scope.store || derived === undefined) return undefined;
  return derived.params.length > 0 ? { store: store.name, derived } : undefined;
}

export function inferAsked(
  cx: Inference,
  node: CallExpression,
  { store, derived }: AskedDerived,
  scope: Scope,
): Expr {
  const span = cx.spanOf(node);
  const { name, params } = derived;
  const type = cx.results.derivedType(store, name, span);
  const args = inferArguments(cx, node, name, params, scope);
  const optional = isLazy(cx, store, scope) && { optional: true };
  if (optional !== false && !(node.callee as MemberExpression).optional)
    cx.problems.add('not-attached', span, { store, name });
  return args === undefined
    ? { kind: 'undefined', span, type: unknown }
    : { kind: 'ask', store, name, args, span, type, ...optional };
}

/** The arguments that parameters of the schema are given; `undefined`, with a problem, if they are not as many. */
function inferArguments(
  cx: Inference,
  node: CallExpression,
  name: string,
  params: readonly Parameter[],
  scope: Scope,
): Expr[] | undefined {
  const args = node.arguments.map((argument) => cx.infer(argument, scope));
  if (args.length !== params.length) {
    const wanted = params.length === 0 ? 'nothing' : params.map((param) => param.name).join(', ');
    cx.problems.add('wrong-arguments', cx.spanOf(node), { name, wanted });
    return undefined;
  }
  args.forEach((argument, i) => requireFit(cx, argument, params[i]?.type ?? unknown, `'${name}'`));
  return args;
}

/** A call of a function of the schema. */
export function inferApplied(
  cx: Inference,
  node: CallExpression,
  { name, params }: FunctionDeclaration,
  scope: Scope,
): Expr {
  const span = cx.spanOf(node);
  const type = cx.results.functionType(name, span);
  const args = inferArguments(cx, node, name, params, scope);
  if (args === undefined) return { kind: 'undefined', span, type: unknown };
  return { kind: 'apply', name, args, span, type };
}

/** `fits(value, 'Type')`: the type is named by a text that is written as such. */
export function inferFits(cx: Inference, node: CallExpression, scope: Scope): Expr {
  const span = cx.spanOf(node);
  const [value, named] = node.arguments as readonly (AnyNode | undefined)[];
  if (value === undefined || named === undefined || node.arguments.length > 2) {
    cx.problems.add('wrong-arguments', span, { name: 'fits', wanted: "a value and a type's name" });
    return { kind: 'undefined', span, type: unknown };
  }
  const given = cx.infer(value, scope);
  const name = named.type === 'Literal' ? String(named.value) : '';
  if (cx.types.has(name))
    return { kind: 'fits', value: given, wanted: { kind: 'named', name }, span, type: boolean };
  const near = nearest(name, cx.types.keys());
  cx.problems.add('unknown-type', cx.spanOf(named), { name, near });
  return { kind: 'undefined', span, type: unknown };
}
