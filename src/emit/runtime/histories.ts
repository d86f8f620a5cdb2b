// What can be undone: some fields of a store, as they were before each change.
import { refuse, type Outcome, type Transaction, type Turns } from './transaction.js';

/** What can be undone in a store. */
export interface HistoryPlan {
  /** The fields that are put back; left out if the store is one value. */
  readonly of?: readonly string[];
  /** How many times can be undone at most. */
  readonly limit: number;
  /** The actions of which several in a row are undone at once: `deck.drag`. */
  readonly together?: readonly string[];
}

/** What can be read of a history. */
export interface HistoryReadings {
  /** Whether there is something to undo. */
  readonly canUndo: boolean;
  /** Whether there is something to redo. */
  readonly canRedo: boolean;
}

export type Move = 'undo' | 'redo';

/** The fields that are put back, in the order of the plan. */
type Kept = readonly unknown[];

/** What can be undone, and redone: the last is the next. */
interface HistoryState {
  readonly past: readonly Kept[];
  readonly future: readonly Kept[];
  /** Whether the last change was made by an action of which several in a row are undone at once. */
  readonly isRow: boolean;
}

export type HistoryStates = Readonly<Record<string, HistoryState>>;

/** What the histories need of the stores of a style. */
export interface HistoryHost {
  /** A field, or with no name the one value of a store, as it was committed. */
  readonly read: (store: string, field: string | undefined) => unknown;
  /** Stores a field, within a transaction. */
  readonly put: (store: string, field: string | undefined, value: unknown) => void;
  /** A transaction that does something. */
  readonly transaction: (act: () => void) => Transaction<void>;
  // <replay>
  /** Told what a transaction does: `deck.undo`. */
  readonly doing?: (name: string) => void;
  // </replay>
  /** Told of each store of whose history other things can be read than before. */
  readonly changed?: (store: string) => void;
}

const empty: HistoryState = { past: [], future: [], isRow: false };

/** The histories of an application. */
export class Histories {
  /** What can be undone, as it was committed. */
  states: HistoryStates = {};
  readonly #plans = new Map<string, HistoryPlan>();
  readonly #turns: Turns;
  readonly #host: HistoryHost;
  /** The fields as they were committed last. */
  readonly #last = new Map<string, Kept>();
  // <later>
  /** What the transaction under way has asked for. */
  #asked: string[] = [];
  // </later>
  /** What it has emptied, and gone through. */
  #emptied = new Set<string>();
  #moved: { readonly store: string; readonly state: HistoryState } | undefined;

  constructor(turns: Turns, host: HistoryHost) {
    this.#turns = turns;
    this.#host = host;
    turns.histories = this;
  }

  /** Keeps what can be undone in a store from now on. */
  add(store: string, plan: HistoryPlan): void {
    this.#plans.set(store, plan);
    this.#last.set(store, this.#keptOf(store, plan));
  }

  readings(store: string): HistoryReadings {
    const { past, future } = this.states[store] ?? empty;
    return { canUndo: past.length > 0, canRedo: future.length > 0 };
  }

  /** Undoes or redoes, or has it wait for its turn. */
  move(store: string, move: Move): Outcome {
    return this.#turns.take(`${store}.${move}`, undefined, undefined, this.#moving(store, move));
  }

  /** What a name stands for: `deck.undo`; nothing if for something else. */
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
      this.go(store, move);
    });
  }

  /** Puts fields back, within a transaction. */
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
  /** Asks for `deck.undo` or `deck.redo` after the transaction. */
  readonly ask = (name: string): void => {
    this.#asked.push(name);
  };

  /** A turn for `deck.undo` or `deck.redo`, which no caller has asked for. */
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
  /** Empties a history at the end of the transaction. */
  readonly forget = (store: string): void => {
    this.#emptied.add(store);
  };

  /** A transaction begins: what an earlier one made and did not keep is forgotten. */
  begin(): void {
    // <later>
    this.#asked = [];
    // </later>
    this.#emptied.clear();
    this.#moved = undefined;
  }

  /** Keeps what a transaction has made to be undone, by the action that it began with; whether anything is new. */
  apply(action: string): boolean {
    const before = this.states;
    for (const [store, plan] of this.#plans) {
      const [last, now] = [this.#last.get(store) as Kept, this.#keptOf(store, plan)];
      const old = before[store] ?? empty;
      let next = old;
      if (this.#moved?.store === store) next = this.#moved.state;
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
  /** Goes on from other histories, and other fields. */
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

/** The history of a store after a change, from what its fields were before. */
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
