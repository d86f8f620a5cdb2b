import type { AnyNode, Identifier, MemberExpression } from 'acorn';
import { nearest } from '../../../base/suggest.js';
import type { Span } from '../../../base/source.js';
import type { Expr } from '../../../model/expressions.js';
import { readings } from '../../../model/task-readings.js';
import { runsType } from '../../../model/tasks.js';
import { absent, unknown, type Type } from '../../../model/types.js';
import type { StoreDeclaration } from '../declarations.js';
import { functions } from './functions.js';
import type { Inference } from './inference.js';
import { referenceOf, type Scope } from './scope.js';

/** A bare name: a local, or a field, derived value or constant of the same store. */
export function inferName(cx: Inference, node: Identifier, scope: Scope): Expr {
  const span = cx.spanOf(node);
  if (node.name === 'undefined') return { kind: 'undefined', span, type: absent };
  const part = scope.parts.get(node.name);
  if (part !== undefined) return narrowed({ ...part, span }, scope);
  const type = scope.locals.get(node.name);
  if (type !== undefined) return narrowed({ kind: 'local', name: node.name, span, type }, scope);
  const own = memberOfStore(cx, scope.store, node.name, span, scope);
  if (own !== undefined) return own;
  const known = [
    ...scope.locals.keys(),
    ...scope.parts.keys(),
    ...storeNames(scope.store),
    ...cx.declarations.stores.keys(),
    ...globalNames,
  ];
  if (cx.declarations.stores.has(node.name)) {
    const hint = `a store; name what you want of it: ${node.name}.${[...storeNames(cx.declarations.stores.get(node.name) as StoreDeclaration)][0] ?? '...'}`;
    cx.problems.add('type-mismatch', span, {
      wanted: 'a value',
      got: hint,
      where: 'An expression',
    });
    return { kind: 'undefined', span, type: unknown };
  }
  const near = nearest(node.name, known);
  cx.problems.add('unknown-name', span, { name: node.name, near, textFits: cx.textFits });
  return { kind: 'undefined', span, type: unknown };
}

const globalNames = [
  ...new Set(Object.keys(functions).map((name) => name.split('.')[0] as string)),
];

function storeNames(store: StoreDeclaration): string[] {
  return [...store.fields.keys(), ...store.derived.keys(), ...store.constants.keys()];
}

/** `loadSailings.running`, `timetable.loadSailings.runs`: what is known of the runs of a task. */
export function inferTaskReading(
  cx: Inference,
  node: MemberExpression,
  scope: Scope,
): Expr | undefined {
  const { object, property } = node as { object: AnyNode; property: AnyNode };
  if (node.computed || property.type !== 'Identifier') return undefined;
  const found = taskNamed(cx, object, scope);
  if (found === undefined) return undefined;
  const { store, name, payload } = found;
  const span = cx.spanOf(node);
  const reading = readings.find((one) => one === property.name);
  if (reading === undefined) {
    const near = nearest(property.name, readings);
    const of = `The task '${name}'`;
    cx.problems.add('no-such-property', cx.spanOf(property), { name: property.name, of, near });
    return { kind: 'undefined', span, type: unknown };
  }
  const type: Type = reading === 'running' ? { kind: 'boolean' } : runsType({ payload });
  const optional = isLazy(cx, store, scope) && { optional: true };
  if (optional !== false && !(object as MemberExpression).optional)
    cx.problems.add('not-attached', span, { store, name: `${name}.${reading}` });
  return { kind: 'task', store, name, reading, span, type, ...optional };
}

function taskNamed(cx: Inference, node: AnyNode, scope: Scope) {
  if (node.type === 'Identifier') {
    const task = scope.locals.has(node.name) ? undefined : scope.store.tasks.get(node.name);
    return task && { store: scope.store.name, name: node.name, payload: task.payload };
  }
  if (node.type !== 'MemberExpression' || node.computed) return undefined;
  const { object, property } = node as { object: AnyNode; property: AnyNode };
  if (object.type !== 'Identifier' || property.type !== 'Identifier') return undefined;
  if (scope.locals.has(object.name) || storeNames(scope.store).includes(object.name))
    return undefined;
  const task = cx.declarations.stores.get(object.name)?.tasks.get(property.name);
  return task && { store: object.name, name: property.name, payload: task.payload };
}

/** `wind.speed`: a name of another store, if that is what a member expression says. */
export function inferStoreMember(
  cx: Inference,
  node: MemberExpression,
  scope: Scope,
): Expr | undefined {
  const { object, property } = node as { object: AnyNode; property: AnyNode };
  if (object.type !== 'Identifier' || node.computed || property.type !== 'Identifier')
    return undefined;
  if (scope.locals.has(object.name) || storeNames(scope.store).includes(object.name))
    return undefined;
  const store = cx.declarations.stores.get(object.name);
  if (store === undefined || store === scope.store) return undefined;
  const found = memberOfStore(cx, store, property.name, cx.spanOf(node), scope);
  if (found !== undefined) return ofLazy(cx, found, node, scope);
  const near = nearest(property.name, storeNames(store));
  cx.problems.add('no-such-property', cx.spanOf(property), {
    name: property.name,
    of: `The store '${store.name}'`,
    near,
  });
  return { kind: 'undefined', span: cx.spanOf(node), type: unknown };
}

/** True if a store may not be there when it is read from here. */
export function isLazy(cx: Inference, store: string, scope: Scope): boolean {
  return store !== scope.store.name && cx.declarations.stores.get(store)?.lazy === true;
}

/** What is read of a store, which may not be attached yet: constants are always there. */
function ofLazy(cx: Inference, expr: Expr, node: MemberExpression, scope: Scope): Expr {
  if (expr.kind !== 'field' && expr.kind !== 'derived') return expr;
  if (!isLazy(cx, expr.store, scope)) return expr;
  if (!node.optional) cx.problems.add('not-attached', expr.span, expr);
  return { ...expr, optional: true };
}

function memberOfStore(
  cx: Inference,
  store: StoreDeclaration,
  name: string,
  span: Span,
  scope: Scope,
): Expr | undefined {
  const field = store.fields.get(name);
  if (field !== undefined) {
    return narrowed(
      { kind: 'field', store: store.name, name, narrowed: false, span, type: field.type },
      scope,
    );
  }
  const constant = store.constants.get(name);
  if (constant !== undefined) {
    return {
      kind: 'constant',
      store: store.name,
      name,
      value: constant.value,
      span,
      type: constant.type,
    };
  }
  const derived = store.derived.get(name);
  if (derived === undefined) return undefined;
  if (derived.params.length > 0) {
    const wanted = derived.params.map((param) => param.name).join(', ');
    cx.problems.add('wrong-arguments', span, { name, wanted });
    return { kind: 'undefined', span, type: unknown };
  }
  const type = cx.results.derivedType(store.name, name, span);
  return narrowed({ kind: 'derived', store: store.name, name, narrowed: false, span, type }, scope);
}

/** The reference with the type that the conditions around it have narrowed. */
export function narrowed(expr: Expr, scope: Scope): Expr {
  const key = referenceOf(expr);
  const type: Type | undefined = key === undefined ? undefined : scope.narrowed.get(key);
  if (type === undefined) return expr;
  return { ...markNarrowed(expr), type };
}

function markNarrowed(expr: Expr): Expr {
  if (expr.kind === 'field' || expr.kind === 'derived') return { ...expr, narrowed: true };
  return expr.kind === 'member'
    ? { ...expr, object: markNarrowed(expr.object), narrowed: true }
    : expr;
}
