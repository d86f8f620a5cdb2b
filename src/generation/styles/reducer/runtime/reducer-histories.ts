// Undo and redo of reducer stores: they are dispatched like actions.
import { historiesOf, type UndoneStore } from '../../../runtime/defined-histories.js';
import type { Histories } from '../../../runtime/histories.js';
import type { Reducers } from './reducer.js';

export type { UndoneStore };

/** Records the changes of stores that have a history. */
export function undoing(engine: Reducers): Histories {
  const histories = historiesOf(engine, (store) => {
    Object.assign(engine.derived[store] ?? {}, {
      canUndo: () => histories.readings(store).canUndo,
      canRedo: () => histories.readings(store).canRedo,
    });
  });
  engine.others.push(({ type }) => histories.named(type)?.());
  return histories;
}
