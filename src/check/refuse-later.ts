import type { Problems } from '../diagnostics/problem.js';
import { entriesOf, type Located } from '../syntax/located.js';

/** What belongs to the format and is not there yet: refused by name, never ignored. */
const later = {
  file: ['ports'],
  store: ['tasks', 'history', 'saved', 'lazy'],
} as const;

/** Refuses the keys of a mapping that are not supported yet. True if there was any. */
export function refuseLater(
  where: keyof typeof later,
  node: Located | undefined,
  problems: Problems,
): boolean {
  const keys: readonly string[] = later[where];
  const found = entriesOf(node).filter(({ key }) => keys.includes(key));
  for (const { key, keySpan } of found)
    problems.add('not-supported-yet', keySpan, { what: `'${key}'` });
  return found.length > 0;
}
