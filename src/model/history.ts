import type { Span } from '../base/source.js';

/** The history of a store: the changes that can be undone. */
export interface History {
  /** The fields that are put back, in schema order. */
  readonly of: readonly string[];
  /** The number of changes that can be undone at most; at least 1. */
  readonly limit: number;
  /** The actions of which several in a row are undone at once, by their full names: `deck.drag`. */
  readonly together: readonly string[];
  readonly span: Span;
}

/** The ways to go through a history: each is the name of an action that every store with a history has. */
export const moves = ['undo', 'redo'] as const;
export type Move = (typeof moves)[number];

/** A sentence for each move. */
export const aboutMoves: Readonly<Record<Move, string>> = {
  undo: 'Takes back the last change.',
  redo: 'Makes the change again that was taken back last.',
};

/** The readings of a history: each is the name of a derived value that every store with one has. */
export const historyReadings = ['canUndo', 'canRedo'] as const;
export type HistoryReading = (typeof historyReadings)[number];

/** The number of changes that can be undone where a schema does not say. */
export const usualLimit = 100;
