import type { Problems } from '../diagnostics/problem.js';
import { reactionsTo, type Application, type Reaction, type Store } from '../model/application.js';
import { walkExpr, type Expr } from '../model/expressions.js';
import { allSteps, exprsOf, writtenFields } from '../model/step-kinds.js';

/**
 * Warns of a reaction that reads what the reaction of another store to the same action has stored by then: it sees the
 * new value only since the stores stand in that order.
 */
export function warnOfReactionOrder(application: Application, problems: Problems): void {
  const told = new Set<string>();
  for (const store of application.stores)
    for (const { name } of store.actions) {
      const stored = new Map<string, string>();
      for (const { store: reacting, reaction } of reactionsTo(application, store.name, name)) {
        for (const field of fieldsRead(reaction, application)) {
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
        for (const field of fieldsStored(reaction, reacting)) stored.set(field, reacting.name);
      }
    }
}

function fieldsStored({ steps }: Reaction, { name }: Store): readonly string[] {
  return allSteps(steps)
    .flatMap(writtenFields)
    .map((field) => `${name}.${field}`);
}

/** The fields that a reaction reads, also through derived values. */
function fieldsRead({ steps }: Reaction, application: Application): ReadonlySet<string> {
  const found = new Set<string>();
  const read = (expr: Expr): void => {
    walkExpr(expr, (node) => {
      if (node.kind !== 'field' && node.kind !== 'derived' && node.kind !== 'ask') return;
      const full = `${node.store}.${node.name}`;
      if (found.has(full)) return;
      found.add(full);
      if (node.kind === 'field') return;
      const owner = application.stores.find(({ name }) => name === node.store);
      const derived = owner?.derived.find(({ name }) => name === node.name);
      if (derived !== undefined) read(derived.value);
    });
  };
  allSteps(steps).flatMap(exprsOf).forEach(read);
  return found;
}
