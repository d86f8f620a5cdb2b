// Stores that are definitions, and kept in a storage.
import type { DefinedStores, ReactingStore } from './defined-stores.js';
import { SavedStores, type SavedOptions, type SavedPlan } from './saved.js';

/** A store with what is kept of it. */
export interface KeptStore {
  readonly saved?: SavedPlan;
}

/** Keeps the stores that have something to be kept. */
export function savedOf<Work, Store extends ReactingStore<Work> & KeptStore>(
  engine: DefinedStores<Work, Store>,
  options: SavedOptions,
): SavedStores {
  engine.begins.push((name) => {
    const plan = engine.definitions[name]?.saved;
    if (plan !== undefined) saved.add(name, plan);
    return {};
  });
  const saved = new SavedStores(engine, options);
  return saved;
}
