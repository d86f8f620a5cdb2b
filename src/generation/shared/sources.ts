import type { Derived } from '../../model/application.js';
import { walkExpr } from '../../model/expressions.js';
import { Name } from '../build/code.js';
import { pascal } from '../build/reserved.js';

/** A field or derived value that an expression reads, with the parameter that stands for it. */
export interface Source {
  readonly kind: 'field' | 'derived' | 'ask' | 'task';
  readonly store: string;
  /** `vehicles`; of a task `loadSailings.running`. */
  readonly name: string;
  readonly param: Name;
}

/** What an expression reads, as the parameters of a function that computes it. */
export interface Sources {
  readonly list: readonly Source[];
  readonly param: (store: string, name: string) => Name;
}

/** The sources of an expression in the order in which it names them. */
export function sourcesOf({ value }: Pick<Derived, 'value'>): Sources {
  const found = new Map<string, Source>();
  const bare = new Set<string>();
  walkExpr(value, (node) => {
    const isSource = ['field', 'derived', 'ask', 'task'].includes(node.kind);
    if (!isSource || !('store' in node)) return;
    if (node.kind === 'constant' || node.kind === 'history') return;
    const name = node.kind === 'task' ? `${node.name}.${node.reading}` : node.name;
    const full = `${node.store}.${name}`;
    if (found.has(full)) return;
    const plain = node.kind === 'task' ? `${node.name}${pascal(node.reading)}` : node.name;
    const wanted = bare.has(plain) ? `${node.store}${pascal(plain)}` : plain;
    bare.add(plain);
    found.set(full, {
      kind: node.kind,
      store: node.store,
      name,
      param: new Name(wanted),
    });
  });
  return {
    list: [...found.values()],
    param: (store, name) => found.get(`${store}.${name}`)?.param ?? new Name(name),
  };
}
