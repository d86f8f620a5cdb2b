import { writtenDerived, type Derived, type Store } from '../../model/application.js';
import { walkExpr, type Expr } from '../../model/expressions.js';
import {
  arrow,
  arrowBody,
  code,
  doc,
  entry,
  joined,
  Name,
  named,
  nothing,
  object,
  type Code,
} from '../build/code.js';
import type { Module } from '../build/module.js';
import { narrowedIn, partKey } from './expression-facts.js';
import { historyReadings } from './histories.js';
import { memberOf, orNull, within } from './lazy-stores.js';
import type { Output } from './output.js';
import { parametersOf } from './parameters.js';
import { printExpr, type Reading } from './print-expression.js';
import { pureReading } from './reading.js';
import { taskReadings } from './task-types.js';

const viewAbout = 'The stores as derived values read them.';

/** The type of the stores as derived values read them, added to the types of the output. */
export function addAppView(output: Output, name = 'App', about = viewAbout): string {
  const { types, application } = output;
  return types.add(name, (own, module) => {
    const stores = application.stores.map(
      (store) => code`readonly ${entry(store.name, orNull(store, viewOf(output, store, module)))};`,
    );
    return code`${doc(about)}export interface ${own} {\n${stores}\n}`;
  });
}

/** A store as it is read: its fields, its derived values, and what goes on of its tasks. */
export function viewOf(output: Output, store: Store, module: Module): Code {
  const { types } = output;
  const state = types.state(store, module);
  const fields = store.single ? code`{ readonly value: ${state} }` : state;
  const tasks = taskReadings(output, store, module);
  const history = historyReadings(store, module);
  return joined([fields, types.derived(store, module), history, tasks], ' & ');
}

/** How the derived values of a store are computed, as a constant of its module; `undefined` if it has none. */
export function addDerivedTable(
  output: Output,
  store: Store,
  module: Module,
  app: string,
): Name | undefined {
  const written = writtenDerived(store);
  if (written.length === 0) return undefined;
  const own = module.own('derived');
  const type = module.type('runtime/derived', 'DerivedBy');
  const all = within(store, output.types.use(app, module), module);
  const of = code`${all}, ${output.types.derived(store, module)}`;
  const entries = written.map(
    (derived) =>
      code`${doc(derived.about)}${entry(derived.name, computing(output, store, derived, module))},`,
  );
  module.add(code`const ${own}: ${type}<${of}> = {\n${entries}\n};`);
  return own;
}

function computing(output: Output, owner: Store, derived: Derived, module: Module): Code {
  const { params, value } = derived;
  const stores = new Map<string, Name>();
  const storeNamed = (store: string): Name => {
    const known = stores.get(store) ?? new Name(store);
    stores.set(store, known);
    return known;
  };
  const locals = parametersOf(derived);
  const read = (store: string, name: string) =>
    code`${storeNamed(store)}${memberOf(output.application, owner, store, name)}`;
  const reading: Reading = {
    ...pureReading(output, module, read),
    asked: (store, name, args) => code`${read(store, name)}(${args})`,
    locals: new Map(locals.map(({ name, own }) => [name, named(own)])),
  };
  const { lines, names, held } = heldInArrows(value, reading);
  const printed = printExpr(value, { ...reading, held });
  const own = locals.map((local) => local.own);
  const inOrder = output.application.stores.flatMap(({ name }) => stores.get(name) ?? []);
  const unused = new Name('_app');
  const first =
    inOrder.length > 0
      ? object(inOrder.map((name) => entry(name.wanted, named(name))))
      : params.length > 0
        ? named(unused)
        : nothing;
  const written = [...(first === nothing ? [] : [first]), ...own.map(named)];
  const all = [...inOrder, unused, ...own];
  return lines.length === 0
    ? arrow(all, printed, written)
    : arrowBody([...all, ...names], joined([...lines, code`return ${printed};`], '\n'), written);
}

/**
 * Constants for fields and derived values whose type a condition has narrowed, where a function within the expression
 * reads them: the compiler does not know there what it knows around it.
 */
function heldInArrows(value: Expr, reading: Reading) {
  const inside = new Set<string>();
  walkExpr(value, (node) => {
    if (node.kind !== 'method' && node.kind !== 'call') return;
    for (const argument of node.args)
      if (argument.kind === 'arrow')
        for (const { store, name } of narrowedIn([argument.body])) inside.add(`${store}.${name}`);
  });
  const held = new Map<string, Code>();
  const names: Name[] = [];
  const lines = narrowedIn([value]).flatMap((node) => {
    if (!inside.has(`${node.store}.${node.name}`)) return [];
    const own = new Name(node.name);
    names.push(own);
    const line = code`const ${own} = ${printExpr(node, reading)};`;
    held.set(partKey(node), named(own));
    return [line];
  });
  return {
    lines,
    names,
    held: (expr: Expr) =>
      expr.kind === 'field' || expr.kind === 'derived' ? held.get(partKey(expr)) : undefined,
  };
}
