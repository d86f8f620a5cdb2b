import { distance } from 'fastest-levenshtein';

/**
 * The known name nearest to an unknown one, if it is near enough to be a typo: at most a third
 * of its letters differ, case aside. The first of equally near names wins.
 */
export function nearest(unknown: string, known: Iterable<string>): string | undefined {
  const wanted = unknown.toLowerCase();
  let best: string | undefined;
  let least = Math.max(1, Math.floor(wanted.length / 3)) + 1;
  for (const name of known) {
    const away = name === unknown ? 0 : slipsBetween(wanted, name.toLowerCase());
    if (away < least) [best, least] = [name, away];
  }
  return best;
}

/** The number of letters that were added, left out or taken for others; two that changed places count as one slip. */
function slipsBetween(one: string, other: string): number {
  const away = distance(one, other);
  if (away !== 2 || one.length !== other.length) return away;
  const at = [...one].findIndex((_, i) => one.charAt(i) !== other.charAt(i));
  const swapped = one.slice(0, at) + one.charAt(at + 1) + one.charAt(at) + one.slice(at + 2);
  return swapped === other ? 1 : away;
}
