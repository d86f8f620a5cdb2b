import { without, type Type, type TypeTable } from '../../../model/types.js';
import type { Expr } from '../../../model/expressions.js';
import type { StoreDeclaration } from '../declarations.js';

/** What an expression can see. Scopes are never changed: binding or narrowing gives a new one. */
export interface Scope {
  readonly store: StoreDeclaration;
  readonly locals: ReadonlyMap<string, Type>;
  /** Names bound by a pattern: the part of a parameter that each stands for. */
  readonly parts: ReadonlyMap<string, Expr>;
  /** Types that the conditions around have narrowed, by {@link referenceOf}. */
  readonly narrowed: ReadonlyMap<string, Type>;
  /** True if `newId()` and `now()` may be asked here. */
  readonly draws: boolean;
  /** True if values of which nothing is known are meant, not the consequence of a problem; false if not given. */
  readonly isOpen?: boolean;
}

export function emptyScope(store: StoreDeclaration, draws: boolean): Scope {
  return { store, locals: new Map(), parts: new Map(), narrowed: new Map(), draws };
}

export function withLocals(scope: Scope, locals: Iterable<readonly [string, Type]>): Scope {
  return { ...scope, locals: new Map([...scope.locals, ...locals]) };
}

/** The scope within an arrow: what was narrowed on a way through properties does not hold there. */
export function insideArrow(scope: Scope): Scope {
  return { ...scope, narrowed: new Map([...scope.narrowed].filter(([key]) => !key.includes('.'))) };
}

/** The scope after the fields of a store were written: what was narrowed about them and about derived values is gone. */
export function afterWriting(scope: Scope, fields: readonly string[]): Scope {
  if (fields.length === 0) return scope;
  const written = fields.map((field) => `${scope.store.name}#${field}`);
  const stale = (key: string) =>
    key.includes('~') || written.some((field) => key === field || key.startsWith(`${field}.`));
  return { ...scope, narrowed: new Map([...scope.narrowed].filter(([key]) => !stale(key))) };
}

/** The scope after something that may have stored anywhere: what was narrowed about stores is gone. */
export function afterAnything(scope: Scope): Scope {
  const kept = [...scope.narrowed].filter(([key]) => !key.includes('#') && !key.includes('~'));
  return { ...scope, narrowed: new Map(kept) };
}

/** A text that names the same reference wherever it stands: `deck#hold`, `payload.note`; else `undefined`. */
export function referenceOf(expr: Expr): string | undefined {
  switch (expr.kind) {
    case 'local':
      return expr.name;
    case 'field':
      return `${expr.store}#${expr.name}`;
    case 'derived':
      return `${expr.store}~${expr.name}`;
    case 'member': {
      const object = referenceOf(expr.object);
      return object === undefined ? undefined : `${object}.${expr.name}`;
    }
    case 'undefined':
    case 'object':
    case 'list':
    case 'literal':
    case 'template':
    case 'ask':
    case 'task':
    case 'history':
    case 'constant':
    case 'index':
    case 'method':
    case 'call':
    case 'fits':
    case 'apply':
    case 'unary':
    case 'binary':
    case 'logical':
    case 'conditional':
      return undefined;
  }
}

/** The scope in which a condition has turned out true or false. */
export function assume(scope: Scope, test: Expr, truth: boolean, types: TypeTable): Scope {
  switch (test.kind) {
    case 'unary':
      return test.operator === '!' ? assume(scope, test.operand, !truth, types) : scope;
    case 'logical':
      if (test.operator === (truth ? '&&' : '||')) {
        return assume(assume(scope, test.left, truth, types), test.right, truth, types);
      }
      return scope;
    case 'binary':
      return assumeEqual(scope, test, truth, types);
    case 'undefined':
    case 'object':
    case 'list':
    case 'literal':
    case 'template':
    case 'local':
    case 'field':
    case 'derived':
    case 'ask':
    case 'task':
    case 'history':
    case 'constant':
    case 'member':
    case 'index':
    case 'method':
    case 'call':
    case 'fits':
    case 'apply':
    case 'conditional':
      return narrow(
        scope,
        test,
        types,
        (member) => isFalsy(member) === truth && decides(member, truth),
      );
  }
}

/** True if a member of a type is always falsy. */
function isFalsy(member: Type): boolean {
  return (
    member.kind === 'null' ||
    member.kind === 'absent' ||
    (member.kind === 'literal' && !member.value)
  );
}

/** Text, numbers and booleans may be falsy or not: they never go; objects and lists go where falsy is known. */
function decides(member: Type, truth: boolean): boolean {
  if (truth) return true;
  return (
    member.kind === 'record' ||
    member.kind === 'list' ||
    member.kind === 'tuple' ||
    member.kind === 'map' ||
    member.kind === 'literal'
  );
}

function assumeEqual(
  scope: Scope,
  test: Expr & { kind: 'binary' },
  truth: boolean,
  types: TypeTable,
): Scope {
  if (test.operator !== '===' && test.operator !== '!==') return scope;
  const equal = (test.operator === '===') === truth;
  for (const [one, other] of [
    [test.left, test.right],
    [test.right, test.left],
  ] as const) {
    const is = constantTest(other);
    if (is === undefined) continue;
    const known = narrow(scope, one, types, (member) =>
      equal ? !is.may(member) : is.must(member),
    );
    if (one.kind !== 'member') return known;
    return narrow(known, one.object, types, (member) => !hasSuch(member, one.name, is, equal));
  }
  return scope;
}

/** Whether an object may be one whose property equals a constant, or does not: told by a property that is always the same. */
function hasSuch(object: Type, name: string, is: ConstantTest, equal: boolean): boolean {
  const field =
    object.kind === 'record' ? object.fields.find((one) => one.name === name) : undefined;
  if (field === undefined || field.optional || field.type.kind !== 'literal') return true;
  return equal ? is.may(field.type) : !is.must(field.type);
}

interface ConstantTest {
  readonly may: (member: Type) => boolean;
  readonly must: (member: Type) => boolean;
}

/** Which members of a type may, and which must, equal a constant. */
function constantTest(expr: Expr): ConstantTest | undefined {
  if (expr.kind === 'undefined') {
    const isAbsent = (member: Type) => member.kind === 'absent';
    return { may: isAbsent, must: isAbsent };
  }
  if (expr.kind !== 'literal') return undefined;
  const { value } = expr;
  if (value === null) {
    const isNull = (member: Type) => member.kind === 'null';
    return { may: isNull, must: isNull };
  }
  const must = (member: Type) => member.kind === 'literal' && member.value === value;
  return { must, may: (member) => must(member) || member.kind === typeof value };
}

/** Drops members from the type of a reference, and missing values from the objects on the way through `?.`. */
function narrow(
  scope: Scope,
  expr: Expr,
  types: TypeTable,
  drop: (member: Type) => boolean,
): Scope {
  const key = referenceOf(expr);
  if (key === undefined) return scope;
  const type = without(expr.type, types, drop);
  let narrowed = new Map([...scope.narrowed, [key, type]]);
  const left = without(type, types, ({ kind }) => kind !== 'absent');
  if (expr.kind === 'member' && expr.optional && left.kind === 'never') {
    const object = narrow(
      { ...scope, narrowed },
      expr.object,
      types,
      ({ kind }) => kind === 'absent' || kind === 'null',
    );
    narrowed = new Map(object.narrowed);
  }
  return { ...scope, narrowed };
}
