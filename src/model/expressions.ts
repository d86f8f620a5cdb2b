import type { CalledFunction } from './functions.js';
import type { Span } from '../base/source.js';
import type { Json } from '../base/json.js';
import type { HistoryReading } from './history.js';
import type { TaskReading } from './task-readings.js';
import type { Type } from './types.js';

interface Node {
  readonly span: Span;
  /** The type that is inferred for its value, narrowed by the conditions around it. */
  readonly type: Type;
}

export type BinaryOperator =
  '+' | '-' | '*' | '/' | '%' | '**' | '<' | '<=' | '>' | '>=' | '===' | '!==';
export type LogicalOperator = '&&' | '||' | '??';
export type UnaryOperator = '!' | '-' | '+';

/** A checked expression: every name is resolved, every node typed. What is read of a lazy store from outside is `optional`. */
export type Expr =
  | (Node & { readonly kind: 'literal'; readonly value: string | number | boolean | null })
  | (Node & { readonly kind: 'undefined' })
  | (Node & {
      readonly kind: 'template';
      readonly texts: readonly string[];
      readonly values: readonly Expr[];
    })
  | (Node & { readonly kind: 'list'; readonly items: readonly ListPart[] })
  | (Node & { readonly kind: 'object'; readonly parts: readonly ObjectPart[] })
  /** A payload, or a name bound by `let`, `each` or an arrow. */
  | (Node & { readonly kind: 'local'; readonly name: string })
  | (Node & {
      readonly kind: 'field';
      readonly store: string;
      readonly name: string;
      readonly narrowed: boolean;
      readonly optional?: boolean;
    })
  | (Node & {
      readonly kind: 'derived';
      readonly store: string;
      readonly name: string;
      readonly narrowed: boolean;
      readonly optional?: boolean;
    })
  /** A derived value with parameters. */
  | (Node & {
      readonly kind: 'ask';
      readonly store: string;
      readonly name: string;
      readonly args: readonly Expr[];
      readonly optional?: boolean;
    })
  /** A reading of a task. */
  | (Node & {
      readonly kind: 'task';
      readonly store: string;
      readonly name: string;
      readonly reading: TaskReading;
      readonly optional?: boolean;
    })
  /** True if something can be undone or redone in a store. */
  | (Node & {
      readonly kind: 'history';
      readonly store: string;
      readonly reading: HistoryReading;
    })
  | (Node & {
      readonly kind: 'constant';
      readonly store: string;
      readonly name: string;
      readonly value: Json;
    })
  | (Node & {
      readonly kind: 'member';
      readonly object: Expr;
      readonly name: string;
      readonly optional: boolean;
      readonly narrowed: boolean;
    })
  /** An item of a list by its position, a character of a text, or an own entry of a dictionary. */
  | (Node & {
      readonly kind: 'index';
      readonly object: Expr;
      readonly index: Expr;
      readonly optional: boolean;
      readonly of: 'list' | 'map' | 'text';
    })
  | (Node & {
      readonly kind: 'method';
      readonly object: Expr;
      readonly name: string;
      readonly args: readonly Argument[];
      readonly optional: boolean;
    })
  | (Node & {
      readonly kind: 'call';
      readonly name: CalledFunction;
      readonly args: readonly Argument[];
    })
  /** True if a value fits a named type. */
  | (Node & { readonly kind: 'fits'; readonly value: Expr; readonly wanted: NamedReference })
  /** A function of the schema. */
  | (Node & { readonly kind: 'apply'; readonly name: string; readonly args: readonly Expr[] })
  | (Node & { readonly kind: 'unary'; readonly operator: UnaryOperator; readonly operand: Expr })
  | (Node & {
      readonly kind: 'binary';
      readonly operator: BinaryOperator;
      readonly left: Expr;
      readonly right: Expr;
    })
  | (Node & {
      readonly kind: 'logical';
      readonly operator: LogicalOperator;
      readonly left: Expr;
      readonly right: Expr;
    })
  | (Node & {
      readonly kind: 'conditional';
      readonly test: Expr;
      readonly then: Expr;
      readonly else: Expr;
    });

export type ListPart = { readonly spread: boolean; readonly value: Expr };

export type ObjectPart =
  | { readonly kind: 'property'; readonly name: string; readonly value: Expr }
  | { readonly kind: 'spread'; readonly value: Expr };

export type NamedReference = Type & { readonly kind: 'named' };

/** An argument of a method or function of the language; a list may be spread into several. */
export type Argument = Expr | Arrow | { readonly kind: 'spread'; readonly value: Expr };

/** A function given to a list method or to one of our own functions. */
export interface Arrow {
  readonly kind: 'arrow';
  readonly params: readonly string[];
  readonly body: Expr;
  readonly span: Span;
}

/** The expressions directly within one, in the order of evaluation. */
export function childrenOf(expr: Expr): readonly Expr[] {
  switch (expr.kind) {
    case 'literal':
    case 'undefined':
    case 'local':
    case 'field':
    case 'derived':
    case 'task':
    case 'history':
    case 'constant':
      return [];
    case 'template':
      return expr.values;
    case 'list':
      return expr.items.map(({ value }) => value);
    case 'object':
      return expr.parts.map(({ value }) => value);
    case 'member':
      return [expr.object];
    case 'index':
      return [expr.object, expr.index];
    case 'method':
      return [expr.object, ...expr.args.map(bodyOf)];
    case 'call':
      return expr.args.map(bodyOf);
    case 'apply':
    case 'ask':
      return expr.args;
    case 'fits':
      return [expr.value];
    case 'unary':
      return [expr.operand];
    case 'binary':
    case 'logical':
      return [expr.left, expr.right];
    case 'conditional':
      return [expr.test, expr.then, expr.else];
  }
}

function bodyOf(argument: Argument): Expr {
  if (argument.kind === 'spread') return argument.value;
  return argument.kind === 'arrow' ? argument.body : argument;
}

/** Calls `visit` with the expression and everything within it, outermost first. */
export function walkExpr(expr: Expr, visit: (node: Expr) => void): void {
  visit(expr);
  for (const child of childrenOf(expr)) walkExpr(child, visit);
}
