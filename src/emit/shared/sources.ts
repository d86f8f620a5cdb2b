import type { Derived } from '../../model/application.js';
import { walkExpr } from '../../model/expressions.js';
import { Name } from '../build/code.js';
import { pascal } from '../build/reserved.js';

/** A field or derived value that an expression reads, with the parameter that stands for it. */
export interface Source {
  readonly kind: 'field' | 'derived' | 'ask';
  readonly store: string;
  readonly name: string;
  readonly param: Name;
}

/** What an expression reads, as the parameters of a function that computes it. */
export interface Sources {
  readonly list: readonly Source[];
  readonly param: (store: string, name: string) => Name;
}

/** The sources of a derived value in the order in which it names them. */
export function sourcesOf({ value }: Derived): Sources {
  const found = new Map<string, Source>();
  const bare = new Set<string>();
  walkExpr(value, (node) => {
    if (node.kind !== 'field' && node.kind !== 'derived' && node.kind !== 'ask') return;
    const full = `${node.store}.${node.name}`;
    if (found.has(full)) return;
    const wanted = bare.has(node.name) ? `${node.store}${pascal(node.name)}` : node.name;
    bare.add(node.name);
    found.set(full, {
      kind: node.kind,
      store: node.store,
      name: node.name,
      param: new Name(wanted),
    });
  });
  return {
    list: [...found.values()],
    param: (store, name) => found.get(`${store}.${name}`)?.param ?? new Name(name),
  };
}
