import type { Problems } from '../problems/problem.js';
import type { Span } from '../../base/source.js';
import { deedsOf, exprOf, type Application, type Store } from '../../model/application.js';
import { childrenOf, walkExpr, type Expr } from '../../model/expressions.js';
import { allSteps, exprsOf, writtenFields } from '../../model/step-kinds.js';
import type { Step } from '../../model/steps.js';
import { membersOf, namesIn, type Type, type TypeTable } from '../../model/types.js';
import { warnOfReactionOrder } from './reaction-order.js';
import { warnOfTasks } from './task-warnings.js';
import type { Usage } from './usage.js';

/** Reports what is no error and hardly meant: what nothing uses, fields that never change, division by what may be zero. */
export function warn(application: Application, usage: Usage, problems: Problems): void {
  warnOfUnusedTypes(application, usage, problems);
  warnOfReactionOrder(application, problems);
  warnOfTasks(application, problems);
  warnOfUnusedFunctions(application, usage, problems);
  for (const store of application.stores) {
    warnOfUnusedConstants(store, usage, problems);
    warnOfFixedFields(store, problems);
    for (const { requires, let: bindings, steps } of deedsOf(store)) {
      const tested = requires.map(exprOf);
      warnOfDivisions([...bindings.map(({ value }) => value)], tested, application.types, problems);
      warnOfDivisionsInSteps(steps, tested, application.types, problems);
    }
  }
}

function warnOfUnusedTypes(application: Application, usage: Usage, problems: Problems): void {
  const used = new Set<string>();
  const note = (type: Type): void => {
    for (const name of namesIn(type)) used.add(name);
  };
  for (const { fields, derived, actions, tasks } of application.stores) {
    for (const { type } of fields) note(type);
    for (const { params } of derived) params.forEach(({ type }) => note(type));
    for (const { payload } of [...actions, ...tasks]) if (payload !== undefined) note(payload);
  }
  for (const { payload, result, results, error } of application.services.flatMap(
    ({ operations }) => operations,
  ))
    for (const type of [payload, result, results, error]) if (type !== undefined) note(type);
  for (const { params } of application.functions) params.forEach(({ type }) => note(type));
  usage.types.forEach(note);
  const reached = new Set<string>();
  const reach = (name: string): void => {
    if (reached.has(name)) return;
    reached.add(name);
    const type = application.types.get(name)?.type;
    if (type !== undefined) namesIn(type).forEach(reach);
  };
  used.forEach(reach);
  for (const { name, span } of application.types.values())
    if (!reached.has(name)) problems.add('unused', span, { what: 'the type', name });
}

function warnOfUnusedFunctions(application: Application, usage: Usage, problems: Problems): void {
  for (const { name, span } of application.functions)
    if (!usage.functions.has(name)) problems.add('unused', span, { what: 'the function', name });
}

function warnOfUnusedConstants(store: Store, usage: Usage, problems: Problems): void {
  for (const { name, span } of store.constants)
    if (!usage.constants.has(`${store.name}.${name}`))
      problems.add('unused', span, { what: 'the constant', name });
}

/** Fields that no step stores to; a store without any action may be the shape of one to come. */
function warnOfFixedFields(store: Store, problems: Problems): void {
  const steps = deedsOf(store).flatMap((deed) => allSteps(deed.steps));
  if (steps.length === 0) return;
  const stored = new Set(steps.filter(({ kind }) => kind !== 'reset').flatMap(writtenFields));
  for (const { name, span } of store.fields)
    if (!stored.has(name)) problems.add('never-stored', span, { name, store: store.name });
}

function warnOfDivisionsInSteps(
  steps: readonly Step[],
  tested: readonly Expr[],
  types: TypeTable,
  problems: Problems,
): void {
  for (const step of steps) {
    warnOfDivisions(exprsOf(step), tested, types, problems);
    if (step.kind !== 'when') continue;
    const inner = [...tested, step.test];
    warnOfDivisionsInSteps(step.then, inner, types, problems);
    warnOfDivisionsInSteps(step.else, inner, types, problems);
  }
}

/** Divisions by what may be zero, unless a condition around them asks about it. */
function warnOfDivisions(
  exprs: readonly Expr[],
  tested: readonly Expr[],
  types: TypeTable,
  problems: Problems,
): void {
  const visit = (expr: Expr, around: readonly Expr[]): void => {
    const divides = expr.kind === 'binary' && (expr.operator === '/' || expr.operator === '%');
    if (divides && mayBeZero(expr.right, types) && !around.some((test) => asks(test, expr.right)))
      problems.add('may-divide-by-zero', expr.right.span, { what: textOf(expr.right.span) });
    const tests =
      expr.kind === 'conditional'
        ? [...around, expr.test]
        : expr.kind === 'logical'
          ? [...around, expr.left]
          : around;
    for (const child of childrenOf(expr)) visit(child, tests);
  };
  for (const expr of exprs) visit(expr, tested);
}

function mayBeZero({ type }: Expr, types: TypeTable): boolean {
  return membersOf(type, types).some((member) => {
    if (member.kind === 'literal') return member.value === 0;
    if (member.kind !== 'number') return false;
    const { minimum, maximum, exclusiveMinimum, exclusiveMaximum } = member.bounds;
    return !(
      (minimum ?? -1) > 0 ||
      (exclusiveMinimum ?? -1) >= 0 ||
      (maximum ?? 1) < 0 ||
      (exclusiveMaximum ?? 1) <= 0
    );
  });
}

function asks(test: Expr, about: Expr): boolean {
  const wanted = textOf(about.span);
  let found = false;
  walkExpr(test, (node) => {
    if (textOf(node.span) === wanted) found = true;
  });
  return found;
}

function textOf({ source, start, end }: Span): string {
  return source.text.slice(start, end);
}
