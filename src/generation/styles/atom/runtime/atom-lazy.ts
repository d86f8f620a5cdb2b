// Stores of atoms that are attached later.
import { attachTo } from '../../../runtime/attaching.js';
import type { Outcome } from '../../../runtime/transaction.js';
import type { StoreChecks } from '../../../runtime/value-types.js';
import { Reading } from './atom-reading.js';
import { objectOf, type AtomView, type Graph } from './atoms.js';

/** A store that is attached later. */
export interface LazyStore<Made = object> {
  readonly name: string;
  readonly checks?: StoreChecks;
  readonly create: (around: never) => Made;
}

/** The stores of a graph that are attached later, among the others. */
export class LazyStores {
  readonly #graph: Graph;
  readonly #order: readonly string[];
  /** The names of lazy stores that are there. */
  #attached: ReadonlySet<string> = new Set();
  readonly #there: Reading<ReadonlySet<string>>;

  /** `order`: all stores in the order of the schema. */
  constructor(graph: Graph, order: readonly string[]) {
    this.#graph = graph;
    this.#order = order;
    this.#there = new Reading(graph, '', () => this.#attached);
    graph.placeOf = (store) => order.indexOf(store);
  }

  /** All stores; what is computed from that is computed anew once another is attached. */
  all<Stores>(stores: Stores): Stores {
    this.#there.get();
    return stores;
  }

  /** The state of a lazy store: null until it is attached. */
  state<T>(store: string): AtomView<T> {
    const state = this.#graph.derived(store, () => {
      if (!this.#there.get().has(store)) return null as T;
      return objectOf<T>(this.#graph.atomsOf(store));
    });
    this.#graph.states.set(store, state);
    return state;
  }

  /** Attaches a store; does nothing if it is attached already. */
  attach({ name, checks = {}, create }: LazyStore, around: object, stores: object): Outcome {
    const graph = this.#graph;
    const make = (): unknown => {
      graph.checks[name] = checks;
      Object.assign(stores, { [name]: create(around as never) });
      for (const reactions of graph.reactions.values())
        reactions.sort((a, b) => this.#order.indexOf(a.store) - this.#order.indexOf(b.store));
      this.#attached = new Set([...this.#attached, name]);
      graph.renew();
      return undefined;
    };
    return attachTo(graph, name, this.#order, () => this.#attached.has(name), make);
  }
}
