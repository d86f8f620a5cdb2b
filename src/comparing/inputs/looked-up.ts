import type { Application } from '../../model/application.js';
import { trailsOf, type Trail } from './trails.js';

/** Where the keys stand that a part of a payload is looked up among: by the JSON Pointer of the part. */
export type LookedUp = ReadonlyMap<string, readonly Keys[]>;

/** The keys of the items that stand somewhere below a pointer. */
export interface Keys {
  readonly below: string;
  readonly key: string;
}

const known = new WeakMap<Application, Map<string, LookedUp>>();

/** Among which items of the state an action or a task, `deck.board`, looks for the parts of its payload. */
export function lookedUpBy(application: Application, name: string): LookedUp {
  const all = known.get(application) ?? new Map<string, LookedUp>();
  known.set(application, all);
  const found = all.get(name) ?? lookedUpOn(trailsOf(application, name));
  all.set(name, found);
  return found;
}

function lookedUpOn(trails: readonly Trail[]): LookedUp {
  const found = new Map<string, Keys[]>();
  for (const trail of trails) {
    let below = trail.root;
    let isInItem = false;
    for (const stop of trail.stops) {
      if (stop.kind === 'picked' && stop.by !== undefined) {
        const keys = { below, key: stop.by };
        const own = found.get(stop.part) ?? [];
        if (!own.some((one) => one.below === below && one.key === keys.key))
          found.set(stop.part, [...own, keys]);
      }
      isInItem ||= stop.kind !== 'property';
      if (stop.kind === 'property' && !isInItem) below = `${below}/${stop.name}`;
    }
  }
  return found;
}
