import { hasLazy, storeNamed, type Application, type Store } from '../../model/application.js';
import {
  code,
  data,
  entry,
  named,
  object,
  property,
  word,
  type Code,
  type Name,
} from '../build/code.js';
import type { Module } from '../build/module.js';
import type { EmitOptions } from '../emit-options.js';

/** The stores that are there from the beginning. */
export const eagerStores = ({ stores }: Application): readonly Store[] =>
  stores.filter(({ lazy }) => !lazy);

/** What follows the name of a store to read something of it: `?.speed` of one that may not be attached yet. */
export function memberOf(
  application: Application,
  own: Pick<Store, 'name'>,
  store: string,
  name: string,
): Code {
  return property(name, store !== own.name && storeNamed(application, store).lazy);
}

/** The type of a store, as part of that of all: null until a lazy one is attached. */
export const orNull = ({ lazy }: Store, type: Code): Code => (lazy ? code`(${type}) | null` : type);

/** The type of all stores within a store that may be attached later: there it is attached. */
export function within(store: Store, type: Code, module: Module): Code {
  if (!store.lazy) return type;
  return code`${module.type('runtime/attaching', 'With')}<${type}, ${data(store.name)}>`;
}

/** What is known of what fits a store. */
interface Checked {
  readonly checks: { store(store: Store, module: Module): Code | undefined };
}

/** The application whose stores are written, and how. */
interface Written {
  readonly application: Application;
  readonly options: EmitOptions;
}

/** What a lazy store is attached with besides what it does: its name, and what fits it. */
export function attachedWith(output: Checked, store: Store, module: Module): readonly Code[] {
  if (!store.lazy) return [];
  const checks = output.checks.store(store, module);
  return [
    entry('name', data(store.name)),
    ...(checks === undefined ? [] : [entry('checks', checks)]),
  ];
}

/** The types that the definition of a store has besides that of its style: what is handed over needs them. */
export function storeTypes(
  store: Store,
  module: Module,
  own: Readonly<Record<'tasks' | 'histories', readonly [file: string, type: string]>>,
): readonly Code[] {
  const types: Name[] = [];
  if (store.tasks.length > 0) types.push(module.type(...own.tasks));
  if (store.history !== undefined) types.push(module.type(...own.histories));
  if (store.saved !== undefined) types.push(module.type('runtime/defined-saved', 'KeptStore'));
  if (store.lazy) types.push(module.type('runtime/defined-lazy', 'Attached'));
  return types.map(named);
}

/** The export that attaches a lazy store which a function of its module creates; `file` is the run time of the style. */
export function lazyStore(
  output: Checked,
  store: Store,
  module: Module,
  [file, create]: readonly [file: string, create: Name],
): readonly Code[] {
  if (!store.lazy) return [];
  const parts = [...attachedWith(output, store, module), entry('create', named(create))];
  const own = module.exported(`${store.name}Store`);
  return [
    code`export const ${own} = ${object(parts)} satisfies ${module.type(file, 'LazyStore')};`,
  ];
}

/** The names of all stores in schema order, for who attaches some of them later. */
export function orderOf(application: Application): Code | undefined {
  return hasLazy(application) ? data(application.stores.map(({ name }) => name)) : undefined;
}

/** The lazy stores as exports of the entry, where there is no other file to import them from. */
export function lazyExports(output: Written): readonly Code[] {
  if (output.options.layout !== 'one-file') return [];
  return output.application.stores
    .filter(({ lazy }) => lazy)
    .map(
      ({ name }) => code`export { ${word(`${name}Store`)} } from ${data(`./stores/${name}.js`)};`,
    );
}
