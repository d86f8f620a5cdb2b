/**
 * The number of nodes that the longest way from each node on has, itself included: 1 where nothing follows. Ways that lead back
 * end where they would begin anew. It takes no stack, however long the ways are.
 */
export function heightsOf(
  nextOf: ReadonlyMap<string, readonly string[]>,
): ReadonlyMap<string, number> {
  const heights = new Map<string, number>();
  const met = new Set<string>();
  for (const start of nextOf.keys()) {
    const way = [start];
    for (let node = way.at(-1); node !== undefined; node = way.at(-1)) {
      const next = (nextOf.get(node) ?? []).filter((one) => nextOf.has(one));
      met.add(node);
      const unmet = next.find((one) => !met.has(one));
      if (unmet !== undefined) {
        way.push(unmet);
        continue;
      }
      heights.set(node, 1 + Math.max(0, ...next.map((one) => heights.get(one) ?? 0)));
      way.pop();
    }
  }
  return heights;
}
