// Undo and redo of stores of streams: two streams that tell of it, and two actions.
import { Histories, type HistoryPlan } from '../../../runtime/histories.js';
import type { Outcome } from '../../../runtime/transaction.js';
import { ReadingStream } from './reading-stream.js';
import type { Stream, Streams } from './streams.js';

/** The histories of stores of streams. */
export class StreamHistories {
  /** Undoes or redoes after the action under way. */
  readonly later: Histories['ask'];
  /** Forgets at the end of the action under way what can be undone. */
  readonly forgetHistory: Histories['forget'];
  readonly #streams: Streams;
  readonly #histories: Histories;

  constructor(streams: Streams) {
    this.#streams = streams;
    this.#histories = new Histories(streams);
    this.later = this.#histories.ask;
    this.forgetHistory = this.#histories.forget;
  }

  /** What can be undone in a store, whose state is accumulated. */
  of(store: string, plan: HistoryPlan) {
    const histories = this.#histories;
    histories.add(store, plan);
    const reading = (of: 'canUndo' | 'canRedo'): Stream<boolean> =>
      new ReadingStream(this.#streams, `${store}.${of}`, () => histories.readings(store)[of]);
    return {
      canUndo: reading('canUndo'),
      canRedo: reading('canRedo'),
      undo: (): Outcome => histories.move(store, 'undo'),
      redo: (): Outcome => histories.move(store, 'redo'),
    };
  }
}
