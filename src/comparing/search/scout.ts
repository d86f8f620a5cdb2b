import type { KeptScript, Searching } from '../searching.js';
import type { PlannedScript } from './planned-script.js';
import { randomScript } from './random-scripts.js';
import { shorten } from './shorten.js';
import type { Traits } from './traits.js';

/**
 * Looks for scripts that reach a point, with the first participant alone: where that cannot go back to a state, as it would to
 * look ahead.
 */
export interface ScoutItem {
  readonly kind: 'scout';
  readonly seed: number;
  /** The point, by its place. */
  readonly point: number;
  /** What is tried, one after the other, until the point is reached. */
  readonly scripts: readonly PlannedScript[];
}

/** What reaches points that were never reached, that which was asked for in as few steps as are found out soon; and what came nearer. */
export async function scout(
  searching: Searching,
  { seed, point, scripts }: ScoutItem,
  traits: Traits,
): Promise<readonly KeptScript[]> {
  const found: KeptScript[] = [];
  for (const planned of scripts) {
    const { kept } = await randomScript(searching, seed, planned, traits, true);
    for (const script of kept) {
      const { steps, circumstances = {}, reaches, near = [] } = script;
      if (reaches.includes(point)) return [...found, await shorten(searching, script, point)];
      if (reaches.length + near.length > 0)
        found.push({ steps, circumstances, reaches: [], ...(reaches.length === 0 && { near }) });
    }
  }
  return found;
}
