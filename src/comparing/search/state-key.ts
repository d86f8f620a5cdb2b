import { hash } from 'node:crypto';
import { canonicalText } from '../../base/canonical.js';
import type { Histories } from '../../model/participant.js';
import { idPrefix, startOfTime } from '../playing/environment.js';

const ids = new RegExp(`${idPrefix}(\\d+)(?:-(\\d+))?`, 'g');
const times = new RegExp(`\\b${String(startOfTime).slice(0, 4)}(\\d{9})\\b`, 'g');

/** The text of a store, and whether identifiers or times stand in it. */
interface StoreText {
  readonly text: string;
  readonly hasIds: boolean;
  readonly hasTimes: boolean;
}

/** The texts of stores: most stay the same objects from step to step. */
const known = new WeakMap<object, StoreText>();

/**
 * A short text that is the same for states that are equal but for the identifiers and times in them, as long as
 * these have the same order: what was generated is renamed by rank.
 */
export function stateKey(state: Readonly<Record<string, unknown>>): string {
  let [text, hasIds, hasTimes] = ['', false, false];
  for (const name in state) {
    const own = textOf(state[name]);
    text += `${own.text},`;
    hasIds ||= own.hasIds;
    hasTimes ||= own.hasTimes;
  }
  if (hasIds) text = byRank(text, ids, '#');
  if (hasTimes) text = byRank(text, times, '@');
  return hash('sha1', text, 'base64');
}

/** A short text for what can be undone: how often, and what the next undo and redo put back. */
export function historyKey(histories: Histories | undefined): string {
  if (histories === undefined || histories.size === 0) return '';
  const parts = [...histories].map(([store, { past, future }]) => [
    store,
    past.length,
    past.at(-1) ?? null,
    future.length,
    future.at(-1) ?? null,
  ]);
  return hash('sha1', canonicalText(parts), 'base64');
}

/** How long a state is, as text: quickly told, since most stores stay the same objects. */
export function sizeOf(state: Readonly<Record<string, unknown>>): number {
  let size = 0;
  for (const name of Object.keys(state)) size += textOf(state[name]).text.length;
  return size;
}

function textOf(own: unknown): StoreText {
  const isKept = typeof own === 'object' && own !== null;
  const found = isKept ? known.get(own) : undefined;
  if (found !== undefined) return found;
  const text = canonicalText(own);
  const made = { text, hasIds: text.search(ids) >= 0, hasTimes: text.search(times) >= 0 };
  if (isKept) known.set(own, made);
  return made;
}

function byRank(text: string, pattern: RegExp, mark: string): string {
  const found = new Set(Array.from(text.matchAll(pattern), ([, ...parts]) => rankOf(parts)));
  if (found.size === 0) return text;
  const ranks = new Map([...found].sort((a, b) => a - b).map((number, i) => [number, i]));
  return text.replace(
    pattern,
    (_, first: string, second?: string | number) =>
      `${mark}${ranks.get(rankOf([first, typeof second === 'string' ? second : undefined])) ?? ''}`,
  );
}

/** What orders names: the number of the step, and the number within it. */
function rankOf([first, second]: readonly (string | undefined)[]): number {
  return Number(first) * 1000 + Number(second ?? 0);
}
