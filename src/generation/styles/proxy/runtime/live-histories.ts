// Undo and redo of live stores: two functions more.
import { historiesOf, type UndoneStore } from '../../../runtime/defined-histories.js';
import type { Histories } from '../../../runtime/histories.js';
import type { Live } from './proxies.js';

export type { UndoneStore };

/** Records the changes of stores that have a history. */
export function undoing(live: Live): Histories {
  const histories = historiesOf(live, (store) => {
    for (const move of ['undo', 'redo'] as const)
      Object.defineProperty(live.derivations.view(store), move, {
        value: () => histories.move(store, move),
      });
  });
  return histories;
}
