import { heightsOf } from '../../base/heights.js';
import type { Problems } from '../problems/problem.js';
import type { Span } from '../../base/source.js';
import { deedsOf, type Store } from '../../model/application.js';
import { longestChain } from '../syntax/depth.js';
import { effectsOf } from '../../model/footprint.js';

/** An action or a reaction, with what it does as part of itself. */
interface Doing {
  readonly span: Span;
  readonly next: string[];
}

/** Reports each ring of actions that could reach themselves through `run` and `reacts`. */
export function refuseActionRings(stores: readonly Store[], problems: Problems): void {
  const doings = doingsOf(stores);
  if (hasLongChain(doings, problems)) return;
  const done = new Set<string>();
  /** What is being visited, outermost first. */
  const way = new Set<string>();
  const visit = (name: string): void => {
    const doing = doings.get(name);
    if (doing === undefined || done.has(name)) return;
    if (way.has(name)) {
      const names = [...way];
      problems.add('circular-action', doing.span, {
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

/** True if actions set off one another too often in a row; reported for the first of the longest. */
function hasLongChain(doings: ReadonlyMap<string, Doing>, problems: Problems): boolean {
  const heights = heightsOf(new Map([...doings].map(([name, { next }]) => [name, next])));
  const [first] = [...doings].toSorted(([a], [b]) => (heights.get(b) ?? 0) - (heights.get(a) ?? 0));
  const most = first === undefined ? 0 : (heights.get(first[0]) ?? 0);
  if (first === undefined || most <= longestChain) return false;
  const detail = `'${first[0]}' sets off ${most - 1} others in a row; at most ${longestChain} are allowed.`;
  problems.add('wrong-structure', first[1].span, { detail });
  return true;
}

function doingsOf(stores: readonly Store[]): ReadonlyMap<string, Doing> {
  const doings = new Map<string, Doing>();
  for (const store of stores)
    for (const { at, span, steps } of deedsOf(store)) {
      const { runs, cancels } = effectsOf(steps, store.name, { stores });
      const cancelled = [...cancels].map((task) => `${task}.cancel`);
      doings.set(at, { span, next: [...runs, ...cancelled] });
    }
  for (const { at, to } of stores.flatMap(({ reactions }) => reactions))
    for (const { store, action } of to) doings.get(`${store}.${action}`)?.next.push(at);
  return doings;
}
