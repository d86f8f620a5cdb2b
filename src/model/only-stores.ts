import { deedsOf, exprsBesideSteps, type Application, type Store } from './application.js';
import { walkExpr, type Expr } from './expressions.js';
import { allSteps, exprsOf } from './step-kinds.js';

/** An application with some of its stores, and those that they cannot do without. */
export function onlyStores(application: Application, names: readonly string[]): Application {
  const needed = new Set<string>();
  const visit = (name: string) => {
    const store = application.stores.find((other) => other.name === name);
    if (store === undefined || needed.has(name)) return;
    needed.add(name);
    storesNamedIn(store).forEach(visit);
  };
  names.forEach(visit);
  const stores = application.stores.filter(({ name }) => needed.has(name));
  const called = new Set(
    stores.flatMap(({ tasks }) => tasks.map(({ operation }) => operation?.service)),
  );
  const services = application.services.filter(({ name }) => called.has(name));
  return { ...application, services, stores };
}

/** The stores that a store reads, runs actions of, resets or reacts to, and those of tasks that it starts or cancels. */
function storesNamedIn(store: Store): ReadonlySet<string> {
  const found = new Set<string>();
  const steps = deedsOf(store).flatMap((one) => allSteps(one.steps));
  const exprs: Expr[] = [...exprsBesideSteps(store), ...steps.flatMap(exprsOf)];
  for (const expr of exprs)
    walkExpr(expr, (node) => {
      if ('store' in node) found.add(node.store);
    });
  for (const step of steps) {
    if (step.kind === 'run' || step.kind === 'start' || step.kind === 'history')
      found.add(step.store);
    if (step.kind === 'cancel') for (const task of step.tasks) found.add(task.store);
    if (step.kind === 'resetStores') for (const name of step.stores) found.add(name);
  }
  for (const { to } of store.reactions) for (const cause of to) found.add(cause.store);
  return found;
}
