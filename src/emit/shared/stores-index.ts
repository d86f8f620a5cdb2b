import { hasSaved } from '../../model/application.js';
import {
  code,
  data,
  doc,
  entry,
  joined,
  Name,
  named,
  nothing,
  scoped,
  type Code,
} from '../build/code.js';
import type { Module } from '../build/module.js';
import { pascal } from '../build/reserved.js';
import { lazyExports, orderOf, orNull } from './lazy-stores.js';
import { withSchema } from './logged.js';
import type { Output } from './output.js';
import { begins } from './parts-of.js';
import { exportTypes } from './public-types.js';
import { optionsParameter } from './task-types.js';

/** What differs between the styles whose stores are made of readable parts. */
export interface StoresIndex {
  readonly about: string;
  /** The class that makes the parts, the file of the run time that it is in, and how an instance of it is called. */
  readonly maker: readonly [file: string, type: string, name: string];
  /** What the stores are given, from the names of the maker and of all stores. */
  readonly around: (maker: Name, stores: Name, module: Module) => Code;
  /** Whether it is told which stores are attached later. */
  readonly takesLazy: boolean;
  readonly publicTypes: Parameters<typeof exportTypes>[1];
}

/** The file with `createStores`, for styles in which a store is an object of parts that can be read and watched. */
export function emitStoresIndex(
  output: Output,
  { about, maker: [file, type, name], around, takesLazy, publicTypes }: StoresIndex,
): void {
  const { application, types } = output;
  const module = output.module('index', about);
  const [given, maker, tools, stores] = ['options', name, 'around', 'stores'].map(
    (one) => new Name(one),
  ) as [Name, Name, Name, Name];
  const options = optionsParameter(output, module, given);
  const order = orderOf(application);
  const made = application.stores.map((store) => {
    if (store.lazy) {
      const create = module.type(`stores/${store.name}`, `create${pascal(store.name)}`);
      return code`${entry(store.name, code`null as ${module.global('ReturnType')}<typeof ${create}> | null`)},`;
    }
    const create = module.value(`stores/${store.name}`, `create${pascal(store.name)}`);
    return code`${entry(store.name, code`${create}(${tools})`)},`;
  });
  const states = application.stores.map((store) => {
    const of = orNull(store, types.state(store, module));
    return code`${entry(store.name, code`${maker}.state<${of}>(${data(store.name)})`)},`;
  });
  const lazy = application.stores.filter((store) => store.lazy).map(({ name }) => name);
  const later = order === undefined ? [] : [order, ...(takesLazy ? [data(lazy)] : [])];
  const attach =
    order === undefined
      ? nothing
      : code`${doc('Attaches a lazy store; does nothing if it is attached already.')}attach: (store: ${module.type(file, 'LazyStore')}) => ${maker}.attach(store, ${tools}, ${stores}),\n`;
  const subscribing =
    output.options.readers.length === 0
      ? nothing
      : code`${doc('Calls back after every change of anything; returns what stops it.')}subscribe: (changed: () => void) => ${maker}.watchers.add("subscribe", () => ({}), () => {\nchanged();\n}),\n`;
  const saving = hasSaved(application)
    ? code`${doc('Takes in what a storage has, in one transaction, and saves there from then on. It may answer later.')}takeSaved: ${maker}.takeSaved,\n`
    : nothing;
  const body = code`const ${maker} = new ${module.value(file, type)}(${joined([output.checkTable(module), named(given), ...later], ', ')});
const ${tools}: ${types.use('Around', module)} = ${around(maker, stores, module)};
const ${stores} = {\n${made}\n};
${output.options.log ? code`${maker}.startLog(${withSchema(output, named(given))});\n` : nothing}${begins(application) ? code`${maker}.begin();\n` : nothing}return {
stores,
${attach}${doc('The state of each store.')}states: {\n${states}\n},
${subscribing}${doc('The state of all stores.')}state: ${maker}.state<${types.app(module)}>(),
${saving}${doc('Abandons all tasks and ends what is watched: from then on everything is refused.')}close: ${maker}.close,
};`;
  module.add(
    scoped(
      [given, maker, tools, stores],
      code`${doc(application.title ?? application.about)}export function ${module.exported('createStores')}(${options}) {\n${body}\n}`,
    ),
    ...lazyExports(output),
    ...exportTypes(output, publicTypes),
  );
}
