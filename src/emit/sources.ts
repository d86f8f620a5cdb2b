import type { Derived } from '../model/application.js';
import { walkExpr, type Expr } from '../model/expressions.js';
import { id, type Code } from './code.js';
import { pascal, type Names } from './identifiers.js';

/** A field or derived value that an expression reads, with the parameter that stands for it. */
export interface Source {
  readonly kind: 'field' | 'derived';
  readonly store: string;
  readonly name: string;
  readonly param: string;
}

/** What an expression reads, as the parameters of a function that computes it. */
export interface Sources {
  readonly list: readonly Source[];
  readonly param: (store: string, name: string) => Code;
  /** The identifier of a local of the schema. */
  readonly local: (name: string) => Code;
}

/** The sources of a derived value in the order in which it names them. */
export function sourcesOf({ value: expr, params }: Derived, names: Names): Sources {
  const locals = [...new Set([...params.map(({ name }) => name), ...localsOf(expr)])];
  const local = new Map(locals.map((name) => [name, names.allocate(name)]));
  const found = new Map<string, Source>();
  const bare = new Set<string>();
  walkExpr(expr, (node) => {
    if (node.kind !== 'field' && node.kind !== 'derived' && node.kind !== 'ask') return;
    const full = `${node.store}.${node.name}`;
    if (found.has(full)) return;
    const wanted =
      bare.has(node.name) || locals.includes(node.name)
        ? `${node.store}${pascal(node.name)}`
        : node.name;
    bare.add(node.name);
    found.set(full, {
      kind: node.kind === 'field' ? 'field' : 'derived',
      store: node.store,
      name: node.name,
      param: names.allocate(wanted),
    });
  });
  return {
    list: [...found.values()],
    param: (store, name) => id(found.get(`${store}.${name}`)?.param ?? name),
    local: (name) => id(local.get(name) ?? name),
  };
}

/** The parameters of all arrows in an expression. */
export function localsOf(expr: Expr): string[] {
  const names = new Set<string>();
  walkExpr(expr, (node) => {
    if (node.kind !== 'method' && node.kind !== 'call') return;
    for (const argument of node.args)
      if (argument.kind === 'arrow') argument.params.forEach((name) => names.add(name));
  });
  return [...names];
}
