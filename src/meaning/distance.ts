import type { BinaryOperator, Expr } from '../model/expressions.js';
import { named, storeNamed, type Application } from '../model/application.js';
import { evaluate, type Frame } from './compile-expression.js';

/**
 * How far a condition is from being as it is wanted, true or false, in a frame: 0 if it is, and less than 1 more for each part that is
 * not. Numbers that are compared are the nearer, the less lies between them. It changes nothing, and asks nothing of the environment.
 */
export function distance(
  expr: Expr,
  { world, locals }: Frame,
  application: Application,
  wanted = true,
): number {
  const quiet = { ...world, newId: onlyOnce, now: onlyOnce, random: onlyOnce };
  return new Distance(application).of(expr, { world: quiet, locals }, wanted);
}

/** What must be asked for once, when it is meant. */
function onlyOnce(): never {
  throw new Error('a distance asks nothing of the environment');
}

/** How far something is that cannot be computed, or is one of two. */
const far = 1;

class Distance {
  constructor(readonly application: Application) {}

  of(expr: Expr, frame: Frame, wanted: boolean): number {
    try {
      return this.#of(expr, frame, wanted);
    } catch {
      return far;
    }
  }

  #of(expr: Expr, frame: Frame, wanted: boolean): number {
    if (expr.kind === 'unary' && expr.operator === '!')
      return this.#of(expr.operand, frame, !wanted);
    if (expr.kind === 'logical' && expr.operator !== '??')
      return (expr.operator === '&&') === wanted
        ? this.#all(expr.left, expr.right, frame, wanted)
        : Math.min(this.of(expr.left, frame, wanted), this.of(expr.right, frame, wanted));
    if (expr.kind === 'binary') {
      const [left, right] = [evaluate(expr.left, frame), evaluate(expr.right, frame)];
      return ofComparison(expr.operator, left, right, wanted);
    }
    if (expr.kind === 'derived') {
      const { value } = named(storeNamed(this.application, expr.store).derived, expr.name);
      return this.#of(value, { world: frame.world, locals: undefined }, wanted);
    }
    return Boolean(evaluate(expr, frame)) === wanted ? 0 : far;
  }

  /** Of two that are both wanted: the second is looked at once the first is so, since it may build on that. */
  #all(left: Expr, right: Expr, frame: Frame, wanted: boolean): number {
    const first = this.#of(left, frame, wanted);
    return first > 0 ? first + far : this.of(right, frame, wanted);
  }
}

/** The operators that are true where others are false. */
const opposite: Partial<Record<BinaryOperator, BinaryOperator>> = {
  '<': '>=',
  '<=': '>',
  '>': '<=',
  '>=': '<',
  '===': '!==',
  '!==': '===',
};

function ofComparison(
  operator: BinaryOperator,
  left: unknown,
  right: unknown,
  wanted: boolean,
): number {
  const meant = wanted ? operator : (opposite[operator] ?? operator);
  if (meant === '===' && left === right) return 0;
  if (meant === '!==') return left === right ? far : 0;
  if (typeof left !== 'number' || typeof right !== 'number') return far;
  switch (meant) {
    case '===':
      return part(Math.abs(left - right));
    case '<':
      return left < right ? 0 : part(left - right + 1);
    case '<=':
      return left <= right ? 0 : part(left - right);
    case '>':
      return left > right ? 0 : part(right - left + 1);
    case '>=':
      return left >= right ? 0 : part(right - left);
    case '+':
    case '-':
    case '*':
    case '/':
    case '%':
    case '**':
      return far;
  }
}

/** A difference as a part of 1; of what is no number, all of it. */
const part = (difference: number): number =>
  Number.isNaN(difference) ? far : difference / (difference + 1);
