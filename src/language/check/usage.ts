import { deedsOf, exprsBesideSteps, type Application } from '../../model/application.js';
import { effectsOf, readsOf, type Reads } from '../../model/footprint.js';
import { allSteps, exprsOf } from '../../model/step-kinds.js';

/** What the expressions and steps of an application name. */
export interface Usage extends Pick<Reads, 'constants' | 'functions' | 'types' | 'written'> {
  /** Actions that others run: `deck.admit`. */
  readonly run: ReadonlySet<string>;
}

export function usageOf(application: Application): Usage {
  const { functions, stores } = application;
  const exprs = stores.flatMap((store) => [
    ...exprsBesideSteps(store),
    ...deedsOf(store).flatMap(({ steps }) => allSteps(steps).flatMap(exprsOf)),
  ]);
  const run = stores.flatMap((store) =>
    deedsOf(store).flatMap(({ steps }) => [...effectsOf(steps, store.name, application).runs]),
  );
  const reads = readsOf([...functions.map(({ value }) => value), ...exprs], application);
  return { ...reads, run: new Set(run) };
}
