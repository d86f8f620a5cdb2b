import type { Problems } from '../diagnostics/problem.js';
import type { Span } from '../diagnostics/source.js';
import type { Store } from '../model/application.js';
import { allSteps, type Step } from '../model/steps.js';

/** An action or a reaction, with what it does as part of itself. */
interface Doing {
  readonly span: Span;
  readonly next: string[];
}

/** Reports each ring of actions that could reach themselves through `run` and `reacts`. */
export function refuseActionRings(stores: readonly Store[], problems: Problems): void {
  const doings = doingsOf(stores);
  const done = new Set<string>();
  /** What is being visited, outermost first. */
  const way = new Set<string>();
  const visit = (name: string): void => {
    const doing = doings.get(name);
    if (doing === undefined || done.has(name)) return;
    if (way.has(name)) {
      const names = [...way];
      problems.add('action-ring', doing.span, {
        ring: [...names.slice(names.indexOf(name)), name],
      });
      return;
    }
    way.add(name);
    doing.next.forEach(visit);
    way.delete(name);
    done.add(name);
  };
  for (const name of doings.keys()) visit(name);
}

function doingsOf(stores: readonly Store[]): ReadonlyMap<string, Doing> {
  const doings = new Map<string, Doing>();
  for (const store of stores) {
    for (const { name, span, steps } of store.actions)
      doings.set(`${store.name}.${name}`, { span, next: runsOf(steps) });
  }
  for (const { at, span, steps, to } of stores.flatMap(({ reactions }) => reactions)) {
    doings.set(at, { span, next: runsOf(steps) });
    for (const { store, action } of to) doings.get(`${store}.${action}`)?.next.push(at);
  }
  return doings;
}

function runsOf(steps: readonly Step[]): string[] {
  return allSteps(steps).flatMap((step) =>
    step.kind === 'run' ? [`${step.store}.${step.action}`] : [],
  );
}
