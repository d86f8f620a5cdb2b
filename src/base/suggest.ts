import { distance } from 'fastest-levenshtein';

/**
 * The known name nearest to an unknown one, if it is near enough to be a slip of the pen: at most a third
 * of its letters differ, case aside. The first of equally near names wins.
 */
export function nearest(unknown: string, known: Iterable<string>): string | undefined {
  const wanted = unknown.toLowerCase();
  let best: string | undefined;
  let least = Math.max(1, Math.floor(wanted.length / 3)) + 1;
  for (const name of known) {
    const away = name === unknown ? 0 : distance(wanted, name.toLowerCase());
    if (away < least) [best, least] = [name, away];
  }
  return best;
}
