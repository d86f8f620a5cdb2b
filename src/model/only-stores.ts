import { deedsOf, exprsBesideSteps, type Application, type Store } from './application.js';
import { effectsOf, readsOf } from './footprint.js';
import { allSteps, exprsOf } from './step-kinds.js';

/** An application with some of its stores, and those that they cannot do without. */
export function onlyStores(application: Application, names: readonly string[]): Application {
  const needed = new Set<string>();
  const visit = (name: string) => {
    const store = application.stores.find((other) => other.name === name);
    if (store === undefined || needed.has(name)) return;
    needed.add(name);
    storesNamedIn(store, application).forEach(visit);
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
function storesNamedIn(store: Store, application: Application): ReadonlySet<string> {
  const steps = deedsOf(store).flatMap((one) => one.steps);
  const exprs = [...exprsBesideSteps(store), ...allSteps(steps).flatMap(exprsOf)];
  const { resets, runs, starts, cancels, moves } = effectsOf(steps, store.name, application);
  const names = [...runs, ...starts, ...cancels, ...moves].map((name) => name.split('.')[0] ?? '');
  const causes = store.reactions.flatMap(({ to }) => to.map((cause) => cause.store));
  return new Set([...readsOf(exprs, application).stores, ...names, ...resets, ...causes]);
}
