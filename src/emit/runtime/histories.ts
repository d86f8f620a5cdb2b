// Undo and redo: some fields of a store, as they were before each change.
// <saved>
import { takenIn } from './saved.js';
// </saved>
import { refuse, type Outcome, type Transaction, type Turns } from './transaction.js';

/** What undo puts back in a store. */
export interface HistoryPlan {
  /** The fields that are put back; left out if the store is one value. */
  readonly of?: readonly string[];
  /** How many changes can be undone. */
  readonly limit: number;
  /** Actions that count as one change when several come in a row: `deck.drag`. */
  readonly together?: readonly string[];
}

/** Whether a store can undo and redo. */
export interface HistoryReadings {
  /** Whether there is something to undo. */
  readonly canUndo: boolean;
  /** Whether there is something to redo. */
  readonly canRedo: boolean;
}

export type Move = 'undo' | 'redo';

/** The values of the fields that undo puts back, in the order of the plan. */
type Kept = readonly unknown[];

/** The values before each change, and after each undone change. The last entry comes next. */
interface HistoryState {
  readonly past: readonly Kept[];
  readonly future: readonly Kept[];
  /** Whether the last change was made by an action of `together`. */
  readonly isRow: boolean;
}

export type HistoryStates = Readonly<Record<string, HistoryState>>;

/** What the histories need of the stores of a style. */
export interface HistoryHost {
  /** Reads the committed value of a field; without a field, the value of a store that is one value. */
  readonly read: (store: string, field: string | undefined) => unknown;
  /** Stores a field, within a transaction. */
  readonly put: (store: string, field: string | undefined, value: unknown) => void;
  /** Makes a transaction of an action. */
  readonly transaction: (act: () => void) => Transaction<void>;
  // <replay>
  /** Called with the name of what a transaction does: `deck.undo`. */
  readonly doing?: (name: string) => void;
  // </replay>
  /** Called with each store whose history has changed. */
  readonly changed?: (store: string) => void;
}

const empty: HistoryState = { past: [], future: [], isRow: false };

/** The histories of an application. */
export class Histories {
  /** The committed histories. */
  states: HistoryStates = {};
  readonly #plans = new Map<string, HistoryPlan>();
  readonly #turns: Turns;
  readonly #host: HistoryHost;
  /** The fields as they were committed last. */
  readonly #last = new Map<string, Kept>();
  // <later>
  /** The undos and redos that the current transaction has asked for. */
  #asked: string[] = [];
  // </later>
  /** The histories that the current transaction empties, and the one that it undoes or redoes. */
  #emptied = new Set<string>();
  #moved: { readonly store: string; readonly state: HistoryState } | undefined;

  constructor(turns: Turns, host: HistoryHost) {
    this.#turns = turns;
    this.#host = host;
    turns.histories = this;
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
    return this.#turns.take(`${store}.${move}`, undefined, undefined, this.#moving(store, move));
  }

  /** The undo or redo with a name such as `deck.undo`, if there is one. */
  named(name: string): (() => Outcome) | undefined {
    const [store = '', move = ''] = name.split('.');
    if (!this.#plans.has(store) || (move !== 'undo' && move !== 'redo')) return undefined;
    return () => this.move(store, move);
  }

  #moving(store: string, move: Move): Transaction<void> {
    return this.#host.transaction(() => {
      // <replay>
      this.#host.doing?.(`${store}.${move}`);
      // </replay>
      // <log>
      const { log } = this.#turns;
      if (log !== undefined) log.did = { type: store, kind: move };
      // </log>
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
    for (const [i, field] of fieldsOf(plan).entries()) this.#host.put(store, field, kept[i]);
    this.#moved = {
      store,
      state:
        move === 'undo'
          ? { past: left, future: more, isRow: false }
          : { past: more, future: left, isRow: false },
    };
  }

  // <later>
  /** Does `deck.undo` or `deck.redo` after the transaction. */
  readonly ask = (name: string): void => {
    this.#asked.push(name);
  };

  /** Queues a `deck.undo` or `deck.redo` that a step has asked for. */
  later(name: string): void {
    const [store = '', move = ''] = name.split('.');
    // <lazy>
    if (!this.#plans.has(store)) return;
    // </lazy>
    const work = this.#moving(store, move as Move);
    this.#turns.turn(
      name,
      () => this.#turns.transact(work),
      () => undefined,
    );
  }

  // </later>
  /** Empties the history of a store at the end of the transaction. */
  readonly forget = (store: string): void => {
    this.#emptied.add(store);
  };

  /** Begins a transaction: what a refused one has left is dropped. */
  begin(): void {
    // <later>
    this.#asked = [];
    // </later>
    this.#emptied.clear();
    this.#moved = undefined;
  }

  /** Records what a transaction has changed, with the action that began it. True if a history has changed. */
  apply(action: string): boolean {
    const before = this.states;
    for (const [store, plan] of this.#plans) {
      const [last, now] = [this.#last.get(store) as Kept, this.#keptOf(store, plan)];
      const old = before[store] ?? empty;
      let next = old;
      if (this.#moved?.store === store) next = this.#moved.state;
      // <saved>
      else if (action === takenIn) next = old;
      // </saved>
      else if (now.some((value, i) => !Object.is(value, last[i])))
        next = changed(old, last, plan, action);
      if (this.#emptied.has(store)) next = empty;
      this.#last.set(store, now);
      if (next === old) continue;
      this.states = { ...this.states, [store]: next };
      this.#host.changed?.(store);
    }
    this.#emptied.clear();
    this.#moved = undefined;
    // <later>
    for (const name of this.#asked.splice(0)) this.later(name);
    // </later>
    return this.states !== before;
  }

  // <replay>
  /** Continues from other histories and the present fields. */
  restart(states: HistoryStates): void {
    this.states = states;
    for (const [store, plan] of this.#plans) this.#last.set(store, this.#keptOf(store, plan));
  }

  // </replay>
  #keptOf(store: string, plan: HistoryPlan): Kept {
    return fieldsOf(plan).map((field) => this.#host.read(store, field));
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
