import type { Span } from '../diagnostics/source.js';
import type { Expr } from './expressions.js';
import type { Type } from './types.js';

/** A place in the state of the step's own store. */
export interface Path {
  readonly field: string;
  readonly segments: readonly Segment[];
  /** What stands there. */
  readonly type: Type;
  readonly span: Span;
  /** As written. */
  readonly text: string;
}

/** A part of a path: a property, or an item found by key, entry or position. */
export type Segment =
  | { readonly kind: 'property'; readonly name: string; readonly optional: boolean }
  | { readonly kind: 'item'; readonly key: string; readonly value: Expr }
  | { readonly kind: 'entry'; readonly value: Expr }
  | { readonly kind: 'position'; readonly value: Expr };

/** What picks items of a list: the one with a key, or all that match. */
export type Choice =
  | { readonly kind: 'key'; readonly key: string; readonly value: Expr }
  | { readonly kind: 'where'; readonly test: Expr };

/** One property that an `update` stores, or an object whose properties it stores. */
export type Change =
  | { readonly kind: 'property'; readonly name: string; readonly type: Type; readonly value: Expr }
  | { readonly kind: 'spread'; readonly value: Expr };

interface Node {
  /** Where it stands in the schema: `deck.admit.steps[1]`. */
  readonly at: string;
  readonly span: Span;
}

/** A checked step of an action. */
export type Step =
  | (Node & {
      readonly kind: 'set';
      readonly entries: readonly { readonly path: Path; readonly value: Expr }[];
      readonly none: string | undefined;
    })
  | (Node & {
      readonly kind: 'append';
      readonly to: Path;
      readonly value: Expr;
      readonly many: boolean;
    })
  | (Node & {
      readonly kind: 'put';
      readonly in: Path;
      /** The key of a dictionary's entry; a keyed list takes the item's own. */
      readonly key: Expr | undefined;
      readonly value: Expr;
    })
  | (Node & {
      readonly kind: 'update';
      readonly in: Path;
      readonly each: string;
      readonly choice: Choice;
      readonly changes: readonly Change[];
      readonly none: string | undefined;
    })
  | (Node & {
      readonly kind: 'remove';
      readonly from: Path;
      readonly each: string;
      readonly choice: Choice;
      readonly none: string | undefined;
    })
  | (Node & {
      readonly kind: 'drop';
      readonly from: Path;
      /** The key of a dictionary's entry, or the name of an optional property. */
      readonly key: Expr | string;
      readonly none: string | undefined;
    })
  | (Node & {
      readonly kind: 'when';
      readonly test: Expr;
      readonly then: readonly Step[];
      readonly else: readonly Step[];
    })
  | (Node & { readonly kind: 'reset'; readonly fields: readonly string[] });

/** The steps and the steps within them, outermost first. */
export function allSteps(steps: readonly Step[]): readonly Step[] {
  return steps.flatMap((step) =>
    step.kind === 'when' ? [step, ...allSteps(step.then), ...allSteps(step.else)] : [step],
  );
}

function pathExprs(path: Path): Expr[] {
  return path.segments.flatMap((segment) => (segment.kind === 'property' ? [] : [segment.value]));
}

function choiceExpr(choice: Choice): Expr {
  return choice.kind === 'key' ? choice.value : choice.test;
}

/** The expressions of a step itself, not of the steps within it, in the order of evaluation. */
export function exprsOf(step: Step): readonly Expr[] {
  switch (step.kind) {
    case 'set':
      return step.entries.flatMap(({ path, value }) => [...pathExprs(path), value]);
    case 'append':
      return [...pathExprs(step.to), step.value];
    case 'put':
      return [...pathExprs(step.in), ...(step.key === undefined ? [] : [step.key]), step.value];
    case 'update':
      return [
        ...pathExprs(step.in),
        choiceExpr(step.choice),
        ...step.changes.map(({ value }) => value),
      ];
    case 'remove':
      return [...pathExprs(step.from), choiceExpr(step.choice)];
    case 'drop':
      return [...pathExprs(step.from), ...(typeof step.key === 'string' ? [] : [step.key])];
    case 'when':
      return [step.test];
    case 'reset':
      return [];
  }
}

/** The fields that a step itself stores to. */
export function writtenFields(step: Step): readonly string[] {
  switch (step.kind) {
    case 'set':
      return step.entries.map(({ path }) => path.field);
    case 'append':
      return [step.to.field];
    case 'put':
    case 'update':
      return [step.in.field];
    case 'remove':
    case 'drop':
      return [step.from.field];
    case 'when':
      return [];
    case 'reset':
      return step.fields;
  }
}
