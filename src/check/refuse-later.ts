import type { Problems } from '../diagnostics/problem.js';
import { entriesOf, type Located } from '../syntax/located.js';

/** What belongs to the format and is not there yet: refused by name, never ignored. */
const later: readonly string[] = ['lazy'];

/** Refuses the keys of a store that are not supported yet. */
export function refuseLater(node: Located | undefined, problems: Problems): void {
  for (const { key, keySpan } of entriesOf(node))
    if (later.includes(key)) problems.add('not-supported-yet', keySpan, { what: `'${key}'` });
}
