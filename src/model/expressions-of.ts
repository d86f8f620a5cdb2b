import { exprOf, type Application } from './application.js';
import type { Expr } from './expressions.js';
import { madeOf } from './saved.js';
import { allSteps, exprsOf } from './step-kinds.js';
import type { Step } from './steps.js';
import { exprsOfTask, moments } from './tasks.js';

/** Expressions, with the place in the schema that they belong to, and the action if it is part of one. */
export interface OwnedExprs {
  /** `deck.admit.requires[0]`, `deck.full`. */
  readonly owner: string;
  readonly exprs: readonly Expr[];
  readonly action?: string | undefined;
}

/** All expressions of an application, in schema order. */
export function expressionsOf(application: Application): readonly OwnedExprs[] {
  const ofSteps = (steps: readonly Step[], action?: string): readonly OwnedExprs[] =>
    allSteps(steps).map((step) => ({ owner: step.at, exprs: exprsOf(step), action }));
  return [
    ...application.functions.map(({ name, value }) => ({ owner: name, exprs: [value] })),
    ...application.stores.flatMap((store) => [
      ...store.derived.map(({ name, value }) => ({
        owner: `${store.name}.${name}`,
        exprs: [value],
      })),
      ...store.actions.flatMap((action) => {
        const name = `${store.name}.${action.name}`;
        return [
          ...action.requires.map((needed) => ({
            owner: needed.at,
            exprs: [exprOf(needed)],
            action: name,
          })),
          { owner: name, exprs: action.let.map(({ value }) => value) },
          ...ofSteps(action.steps, name),
        ];
      }),
      ...store.tasks.flatMap((task) => {
        const name = `${store.name}.${task.name}`;
        return [
          ...task.requires.map((needed) => ({ owner: needed.at, exprs: [exprOf(needed)] })),
          { owner: name, exprs: [...task.let.map(({ value }) => value), ...exprsOfTask(task)] },
          ...moments.flatMap((moment) => ofSteps(task.steps[moment])),
        ];
      }),
      ...(store.saved === undefined
        ? []
        : [{ owner: `${store.name}.saved`, exprs: madeOf(store.saved) }]),
      ...store.reactions.flatMap(({ steps }) => ofSteps(steps)),
    ]),
  ];
}
