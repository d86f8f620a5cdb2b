import { same } from '../base/same.js';
import type { Application, Store } from '../model/application.js';
import type { HistoryReading, Move } from '../model/history.js';
import { fieldOf, isAttached, type State } from './state.js';

/** The fields of a store that can be put back, in the order of its history's `of`. */
type Kept = readonly unknown[];

/** What can be undone in a store, and redone: the last is the next. */
export interface HistoryState {
  readonly past: readonly Kept[];
  readonly future: readonly Kept[];
  /** True if the last change was made by an action of which several in a row are undone at once. */
  readonly isRow: boolean;
}

/** The histories of all stores that have one and are no longer as at the start. */
export type HistoryStates = ReadonlyMap<string, HistoryState>;

const empty: HistoryState = { past: [], future: [], isRow: false };

export const historyOf = (histories: HistoryStates, store: string): HistoryState =>
  histories.get(store) ?? empty;

export function readingOf(
  histories: HistoryStates,
  store: string,
  reading: HistoryReading,
): boolean {
  const { past, future } = historyOf(histories, store);
  return (reading === 'canUndo' ? past : future).length > 0;
}

function keptOf(store: Store, state: State): Kept {
  return (store.history?.of ?? []).map((field) => fieldOf(state, store, field));
}

/** What going through a history puts back, and what is left of it; nothing at its end. */
export function throughHistory(
  store: Store,
  state: State,
  { past, future }: HistoryState,
  move: Move,
) {
  const [from, to] = move === 'undo' ? [past, future] : [future, past];
  const kept = from.at(-1);
  if (kept === undefined) return undefined;
  const [left, more] = [from.slice(0, -1), [...to, keptOf(store, state)]];
  const history = move === 'undo' ? { past: left, future: more } : { past: more, future: left };
  return {
    fields: (store.history?.of ?? []).map((field, i) => [field, kept[i]] as const),
    history: { ...history, isRow: false },
  };
}

/** What was done in a transaction, as far as histories go by it. */
export interface Doing {
  readonly state: State;
  readonly emptied: ReadonlySet<string>;
  readonly moved: { readonly store: string; readonly history: HistoryState } | undefined;
  /** The action that it began with: `deck.drag`; `undefined` if it was none. */
  readonly begunBy: string | undefined;
}

/** The histories after a transaction that was made to a state. */
export function historiesAfter(
  { stores }: Application,
  histories: HistoryStates,
  before: State,
  { state, emptied, moved, begunBy }: Doing,
): HistoryStates {
  if (stores.every(({ history }) => history === undefined)) return histories;
  const changed = new Map(histories);
  for (const store of stores) {
    const { name, history } = store;
    if (history === undefined || !isAttached(before, name)) continue;
    const own = historyOf(histories, name);
    const { limit, together } = history;
    const kept = keptOf(store, before);
    if (moved?.store === name) changed.set(name, moved.history);
    else if (!same(kept, keptOf(store, state))) {
      const isRow = begunBy !== undefined && together.includes(begunBy);
      const past = isRow && own.isRow ? own.past : [...own.past, kept].slice(-limit);
      changed.set(name, { past, future: [], isRow });
    }
    if (emptied.has(name)) changed.set(name, empty);
  }
  return stores.some(({ name }) => changed.get(name) !== histories.get(name)) ? changed : histories;
}
