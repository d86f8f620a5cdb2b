// What stands beside a type and says nothing about which values fit.
import { plainOf, textOf, valueOf, type Located } from '../syntax/located.js';

/** Keywords that say nothing about which values fit, or are read by whoever reads the type. */
export const notes = new Set(['default', 'description', 'about', 'title', 'setter']);

/** What is said of a type: `about`, as everywhere in a schema, or `description`, as in JSON Schema. */
export function aboutType(node: Located): string | undefined {
  return textOf(valueOf(node, 'about')) ?? textOf(valueOf(node, 'description'));
}

/** The JSON value of a `default`, if one is written. */
export function writtenDefault(
  node: Located,
): { readonly value: unknown; readonly node: Located } | undefined {
  const written = valueOf(node, 'default');
  return written === undefined ? undefined : { value: plainOf(written), node: written };
}
