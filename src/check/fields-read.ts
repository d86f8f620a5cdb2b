import type { Store } from '../model/application.js';
import { walkExpr, type Expr } from '../model/expressions.js';

/** The fields and derived values that expressions read, also through derived values: `deck.vehicles`. */
export function fieldsReadIn(
  exprs: readonly Expr[],
  stores: readonly Store[],
): ReadonlySet<string> {
  const found = new Set<string>();
  const read = (expr: Expr): void => {
    walkExpr(expr, (node) => {
      if (node.kind !== 'field' && node.kind !== 'derived' && node.kind !== 'ask') return;
      const full = `${node.store}.${node.name}`;
      if (found.has(full)) return;
      found.add(full);
      if (node.kind === 'field') return;
      const owner = stores.find(({ name }) => name === node.store);
      const derived = owner?.derived.find(({ name }) => name === node.name);
      if (derived !== undefined) read(derived.value);
    });
  };
  exprs.forEach(read);
  return found;
}
