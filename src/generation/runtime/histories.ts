// Undo and redo: some fields of a store, as they were before each change.
import { handOver, type Engine } from './engine.js';
import { refuse, takenIn, type Capability, type Outcome, type Transaction } from './transaction.js';

/** What undo puts back in a store. */
export interface HistoryPlan {
  /** The fields that are put back; left out if the store is one value. */
  readonly of?: readonly string[];
  /** The number of changes that can be undone. */
  readonly limit: number;
  /** Actions that count as one change when several come in a row: `deck.drag`. */
  readonly together?: readonly string[];
}

/** True if a store can undo and redo. */
export interface HistoryReadings {
  /** True if there is something to undo. */
  readonly canUndo: boolean;
  /** True if there is something to redo. */
  readonly canRedo: boolean;
}

export type Move = 'undo' | 'redo';

/** The values of the fields that undo puts back, in the order of the plan. */
type Kept = readonly unknown[];

/** The values before each change, and after each undone change. The last entry comes next. */
interface HistoryState {
  readonly past: readonly Kept[];
  readonly future: readonly Kept[];
  /** True if the last change was made by an action of `together`. */
  readonly isRow: boolean;
}

export type HistoryStates = Readonly<Record<string, HistoryState>>;

const empty: HistoryState = { past: [], future: [], isRow: false };

/** The histories of an application. */
export class Histories implements Capability {
  /** The committed histories. */
  states: HistoryStates = {};
  readonly #plans = new Map<string, HistoryPlan>();
  readonly #engine: Engine;
  /** The fields as they were committed last. */
  readonly #last = new Map<string, Kept>();
  /** The histories that the current transaction empties, and the one that it undoes or redoes. */
  #emptied = new Set<string>();
  #moved: { readonly store: string; readonly state: HistoryState } | undefined;

  constructor(engine: Engine) {
    this.#engine = engine;
    handOver(engine, this);
  }

  /** Records the changes of a store from now on. */
  add(store: string, plan: HistoryPlan): void {
    this.#plans.set(store, plan);
    this.#last.set(store, this.#keptOf(store, plan));
  }

  readings(store: string): HistoryReadings {
    const { past, future } = this.states[store] ?? empty;
    return { canUndo: past.length > 0, canRedo: future.length > 0 };
  }

  /** Undoes or redoes, now or when its turn comes. */
  move(store: string, move: Move): Outcome {
    const work = this.#moving(store, move);
    return this.#engine.turns.take(`${store}.${move}`, undefined, undefined, work);
  }

  /** The undo or redo with a name such as `deck.undo`, if there is one. */
  named(name: string): (() => Outcome) | undefined {
    const [store = '', move = ''] = name.split('.');
    if (!this.#plans.has(store) || (move !== 'undo' && move !== 'redo')) return undefined;
    return () => this.move(store, move);
  }

  #moving(store: string, move: Move): Transaction<void> {
    return this.#engine.transaction(() => {
      this.#engine.turns.does?.(`${store}.${move}`);
      this.go(store, move);
    });
  }

  /** Puts the fields back, within a transaction. */
  go(store: string, move: Move): void {
    const { past, future } = this.states[store] ?? empty;
    const plan = this.#plans.get(store) as HistoryPlan;
    const [from, to] = move === 'undo' ? [past, future] : [future, past];
    const kept = from.at(-1) ?? refuse(`nothing to ${move}`);
    const [left, more] = [from.slice(0, -1), [...to, this.#keptOf(store, plan)]];
    for (const [i, field] of fieldsOf(plan).entries()) this.#engine.put(store, field, kept[i]);
    this.#moved = {
      store,
      state:
        move === 'undo'
          ? { past: left, future: more, isRow: false }
          : { past: more, future: left, isRow: false },
    };
  }

  /** Does `deck.undo` or `deck.redo` after the transaction; nothing if its store is not attached. */
  readonly ask = (name: string): void => {
    const { turns } = this.#engine;
    const go = (): void => {
      const [store = '', move = ''] = name.split('.');
      if (!this.#plans.has(store)) return;
      const work = this.#moving(store, move as Move);
      turns.turn(name, () => turns.transact(work));
    };
    turns.asked.push({ name, go });
  };

  /** Empties the history of a store at the end of the transaction. */
  readonly forget = (store: string): void => {
    this.#emptied.add(store);
  };

  begin(): void {
    this.#emptied.clear();
    this.#moved = undefined;
  }

  /** Records what a transaction has changed, with the action that began it. True if a history has changed. */
  keep(action: string): boolean {
    const before = this.states;
    for (const [store, plan] of this.#plans) {
      const [last, now] = [this.#last.get(store) as Kept, this.#keptOf(store, plan)];
      const old = before[store] ?? empty;
      let next = old;
      if (this.#moved?.store === store) next = this.#moved.state;
      else if (action !== takenIn && now.some((value, i) => !Object.is(value, last[i])))
        next = changed(old, last, plan, action);
      if (this.#emptied.has(store)) next = empty;
      this.#last.set(store, now);
      if (next !== old) this.states = { ...this.states, [store]: next };
    }
    this.begin();
    if (this.states === before) return false;
    this.#engine.renew();
    return true;
  }

  /** Continues from other histories and the present fields. */
  restart(states: HistoryStates): void {
    this.states = states;
    for (const [store, plan] of this.#plans) this.#last.set(store, this.#keptOf(store, plan));
  }

  #keptOf(store: string, plan: HistoryPlan): Kept {
    return fieldsOf(plan).map((field) => this.#engine.read(store, field));
  }
}

const fieldsOf = ({ of }: HistoryPlan): readonly (string | undefined)[] => of ?? [undefined];

/** The history of a store after a change, from its fields before the change. */
function changed(
  { past: before, isRow: wasRow }: HistoryState,
  last: Kept,
  { limit, together = [] }: HistoryPlan,
  action: string,
): HistoryState {
  const isRow = together.includes(action);
  const past = isRow && wasRow ? before : [...before, last].slice(-limit);
  return { past, future: [], isRow };
}
