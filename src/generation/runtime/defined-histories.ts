// What can be undone in stores that are definitions.
import type { DefinedStores, ReactingStore } from './defined-stores.js';
import { Histories, type HistoryPlan } from './histories.js';

/** A store with what can be undone in it. */
export interface UndoneStore {
  readonly history?: HistoryPlan;
}

/** Records the changes of stores that have a history, each told of once it is made. */
export function historiesOf<Work, Store extends ReactingStore<Work> & UndoneStore>(
  engine: DefinedStores<Work, Store>,
  made: (store: string) => void,
): Histories {
  const histories = new Histories(engine);
  Object.assign(engine.around, { later: histories.ask, forgetHistory: histories.forget });
  engine.made.push((store, { history }) => {
    if (history === undefined) return;
    histories.add(store, history);
    const view = engine.derivations.view(store);
    for (const reading of ['canUndo', 'canRedo'] as const)
      engine.derivations.addReading(view, reading, () => histories.readings(store)[reading]);
    made(store);
  });
  return histories;
}
