import type { Action } from '../../model/application.js';
import {
  aboutMoves,
  historyReadings,
  moves,
  usualLimit,
  type History,
} from '../../model/history.js';
import { itemsOf, plainOf, valueOf, type LocatedEntry } from '../syntax/located.js';
import { actionNamed } from './action-names.js';
import { chosenFields } from './chosen-fields.js';
import type { DerivedDeclaration, StoreDeclaration } from './declarations.js';
import type { Expressions } from './expressions.js';

/** The names that a history takes in its store. */
export const historyNames = [
  ...moves.map((name) => ({ name, what: 'an action of the history', isRead: false })),
  ...historyReadings.map((name) => ({ name, what: 'what the history tells', isRead: true })),
] as const;

const aboutReadings = {
  canUndo: 'Whether there is something to undo.',
  canRedo: 'Whether there is something to redo.',
} as const;

/** The derived values of a store, with those that tell of its history. */
export function declareHistory(
  store: string,
  derived: ReadonlyMap<string, DerivedDeclaration>,
  { value: expression, keySpan: span }: LocatedEntry,
): ReadonlyMap<string, DerivedDeclaration> {
  const told = historyReadings.map((name): [string, DerivedDeclaration] => {
    const about = aboutReadings[name];
    const type = { kind: 'boolean' } as const;
    const value = { kind: 'history', store, reading: name, span, type } as const;
    const result = { name, about, span, params: [], value };
    const base = { name, about, span, expression, params: [], asserted: undefined };
    return [name, { ...base, state: 'ready', result }];
  });
  return new Map([...derived, ...told]);
}

/** The actions that go through the history of a store. */
export function historyActions({ history }: StoreDeclaration): Action[] {
  if (history === undefined) return [];
  const { span } = history;
  return moves.map((move) => ({
    name: move,
    about: aboutMoves[move],
    span,
    payload: undefined,
    payloadDefault: undefined,
    acceptsText: false,
    requires: [],
    let: [],
    steps: [],
    move,
  }));
}

/** Checks the `history` section of a store. */
export function lowerHistory(store: StoreDeclaration, cx: Expressions): History | undefined {
  if (store.history === undefined) return undefined;
  const { body, span } = store.history;
  const limit = valueOf(body, 'limit');
  return {
    of: chosenFields(store, valueOf(body, 'of'), cx.problems),
    limit: limit === undefined ? usualLimit : (plainOf(limit) as number),
    together: itemsOf(valueOf(body, 'together')).flatMap((item) => {
      const found = actionNamed(item, store, cx);
      return found === undefined ? [] : [`${found.store}.${found.action}`];
    }),
    span,
  };
}
