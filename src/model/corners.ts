import type { Span } from '../base/source.js';
import { deedsOf, type Application } from './application.js';
import { walkExpr, type Arrow, type BinaryOperator, type Expr } from './expressions.js';
import { expressionsOf } from './expressions-of.js';
import { allSteps } from './step-kinds.js';
import { membersOf, type TypeTable } from './types.js';
import type { Step } from './steps.js';

/** What tells a corner: a comparison of numbers, the right side of a condition, a test that picks items of a list, a value that is stored. */
export type CornerKind = keyof typeof sides;

/** The sides of each kind of corner, in order. */
const sides = {
  /** Met exactly, or missed by at most one. */
  comparison: ['equal', 'just-below', 'just-above'],
  /** No item matches; all of several do; the first and not the last; the last and not the first; two and not all. */
  pick: ['none', 'all', 'first', 'last', 'several'],
  /** Where the left side of `&&` or `||` does not decide: what the right one says. */
  right: ['right-true', 'right-false'],
  /** What is stored is another value than was there, or the same. */
  stored: ['another', 'the-same'],
} as const;

/** A place where code that is nearly right goes wrong: a search goes there, and its sides are counted apart from coverage. */
export interface Corner {
  readonly kind: CornerKind;
  /** What is told: the comparison, the condition, the test of an item, the value that is stored. */
  readonly expr: Expr;
  readonly points: readonly CornerPoint[];
}

/** One side of a corner. */
export interface CornerPoint {
  /** `deck.full: capacityM - usedM < carM equal`. */
  readonly id: string;
  readonly span: Span;
  readonly action?: string;
  /** True if nothing can be there: it is not gone to, and not counted. */
  readonly mayBeRuledOut?: boolean;
  readonly corner: CornerKind;
}

const comparing: ReadonlySet<BinaryOperator> = new Set(['<', '<=', '>', '>=', '===', '!==']);

/** The methods of lists that ask of each item whether it is meant. */
const picking: ReadonlySet<string> = new Set([
  'filter',
  'some',
  'every',
  'find',
  'findIndex',
  'findLast',
  'findLastIndex',
]);

/** The test of a method that picks items; `undefined` of any other expression. */
export function testOfPick(expr: Expr): Arrow | undefined {
  if (expr.kind !== 'method' || !picking.has(expr.name)) return undefined;
  const [test] = expr.args;
  return test?.kind === 'arrow' ? test : undefined;
}

/** All corners of an application, in schema order. */
export function cornersOf(application: Application): readonly Corner[] {
  const found: Corner[] = [];
  const add = (
    kind: CornerKind,
    owner: string,
    expr: Expr,
    action: string | undefined,
    isAnyKey = true,
  ) => {
    const points = sides[kind].map((side): CornerPoint => ({
      id: `${owner}: ${written(expr.span)} ${side}`,
      span: expr.span,
      ...(action !== undefined && { action }),
      ...((!isAnyKey && ofSeveral.has(side)) || (side === 'just-below' && isOfNone(expr))
        ? { mayBeRuledOut: true }
        : {}),
      corner: kind,
    }));
    found.push({ kind, expr, points });
  };
  for (const { owner, exprs, action } of expressionsOf(application))
    for (const expr of exprs)
      walkExpr(expr, (node) => {
        if (comparesNumbers(node, application.types)) add('comparison', owner, node, action);
        if (node.kind === 'logical' && node.operator !== '??') add('right', owner, node, action);
        const test = testOfPick(node);
        if (test !== undefined && !draws(test.body))
          add(
            'pick',
            owner,
            test.body,
            action,
            !asksForKey(test.body, test.params[0], keyOf(node)),
          );
      });
  for (const store of application.stores)
    for (const { at, steps } of deedsOf(store)) {
      const action = store.actions.some(({ name }) => `${store.name}.${name}` === at)
        ? at
        : undefined;
      for (const step of allSteps(steps)) {
        const test = testOf(step);
        if (test !== undefined && !draws(test))
          add(
            'pick',
            step.at,
            test,
            action,
            !asksForKey(test, 'each' in step ? step.each : undefined, keyOfItems(step)),
          );
        for (const value of storedIn(step)) add('stored', step.at, value, action);
      }
    }
  return found;
}

function comparesNumbers(expr: Expr, types: TypeTable): boolean {
  if (expr.kind !== 'binary' || !comparing.has(expr.operator)) return false;
  const isNumber = ({ type }: Expr) =>
    membersOf(type, types).some(
      (one) => one.kind === 'number' || (one.kind === 'literal' && typeof one.value === 'number'),
    );
  return isNumber(expr.left) && isNumber(expr.right);
}

/** The test of a step that works on the items that match. */
function testOf(step: Step): Expr | undefined {
  if (step.kind === 'updateEntries' || step.kind === 'removeEntries') return step.test;
  if (step.kind !== 'update' && step.kind !== 'remove') return undefined;
  return step.choice.kind === 'where' ? step.choice.test : undefined;
}

/** The values that a step stores in place of others. */
function storedIn(step: Step): readonly Expr[] {
  if (step.kind === 'set') return step.entries.map(({ value }) => value);
  if (step.kind !== 'update' && step.kind !== 'updateEntries') return [];
  return step.changes.flatMap((change) => (change.kind === 'property' ? [change.value] : []));
}

/** What no two items of a list can have that are told apart by what is asked for. */
const ofSeveral: ReadonlySet<string> = new Set(['all', 'several']);

/** What tells the items of the list apart that a method works on; `undefined` if nothing does. */
function keyOf(expr: Expr): string | undefined {
  if (expr.kind !== 'method') return undefined;
  const { type } = expr.object;
  return type.kind === 'list' ? type.key : undefined;
}

function keyOfItems(step: Step): string | undefined {
  if (step.kind !== 'update' && step.kind !== 'remove') return undefined;
  const { type } = step.kind === 'update' ? step.in : step.from;
  return type.kind === 'list' ? type.key : undefined;
}

/** True if a test asks an item for its key, so that one matches at most. */
function asksForKey(test: Expr, item: unknown, key: string | undefined): boolean {
  if (test.kind === 'logical' && test.operator === '&&')
    return asksForKey(test.left, item, key) || asksForKey(test.right, item, key);
  if (test.kind !== 'binary' || test.operator !== '===' || key === undefined) return false;
  const isKey = (side: Expr) =>
    side.kind === 'member' &&
    side.name === key &&
    side.object.kind === 'local' &&
    side.object.name === item;
  return isKey(test.left) !== isKey(test.right);
}

/** True if a length is compared with 0: nothing is shorter. */
function isOfNone(expr: Expr): boolean {
  if (expr.kind !== 'binary') return false;
  const { left, right } = expr;
  const isLength = left.kind === 'member' && left.name === 'length';
  return isLength && right.kind === 'literal' && right.value === 0;
}

/** True if an expression gives another value each time. */
function draws(expr: Expr): boolean {
  let isDrawing = false;
  walkExpr(expr, (node) => {
    isDrawing ||= node.kind === 'call' && ['newId', 'now', 'random'].includes(node.name);
  });
  return isDrawing;
}

/** The number of characters of an expression that a point shows. */
const longest = 48;

/** An expression as it stands in the schema, on one line. */
export function written({ source, start, end }: Span): string {
  const text = source.text.slice(start, end).replace(/\s+/g, ' ');
  return text.length > longest ? `${text.slice(0, longest - 1)}…` : text;
}
