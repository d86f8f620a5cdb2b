import { childrenOf, walkExpr, type Expr } from '../../model/expressions.js';
import { doneBy } from '../../model/functions.js';
import { fits } from '../../model/fit.js';
import { membersOf, partsOfType, union, type Type, type TypeTable } from '../../model/types.js';

type Reference = Expr & { readonly kind: 'field' | 'derived' };

/** The fields and derived values that expressions name. */
export function referencesIn(exprs: readonly Expr[]): readonly Reference[] {
  const found: Reference[] = [];
  for (const expr of exprs) {
    walkExpr(expr, (node) => {
      if (node.kind === 'field' || node.kind === 'derived') found.push(node);
    });
  }
  return found;
}

/** The references whose type a condition has narrowed, each once. */
export function narrowedIn(exprs: readonly Expr[]): readonly Reference[] {
  const narrowed = referencesIn(exprs).filter((node) => node.narrowed);
  return [...new Map(narrowed.map((node) => [`${node.store}.${node.name}`, node])).values()];
}

/** The parts of fields and locals whose type a condition has narrowed, but for those of `hidden` locals. */
export function narrowedParts(
  exprs: readonly Expr[],
  hidden: ReadonlySet<string>,
): readonly (Expr & { readonly kind: 'member' })[] {
  const found: (Expr & { readonly kind: 'member' })[] = [];
  const visit = (node: Expr): void => {
    const root = node.kind === 'member' && node.narrowed ? rootOf(node) : undefined;
    const isHidden = root?.kind === 'local' && hidden.has(root.name);
    if (node.kind === 'member' && root !== undefined && !isHidden) found.push(node);
    else childrenOf(node).forEach(visit);
  };
  exprs.forEach(visit);
  return found;
}

/** The names of the locals that an expression reads. */
export function localsRead(expr: Expr): readonly string[] {
  const names: string[] = [];
  walkExpr(expr, (node) => {
    if (node.kind === 'local') names.push(node.name);
  });
  return names;
}

/** What a chain of properties begins with. */
function rootOf(expr: Expr): Expr {
  return expr.kind === 'member' ? rootOf(expr.object) : expr;
}

/** A text that is the same for the same part of the same thing. */
export function partKey(expr: Expr): string {
  if (expr.kind === 'member') return `${partKey(expr.object)}.${expr.name}`;
  if (expr.kind === 'local') return expr.name;
  return expr.kind === 'field' || expr.kind === 'derived' ? `${expr.store}#${expr.name}` : '';
}

/** True if an expression asks the environment for something that is spent. */
export function draws(expr: Expr): boolean {
  let found = false;
  walkExpr(expr, (node) => {
    if (node.kind === 'call' && doneBy(node.name) === 'environment') found = true;
  });
  return found;
}

/** Whether an expression reads any of these fields of a store, or any derived value. */
export function readsFields(expr: Expr, store: string, fields: readonly string[]): boolean {
  let found = false;
  walkExpr(expr, (node) => {
    if (node.kind === 'derived' || node.kind === 'ask') found = true;
    if (node.kind === 'field' && node.store === store && fields.includes(node.name)) found = true;
  });
  return found;
}

/** True if the compiler would take a text or number within the value of an expression for any text or number. */
export function needsTypeAnnotation(expr: Expr): boolean {
  if (!hasLiterals(expr.type)) return false;
  let found = false;
  walkExpr(expr, (node) => {
    if (node.kind === 'object' || node.kind === 'list') found = true;
  });
  return found;
}

/**
 * True if a function that gives the value of an expression has to say its type: the compiler takes a single text or
 * number that is given back for any text or number.
 */
export function needsResultType(expr: Expr): boolean {
  return expr.type.kind === 'literal' || needsTypeAnnotation(expr);
}

function hasLiterals(type: Type): boolean {
  if (type.kind === 'literal') return typeof type.value !== 'boolean';
  return type.kind !== 'tuple' && partsOfType(type).some(hasLiterals);
}

/** True if writing an expression twice costs nothing and gives the same. */
export function isSimple(expr: Expr): boolean {
  if (expr.kind === 'member') return !expr.optional && isSimple(expr.object);
  return expr.kind === 'local' || expr.kind === 'literal' || expr.kind === 'constant';
}

/** The parameters of all arrows in an expression. */
export function localsIn(expr: Expr): readonly string[] {
  const names = new Set<string>();
  walkExpr(expr, (node) => {
    if (node.kind !== 'method' && node.kind !== 'call') return;
    for (const argument of node.args)
      if (argument.kind === 'arrow') argument.params.forEach((name) => names.add(name));
  });
  return [...names];
}

/** True if the compiler would find another type for the result of a `reduce`: that of an item, or of the start. */
export function needsCarriedType(expr: Expr & { kind: 'method' }, types: TypeTable): boolean {
  const [, start] = expr.args;
  if (expr.name !== 'reduce' || start === undefined || start.kind === 'arrow') return false;
  const from = start.kind === 'spread' ? start.value.type : start.type;
  const items = membersOf(expr.object.type, types).flatMap((member) =>
    member.kind === 'list' ? [member.item] : [],
  );
  const item = union(items);
  if (!fits(from, item, types, 'shape')) return hasTexts(expr.type, types);
  return !fits(item, expr.type, types, 'shape');
}

/** Whether a type is one of a few texts, or takes them: the compiler would find that it takes any, or only the first. */
function hasTexts(type: Type, types: TypeTable): boolean {
  return membersOf(type, types).some(
    (member) => member.kind === 'literal' && typeof member.value === 'string',
  );
}
