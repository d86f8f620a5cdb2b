import { named, type Application } from './application.js';
import { doneWith, effectsOf, readsOf } from './footprint.js';
import type { Auto } from './tasks.js';

const known = new WeakMap<Application, Map<string, boolean>>();

/** True if anything that the actions of a store lead to may have to do with tasks. */
export function reachesTasks(application: Application, store: string): boolean {
  const all = known.get(application) ?? new Map<string, boolean>();
  known.set(application, all);
  const found = all.get(store) ?? findReach(application, store);
  all.set(store, found);
  return found;
}

function findReach(application: Application, name: string): boolean {
  const { stores } = application;
  const store = named(stores, name);
  if (store.tasks.length > 0) return true;
  const reached = new Set<string>([name]);
  for (const action of store.actions)
    for (const { store: owner, deed } of doneWith(application, `${name}.${action.name}`)) {
      const { starts, cancels, resets } = effectsOf(deed.steps, owner.name, application);
      if (starts.size + cancels.size > 0) return true;
      for (const other of [owner.name, ...resets]) reached.add(other);
    }
  return stores.some(({ tasks }) => tasks.some(({ auto }) => isSetOff(auto)));

  /** True if a task starts by itself, at creation or by what the actions may have changed. */
  function isSetOff(auto: Auto | undefined): boolean {
    if (auto === undefined) return false;
    if (auto.kind === 'once') return true;
    const { fields } = readsOf([auto.kind === 'while' ? auto.test : auto.value], application);
    return [...fields].some((field) => reached.has(field.split('.')[0] ?? ''));
  }
}
