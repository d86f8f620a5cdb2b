import { named, reactionsTo, type Application } from './application.js';
import { walkExpr, type Expr } from './expressions.js';
import { allSteps } from './step-kinds.js';
import type { Step } from './steps.js';

const known = new WeakMap<Application, Map<string, boolean>>();

/** Whether anything that the actions of a store lead to may have to do with tasks. */
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
  let isFound = false;
  const seen = new Set<string>();
  const visit = (owner: string, steps: readonly Step[]): void => {
    reached.add(owner);
    for (const step of allSteps(steps)) {
      if (step.kind === 'start' || step.kind === 'cancel') isFound = true;
      if (step.kind === 'run') ran(step.store, step.action);
      if (step.kind === 'resetStores') for (const other of step.stores) reached.add(other);
    }
  };
  const ran = (owner: string, action: string): void => {
    if (seen.has(`${owner}.${action}`)) return;
    seen.add(`${owner}.${action}`);
    visit(owner, named(named(stores, owner).actions, action).steps);
    for (const { store: reacting, reaction } of reactionsTo(application, owner, action))
      visit(reacting.name, reaction.steps);
  };
  for (const action of store.actions) ran(name, action.name);
  return isFound || stores.some(({ tasks }) => tasks.some(({ auto }) => isSetOff(auto)));

  /** Whether a task starts by itself, at creation or by what the actions may have changed. */
  function isSetOff(auto: (typeof stores)[number]['tasks'][number]['auto']): boolean {
    if (auto === undefined) return false;
    if (auto.kind === 'once') return true;
    return readsAny(auto.kind === 'while' ? auto.test : auto.value, new Set());
  }

  function readsAny(expr: Expr, done: Set<string>): boolean {
    let reads = false;
    walkExpr(expr, (node) => {
      if (node.kind === 'field' && reached.has(node.store)) reads = true;
      if (node.kind !== 'derived' && node.kind !== 'ask') return;
      const full = `${node.store}.${node.name}`;
      if (done.has(full)) return;
      done.add(full);
      reads ||= readsAny(named(named(stores, node.store).derived, node.name).value, done);
    });
    return reads;
  }
}
