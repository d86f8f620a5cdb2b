// What a log writes of stores of atoms.
import type { Graph } from './atoms.js';

/** Gives the committed states of all stores, the same objects for those that have not changed. `order`: those that are null until they are attached. */
export function committedStates(graph: Graph, order: readonly string[] = []): () => object {
  let states: Record<string, unknown> = {};
  let values: unknown[] = [];
  for (const name of order) states[name] = null;
  return () => {
    const atoms = [...graph.atoms.values()];
    const changed = atoms.filter((atom, i) => values.length <= i || values[i] !== atom.committed);
    if (changed.length === 0) return states;
    states = { ...states };
    const copied = new Set<string>();
    for (const { name, committed } of changed) {
      const [store = '', field] = name.split('.');
      if (field === undefined) states[store] = committed;
      else if (copied.has(store)) (states[store] as Record<string, unknown>)[field] = committed;
      else states[store] = { ...(states[store] as object | null), [field]: committed };
      copied.add(store);
    }
    values = atoms.map((atom) => atom.committed);
    return states;
  };
}
