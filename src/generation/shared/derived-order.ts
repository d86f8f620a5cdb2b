import {
  named,
  storeNamed,
  type Application,
  writtenDerived,
  type Derived,
  type Store,
} from '../../model/application.js';
import { walkExpr } from '../../model/expressions.js';

/** All derived values, each after those that it reads. */
export function derivedInOrder(
  application: Application,
): readonly { readonly store: Store; readonly derived: Derived }[] {
  const ordered = new Map<string, { readonly store: Store; readonly derived: Derived }>();
  const visit = (store: Store, derived: Derived): void => {
    const name = `${store.name}.${derived.name}`;
    if (ordered.has(name) || derived.value.kind === 'history') return;
    walkExpr(derived.value, (node) => {
      if (node.kind !== 'derived' && node.kind !== 'ask') return;
      const owner = storeNamed(application, node.store);
      visit(owner, named(owner.derived, node.name));
    });
    ordered.set(name, { store, derived });
  };
  for (const store of application.stores)
    for (const derived of writtenDerived(store)) visit(store, derived);
  return [...ordered.values()];
}
