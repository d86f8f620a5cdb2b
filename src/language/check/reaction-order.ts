import type { Problems } from '../problems/problem.js';
import { reactionsTo, type Application, type Store } from '../../model/application.js';
import { effectsOf, readsOf } from '../../model/footprint.js';
import { allSteps, exprsOf } from '../../model/step-kinds.js';
import { moments } from '../../model/tasks.js';

/**
 * Warns of a reaction that reads what the reaction of another store to the same action has stored by then: it sees the
 * new value only since the stores stand in that order.
 */
export function warnOfReactionOrder(application: Application, problems: Problems): void {
  const told = new Set<string>();
  for (const store of application.stores)
    for (const name of causesIn(store)) {
      const stored = new Map<string, string>();
      for (const { store: reacting, reaction } of reactionsTo(application, store.name, name)) {
        const exprs = allSteps(reaction.steps).flatMap(exprsOf);
        for (const field of readsOf(exprs, application).fields) {
          const by = stored.get(field);
          if (by === undefined || by === reacting.name) continue;
          const action = `${store.name}.${name}`;
          if (told.has(`${reaction.at} ${field}`)) continue;
          told.add(`${reaction.at} ${field}`);
          problems.add('reaction-order', reaction.span, {
            store: reacting.name,
            by,
            field,
            action,
          });
        }
        for (const field of effectsOf(reaction.steps, reacting.name, application).stores)
          stored.set(field, reacting.name);
      }
    }
}

/** What others can react to: actions, and the moments of tasks. */
function causesIn({ actions, tasks }: Store): readonly string[] {
  return [
    ...actions.map(({ name }) => name),
    ...tasks.flatMap(({ name }) => moments.map((moment) => `${name}.${moment}`)),
  ];
}
