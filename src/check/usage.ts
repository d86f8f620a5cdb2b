import { deedsOf, exprsBesideSteps, type Application, type Store } from '../model/application.js';
import { walkExpr, type Expr } from '../model/expressions.js';
import { allSteps, exprsOf } from '../model/step-kinds.js';
import type { Type } from '../model/types.js';

/** What the expressions and steps of an application name, found in one walk. */
export interface Usage {
  /** Fields and derived values: `deck.usedM`. */
  readonly read: ReadonlySet<string>;
  /** Constants: `deck.carM`. */
  readonly constants: ReadonlySet<string>;
  readonly functions: ReadonlySet<string>;
  /** Types that expressions ask about. */
  readonly types: readonly Type[];
  /** Actions that others run: `deck.admit`. */
  readonly run: ReadonlySet<string>;
}

export function usageOf(application: Application): Usage {
  const [read, constants] = [new Set<string>(), new Set<string>()];
  const [functions, run] = [new Set<string>(), new Set<string>()];
  const types: Type[] = [];
  const visit = (node: Expr): void => {
    if (node.kind === 'field' || node.kind === 'derived' || node.kind === 'ask')
      read.add(`${node.store}.${node.name}`);
    else if (node.kind === 'constant') constants.add(`${node.store}.${node.name}`);
    else if (node.kind === 'apply') functions.add(node.name);
    else if (node.kind === 'fits') types.push(node.wanted);
  };
  for (const { value } of application.functions) walkExpr(value, visit);
  for (const store of application.stores) {
    for (const expr of exprsOfStore(store)) walkExpr(expr, visit);
    for (const { steps } of deedsOf(store))
      for (const step of allSteps(steps))
        if (step.kind === 'run') run.add(`${step.store}.${step.action}`);
  }
  return { read, constants, functions, types, run };
}

/** Every expression of a store, those within others left out. */
function exprsOfStore(store: Store): readonly Expr[] {
  return [
    ...exprsBesideSteps(store),
    ...deedsOf(store).flatMap(({ steps }) => allSteps(steps).flatMap(exprsOf)),
  ];
}
