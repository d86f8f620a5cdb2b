import type { Located, LocatedMap } from '../syntax/located.js';

/**
 * The node without what stands at a path: an entry of a map or an item of a list. What does not exist leaves it as it
 * is. Parts are keys of maps and positions in lists, as in a JSON Pointer.
 */
export function without(node: Located, path: readonly string[]): Located {
  const [first, ...rest] = path;
  if (first === undefined) return node;
  if (node.kind === 'map') {
    const entries: LocatedMap['entries'] =
      rest.length === 0
        ? node.entries.filter(({ key }) => key !== first)
        : node.entries.map((entry) =>
            entry.key === first ? { ...entry, value: without(entry.value, rest) } : entry,
          );
    return { ...node, entries };
  }
  if (node.kind === 'scalar') return node;
  const at = Number(first);
  const items =
    rest.length === 0
      ? node.items.filter((_, i) => i !== at)
      : node.items.map((item, i) => (i === at ? without(item, rest) : item));
  return { ...node, items };
}
