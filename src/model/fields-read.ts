import { named, storeNamed, type Application } from './application.js';
import { walkExpr, type Expr } from './expressions.js';

const known = new WeakMap<Application, Map<string, ReadonlySet<string>>>();

/** The fields that a derived value reads, itself or through others: `deck.vehicles`. */
export function fieldsRead(
  application: Application,
  store: string,
  name: string,
): ReadonlySet<string> {
  const all = known.get(application) ?? new Map<string, ReadonlySet<string>>();
  known.set(application, all);
  const full = `${store}.${name}`;
  const found = all.get(full);
  if (found !== undefined) return found;
  const { value } = named(storeNamed(application, store).derived, name);
  const read = fieldsReadBy([value], application);
  all.set(full, read);
  return read;
}

/** The fields that expressions read, themselves or through derived values: `deck.vehicles`. */
export function fieldsReadBy(exprs: readonly Expr[], application: Application): Set<string> {
  const read = new Set<string>();
  for (const expr of exprs)
    walkExpr(expr, (node) => {
      if (node.kind === 'field') read.add(`${node.store}.${node.name}`);
      if (node.kind !== 'derived' && node.kind !== 'ask') return;
      for (const field of fieldsRead(application, node.store, node.name)) read.add(field);
    });
  return read;
}
