// What the engines have in common whose stores are definitions: what a store is at the start, what it does, what is derived.
import { Derivations, type At, type DerivingStore, type States } from './derived.js';
import { begun, type Ask, type Begin, type Engine } from './engine.js';
import { Turns, type EngineOptions, type Transaction } from './transaction.js';
import type { StoreChecks } from './value-types.js';
import { freeze } from './values.js';
import { Watchers } from './watchers.js';

/** A store, with what it does after actions of other stores: `'deck.admit'`. */
export interface ReactingStore<Work> extends DerivingStore {
  readonly actions: Readonly<Record<string, Work>>;
  readonly reactions?: Readonly<Record<string, Work | readonly Work[]>>;
}

/** What a store does after something that was done. */
interface Reaction<Work> {
  readonly store: string;
  readonly work: Work;
}

/** What is done for an action, or at a moment of a task: by its own store, and by those that react. */
interface Deed<Work> {
  readonly store: string;
  readonly own: Work | undefined;
  readonly reactions: readonly Reaction<Work>[];
}

/** What stores do, by name; at the moments of their tasks. */
interface Doing<Work> {
  readonly actions: Readonly<Record<string, Work>>;
  readonly tasks?: Readonly<Record<string, Readonly<Record<string, Work>>>>;
}

/** The stores of an application: their states are objects that never change. */
export abstract class DefinedStores<Work, Store extends ReactingStore<Work>> implements Engine {
  readonly turns: Turns;
  readonly watchers: Watchers;
  readonly checks: Record<string, StoreChecks>;
  readonly begins: Begin[] = [];
  readonly derivations: Derivations;
  /** The stores that are there. */
  definitions: Record<string, Store> = {};
  /** The states of all stores, as they were committed. */
  states: States = {};
  /** Told of each store once it is made. */
  readonly made: ((name: string, definition: Store) => void)[] = [];
  /** What functions of actions are given besides the stores, the same for all. */
  readonly around: object;
  protected beside: object = {};
  #deeds = new Map<string, Deed<Work>>();

  constructor(checks: Readonly<Record<string, StoreChecks>>, options: EngineOptions) {
    this.checks = { ...checks };
    this.turns = new Turns(options, () => {
      this.watchers.round();
    });
    this.around = { ...this.turns.tools };
    this.watchers = new Watchers((problem) => {
      this.turns.report(problem);
    });
    this.derivations = new Derivations(this.turns.guard, () => this.at());
  }

  /** Makes stores; once all that they need is handed over. */
  make(definitions: Readonly<Record<string, Store>>): void {
    for (const [name, definition] of Object.entries(definitions)) this.add(name, definition);
  }

  /** Makes a store; gives what it begins with. */
  add(name: string, definition: Store): unknown {
    this.definitions[name] = definition;
    this.#deeds = new Map();
    const { initial, isValue } = definition;
    const state = begun(this.begins, name, initial, isValue);
    this.commit({ ...this.states, [name]: state });
    if (this.turns.guard) freeze(initial);
    this.derivations.add(name, definition);
    for (const tell of this.made) tell(name, definition);
    return state;
  }

  /** A store that comes later: null until then. One that is attached is looked for at each reading. */
  expect(name: string, isLazy: boolean): void {
    this.commit({ ...this.states, [name]: null });
    if (!isLazy) return;
    const { app } = this.derivations;
    const of = ({ states }: At) => (states[name] === null ? null : this.derivations.view(name));
    Object.defineProperty(app, name, {
      enumerable: true,
      get: () => this.derivations.read(of),
    });
  }

  /** What is done for an action, or at a moment of a task: the reactions in the order of the stores. */
  protected deedOf(name: string): Deed<Work> {
    let deed = this.#deeds.get(name);
    if (deed === undefined) {
      const [store = '', action = '', moment] = name.split('.');
      const { actions, tasks } = (this.definitions[store] ?? { actions: {} }) as Doing<Work>;
      const own = moment === undefined ? actions[action] : tasks?.[action]?.[moment];
      const reactions = Object.entries(this.definitions).flatMap(([other, definition]) =>
        ([definition.reactions?.[name] ?? []].flat() as readonly Work[]).map((work) => ({
          store: other,
          work,
        })),
      );
      this.#deeds.set(name, (deed = { store, own, reactions }));
    }
    return deed;
  }

  protected checkOf(action: string) {
    const [store = '', name = ''] = action.split('.');
    return this.checks[store]?.actions?.[name];
  }

  /** Has other states from now on. */
  protected commit(states: States): void {
    this.states = this.turns.guard ? freeze(states) : states;
  }

  /** The state that is read now. */
  protected abstract at(): At;
  abstract put(store: string, field: string | undefined, value: unknown): void;
  abstract transaction<P>(act: (payload: P) => void): Transaction<P>;
  abstract perform(name: string, payload: unknown, given?: object): unknown;

  read(store: string, field: string | undefined): unknown {
    return valueIn(this.states, store, field);
  }

  ask(of: Ask, payload: unknown, given: object): unknown {
    return of(this.derivations.app as never, { payload, ...given } as never);
  }

  renew(): void {
    this.beside = {};
  }

  readonly close = (): void => {
    this.turns.close(() => {
      this.watchers.close();
    });
  };
}

export function valueIn(states: States, store: string, field: string | undefined): unknown {
  return field === undefined ? states[store] : (states[store] as States)[field];
}
