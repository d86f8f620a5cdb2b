/** Adds counts to those that are there, by name. */
export function addCounts(all: Map<string, number>, more: ReadonlyMap<string, number>): void {
  for (const [name, count] of more) all.set(name, (all.get(name) ?? 0) + count);
}
