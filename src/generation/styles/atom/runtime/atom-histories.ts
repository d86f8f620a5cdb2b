// Undo and redo of stores of atoms: two atoms that tell of it, and two actions.
import { Histories, type HistoryPlan } from '../../../runtime/histories.js';
import type { Outcome } from '../../../runtime/transaction.js';
import { Reading } from './atom-reading.js';
import type { AtomView, Graph } from './atoms.js';

/** The histories of a graph. */
export class AtomHistories {
  /** Undoes or redoes after the action under way. */
  readonly later: Histories['ask'];
  /** Forgets at the end of the action under way what can be undone. */
  readonly forgetHistory: Histories['forget'];
  readonly #graph: Graph;
  readonly #histories: Histories;

  constructor(graph: Graph) {
    this.#graph = graph;
    this.#histories = new Histories(graph);
    this.later = this.#histories.ask;
    this.forgetHistory = this.#histories.forget;
  }

  /** What can be undone in a store, whose fields are there. */
  of(store: string, plan: HistoryPlan) {
    const histories = this.#histories;
    histories.add(store, plan);
    const reading = (of: 'canUndo' | 'canRedo'): AtomView<boolean> =>
      new Reading(this.#graph, `${store}.${of}`, () => histories.readings(store)[of]);
    return {
      canUndo: reading('canUndo'),
      canRedo: reading('canRedo'),
      undo: (): Outcome => histories.move(store, 'undo'),
      redo: (): Outcome => histories.move(store, 'redo'),
    };
  }
}
